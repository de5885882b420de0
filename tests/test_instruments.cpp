#include <QSignalSpy>
#include <QTemporaryDir>
#include <QtTest>

#include "instruments/watched_folder.h"

using clendo::WatchedFolder;

namespace {

void save(const QString& path, const QByteArray& bytes)
{
    QFile file(path);
    QVERIFY(file.open(QIODevice::Append));
    file.write(bytes);
}

}  // namespace

class TestInstruments : public QObject {
    Q_OBJECT
private slots:
    void newFilesAreToldOnceWhenTheyAreWhole()
    {
        QTemporaryDir dir;
        save(dir.filePath("old.png"), "was here");
        WatchedFolder watched;
        QSignalSpy arrived(&watched, &WatchedFolder::arrived);
        watched.watch(dir.path());
        save(dir.filePath("a.png"), "begin");
        QTest::qWait(60);
        save(dir.filePath("a.png"), " and end");
        QTRY_COMPARE(arrived.size(), 1);
        QCOMPARE(arrived[0][0].toString(), dir.filePath("a.png"));
        save(dir.filePath("b.png"), "another");
        QTRY_COMPARE(arrived.size(), 2);
        QTest::qWait(400);
        QCOMPARE(arrived.size(), 2);
    }
    void aNameThatIsWrittenOverIsTold()
    {
        QTemporaryDir dir;
        const QString path = dir.filePath("image.png");
        save(path, "before");
        WatchedFolder watched;
        QSignalSpy arrived(&watched, &WatchedFolder::arrived);
        watched.watch(dir.path());
        for (int n = 1; n <= 3; ++n) {
            QFile file(path);
            QVERIFY(file.open(QIODevice::WriteOnly | QIODevice::Truncate));
            file.write("picture " + QByteArray::number(n));
            file.close();
            QTRY_COMPARE(arrived.size(), n);
            QCOMPARE(arrived.back()[0].toString(), path);
        }
        QTest::qWait(600);
        QCOMPARE(arrived.size(), 3);
    }
    void halfWrittenAndHiddenFilesAreLeftAlone()
    {
        QTemporaryDir dir;
        WatchedFolder watched;
        QSignalSpy arrived(&watched, &WatchedFolder::arrived);
        watched.watch(dir.path());
        save(dir.filePath("a.png.part"), "half");
        save(dir.filePath(".hidden"), "x");
        save(dir.filePath("real.png"), "x");
        QTRY_COMPARE(arrived.size(), 1);
        QCOMPARE(arrived[0][0].toString(), dir.filePath("real.png"));
    }
    void aFolderThatIsNotThereHarmsNothing()
    {
        WatchedFolder watched;
        watched.watch("/no/such/folder");
        QCOMPARE(watched.folder(), QStringLiteral("/no/such/folder"));
    }
};
QTEST_GUILESS_MAIN(TestInstruments)
#include "test_instruments.moc"
