#include <QTemporaryDir>
#include <QtTest>

#include "files/files.h"
#include "files/json_reading.h"

using namespace clendo;

class TestFiles : public QObject {
    Q_OBJECT
private slots:
    void readsWhatIsThereAndRefusesTheRest()
    {
        QTemporaryDir dir;
        const std::string path = dir.filePath("a.txt").toStdString();
        QVERIFY(writeFile(path, "hello"));
        QCOMPARE(readFile(path).value(), std::string("hello"));
        QVERIFY(!readFile(path, 3));
        QVERIFY(readFile(path, 3).error().code == Error::Code::FileTooLarge);
        QVERIFY(!readFile(dir.path().toStdString()));
        QVERIFY(!readFile("/no/such/file"));
        QVERIFY(!readFile("/dev/zero"));
        QVERIFY(!writeFile("/no/such/folder/file", "x"));
    }
    void writingReplacesWhole()
    {
        QTemporaryDir dir;
        const std::string path = dir.filePath("a.txt").toStdString();
        QVERIFY(writeFile(path, "a long first version"));
        QVERIFY(writeFile(path, "short"));
        QCOMPARE(readFile(path).value(), std::string("short"));
        QVERIFY(!QFile::exists(dir.filePath("a.txt.part")));
    }
    void hashesAreSha256() { QCOMPARE(sha256("abc"), std::string("ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad")); }

    void everyErrorCodeIsInTheManual()
    {
        const std::string manual = readFile(SOURCE_ROOT "/docs/errors.md").value();
        for (int c = 0; c <= static_cast<int>(Error::Code::ExportFailed); ++c) {
            const auto code = codeName(static_cast<Error::Code>(c));
            QVERIFY(code != "unknown");
            QVERIFY2(manual.find("`" + std::string(code) + "`") != std::string::npos, std::string(code).c_str());
        }
    }
    void jsonReadingRemembersTheFirstProblem()
    {
        const auto value = nlohmann::json::parse(R"({"a": 3, "b": "text", "c": [1], "d": true, "e": null})");
        JsonReading in(value, "here");
        QCOMPARE(in.number("a", 0, 10), 3.0);
        QCOMPARE(in.text("b"), std::string("text"));
        QCOMPARE(in.list("c").size(), std::size_t{1});
        QVERIFY(in.flagOr("d", false));
        QVERIFY(!in.numberOrNothing("e", 0, 1));
        QCOMPARE(in.textOr("missing", "other"), std::string("other"));
        QVERIFY(!in.problem());
        QCOMPARE(in.number("a", 5, 10), 5.0);
        (void)in.text("a");
        QVERIFY(QString::fromStdString(*in.problem()).startsWith("here"));
        QVERIFY(QString::fromStdString(*in.problem()).contains("“a” must be a number"));
        QVERIFY(JsonReading(nlohmann::json(5), "").find("x") == nullptr);
    }
};
QTEST_APPLESS_MAIN(TestFiles)
#include "test_files.moc"
