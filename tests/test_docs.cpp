#include <QDirIterator>
#include <QRegularExpression>
#include <QtTest>

namespace {

const QString root = QStringLiteral(SOURCE_ROOT);

QStringList filesOf(const QStringList& folders, const QStringList& names)
{
    QStringList out;
    for (const QString& folder : folders)
        for (QDirIterator it(root + QLatin1Char('/') + folder, names, QDir::Files, QDirIterator::Subdirectories); it.hasNext();) out << it.next();
    return out;
}

QString textOf(const QString& file)
{
    QFile f(file);
    return f.open(QIODevice::ReadOnly) ? QString::fromUtf8(f.readAll()) : QString();
}

/// All first groups of the pattern in the text.
QStringList found(const QString& text, const QRegularExpression& pattern)
{
    QStringList out;
    for (auto it = pattern.globalMatch(text); it.hasNext();) out << it.next().captured(1);
    return out;
}

QStringList pages()
{
    QStringList out = filesOf({"docs"}, {"*.md"});
    out.append(root + "/README.md");
    return out;
}

const QStringList code{"app", "batch", "benchmarks", "cli", "core", "demo", "instruments", "modules", "pictures", "report", "store", "tests"};

}  // namespace

/// What code and documents point to is there.
class TestDocs : public QObject {
    Q_OBJECT
private slots:
    void pagesThatCodeCitesExist()
    {
        int cited = 0;
        for (const QString& file : filesOf(code, {"*.cpp", "*.h", "CMakeLists.txt"}))
            for (const QString& page : found(textOf(file), QRegularExpression("\\b(docs/[\\w/-]+\\.(?:md|svg))\\b"))) {
                ++cited;
                QVERIFY2(QFileInfo::exists(root + '/' + page), qPrintable(file + ": " + page));
            }
        QVERIFY(cited > 0);
    }
    void linksOfThePagesLeadSomewhere()
    {
        int links = 0;
        for (const QString& file : pages())
            for (const QString& target : found(textOf(file), QRegularExpression("\\]\\(([^)#]+)(?:#[^)]*)?\\)"))) {
                if (target.startsWith("http")) continue;
                ++links;
                QVERIFY2(QFileInfo::exists(QFileInfo(file).dir().filePath(target)), qPrintable(file + ": " + target));
            }
        QVERIFY(links > 10);
    }
    void filesThatThePagesNameExist()
    {
        // "core/record/fold/fold.h", or without its suffix, or a folder; braces and stars stand for several
        const QRegularExpression pattern("`((?:" + code.join('|') + "|data|docs|scripts)/[\\w/.-]*)`");
        int named = 0;
        for (const QString& file : pages())
            for (const QString& path : found(textOf(file), pattern)) {
                ++named;
                const QFileInfo whole(root + '/' + path);
                const bool there = whole.exists() || !whole.dir().entryList({whole.fileName() + ".*"}, QDir::Files).isEmpty();
                QVERIFY2(there, qPrintable(file + ": " + path));
            }
        QVERIFY(named > 20);
    }
    void roomsOfTheRecordLookOneWay()
    {
        // docs/record.md; a fact has its effect on a state, the only look to the right
        const QStringList rooms{"facts", "journal", "state", "rules", "fold", "output", "advice"};
        for (const QString& room : QDir(root + "/core/record").entryList(QDir::Dirs | QDir::NoDotAndDotDot))
            QVERIFY2(rooms.contains(room), qPrintable(room));
        int includes = 0;
        for (const QString& room : rooms)
            for (const QString& file : filesOf({"core/record/" + room}, {"*.cpp", "*.h"}))
                for (const QString& other : found(textOf(file), QRegularExpression("#include \"record/(\\w+)/"))) {
                    ++includes;
                    if (room == "facts" && other == "state") continue;
                    QVERIFY2(rooms.indexOf(other) <= rooms.indexOf(room), qPrintable(file + " includes something of " + other));
                }
        QVERIFY(includes > 100);
    }
};

QTEST_APPLESS_MAIN(TestDocs)
#include "test_docs.moc"
