#include <QTemporaryDir>
#include <QtTest>
#include <random>

#include "files/csv.h"
#include "files/files.h"
#include "files/json_reading.h"
#include "files/log_file.h"
#include "result/guarded.h"

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
    void whatIsThrownBecomesASentence()
    {
        const auto thrown = [](auto what) { return guarded([&]() -> Result<int> { throw what; }).error(); };
        QVERIFY(thrown(std::bad_alloc()).code == Error::Code::OutOfMemory);
        const Error odd = thrown(std::runtime_error("the moon"));
        QVERIFY(odd.code == Error::Code::Unexpected && odd.detail == "the moon");
        QVERIFY(odd.message.find("the moon") == std::string::npos);  // that is for the log
        QVERIFY(thrown(std::runtime_error("OpenCV: Failed to allocate 9 bytes")).code == Error::Code::OutOfMemory);
        QVERIFY(thrown(7).code == Error::Code::Unexpected);
        QCOMPARE(guardedResult([] { return 5; }).value(), 5);
    }
    void theLogTurnsOver()
    {
        QTemporaryDir dir;
        const auto path = std::filesystem::path(dir.path().toStdString()) / "log" / "clendo.log";
        LogFile log(path, 1000);
        log.write(Error{Error::Code::NotSaved, "Not saved.", "disk I/O error\nline two"});
        const auto text = readFile(path.string()).value();
        QVERIFY(text.find("not_saved: Not saved. [disk I/O error line two]") != std::string::npos);
        QCOMPARE(std::count(text.begin(), text.end(), '\n'), std::ptrdiff_t{1});
        for (int i = 0; i < 200; ++i) log.write("again and again: " + std::to_string(i));
        QVERIFY(std::filesystem::file_size(path) <= 1100);
        QVERIFY(std::filesystem::file_size(path.string() + ".1") <= 1100);
        QVERIFY(readFile(path.string()).value().find("199") != std::string::npos);
        log.write(std::string(100000, 'x'));
        QVERIFY(std::filesystem::file_size(path) <= 1100);
        LogFile nowhere("/proc/no/such/log");
        nowhere.write("nobody minds");
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
    void aPlantedLinkIsNotFollowed()
    {
        QTemporaryDir dir;
        const std::string path = dir.filePath("a.txt").toStdString(), victim = dir.filePath("victim").toStdString();
        QVERIFY(writeFile(victim, "mine"));
        QVERIFY(QFile::link(dir.filePath("victim"), dir.filePath("a.txt.part")));
        QVERIFY(writeFile(path, "hello"));
        QCOMPARE(readFile(victim).value(), std::string("mine"));
        QCOMPARE(QDir(dir.path()).entryList(QDir::Files).size(), 3);  // nothing else was left
    }
    void aFinishedFileTakesItsPlaceOnceOrReplaces()
    {
        QTemporaryDir dir;
        const std::string place = dir.filePath("place").toStdString(), fresh = dir.filePath("fresh").toStdString();
        QVERIFY(writeFile(fresh, "1") && moveIntoPlace(fresh, place, false));
        QVERIFY(writeFile(fresh, "2") && !moveIntoPlace(fresh, place, false));
        QCOMPARE(readFile(place).value(), std::string("1"));
        QVERIFY(moveIntoPlace(fresh, place, true));
        QCOMPARE(readFile(place).value(), std::string("2"));
    }
    void fieldsOfATable_data()
    {
        QTest::addColumn<QString>("text");
        QTest::addColumn<QString>("field");
        for (const auto& [text, field] : std::initializer_list<std::pair<const char*, const char*>>{{"plain", "plain"},
                                                                                                    {"a,b", "\"a,b\""},
                                                                                                    {"say \"x\"", "\"say \"\"x\"\"\""},
                                                                                                    {"=1+1", "'=1+1"},
                                                                                                    {"  @cmd", "'  @cmd"},
                                                                                                    {"-2+3", "'-2+3"},
                                                                                                    {"\t=x", "\"'\t=x\""},
                                                                                                    {"", ""},
                                                                                                    {"VP-04", "VP-04"}})
            QTest::newRow(text) << QString(text) << QString(field);
    }
    void fieldsOfATable()
    {
        QFETCH(QString, text);
        QFETCH(QString, field);
        QCOMPARE(QString::fromStdString(csvField(text.toStdString())), field);
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
    void aFlatDocumentSaysWhatTheTreeSays_data()
    {
        QTest::addColumn<QString>("text");
        for (const char* text : {"{}", "[]", "null", "true", "-3", "2.5e-3", "\"t\\u00e4\\n\"", "[1,[2,[]],{\"a\":[{}]},\"x\"]",
                                 R"({"a":1,"b":{"a":2,"c":[3,4]},"d":null})", R"({"a":1,"a":"the last one counts"})",
                                 R"([{"long name of a member":"long text that fits nowhere short"},false])"})
            QTest::newRow(text) << text;
    }
    void aFlatDocumentSaysWhatTheTreeSays()
    {
        QFETCH(QString, text);
        FlatJson doc;
        QVERIFY(doc.read("[\"what was read before\"]"));
        QVERIFY(doc.read(text.toStdString()));
        const std::function<void(FlatJson::Value, const nlohmann::json&)> compare = [&](FlatJson::Value flat, const nlohmann::json& tree) {
            QCOMPARE(flat.is_null(), tree.is_null());
            QCOMPARE(flat.is_boolean(), tree.is_boolean());
            QCOMPARE(flat.is_number(), tree.is_number());
            QCOMPARE(flat.is_number_integer(), tree.is_number_integer());
            QCOMPARE(flat.is_string(), tree.is_string());
            QCOMPARE(flat.is_array(), tree.is_array());
            QCOMPARE(flat.is_object(), tree.is_object());
            if (tree.is_number()) QCOMPARE(flat.get<double>(), tree.get<double>());
            if (tree.is_boolean()) QCOMPARE(flat.get<bool>(), tree.get<bool>());
            if (tree.is_string()) QCOMPARE(flat.get<std::string>(), tree.get<std::string>());
            if (tree.is_array()) {
                QCOMPARE(flat.size(), tree.size());
                for (std::size_t i = 0; i < tree.size(); ++i) compare(flat[i], tree[i]);
                std::size_t n = 0;
                for (const auto item : flat) compare(item, tree[n++]);
            }
            if (tree.is_object())
                for (const auto& [key, value] : tree.items()) {
                    const auto member = flat.find(key);
                    QVERIFY(member);
                    QCOMPARE(std::string(member->key()), key);
                    compare(*member, value);
                }
        };
        compare(doc.root(), nlohmann::json::parse(text.toStdString()));
        QVERIFY(!doc.root().find("no such member"));
    }
    void anyBytesAreJsonForBothOrForNeither()
    {
        const std::string whole =
            R"({"face":"VP-04/574/A/port","measured":{"blur_um":0.4,"centre_px":[10,-2.5e3],"core":null,"findings":[{"id":1,"kind":"pit"}]},"ok":true})";
        std::mt19937 random(9);
        FlatJson doc;
        int good = 0;
        for (int round = 0; round < 4000; ++round) {
            std::string text = whole;
            for (auto n = random() % 3; n > 0; --n) text[random() % text.size()] = "{}[],:\"0e-.x\\\x80"[random() % 14];
            if (random() % 4 == 0) text.resize(random() % text.size());
            QCOMPARE(doc.read(text), nlohmann::json::accept(text));
            if (!doc.root().is_object()) continue;
            ++good;
            std::size_t members = 0;
            for (const auto member : doc.root()) members += member.key().empty() ? 0 : 1;
            QVERIFY(members <= doc.root().size());
        }
        QVERIFY(good > 500);
    }
    void whatIsNoJsonIsNoFlatDocument()
    {
        FlatJson doc;
        for (const std::string& text : {std::string(), std::string("{"), std::string("[1,]"), std::string("{\"a\":}"), std::string("1e999"),
                                        std::string("\"\xff\""), std::string("[1] 2"), std::string(100000, '[')}) {
            QVERIFY(!doc.read(text));
            QVERIFY(doc.root().is_null());
            QVERIFY(!doc.root().find("a"));
        }
        QVERIFY(!doc.read(std::string(100000, '[') + std::string(100000, ']')));  // nobody means that
        QVERIFY(doc.read(std::string(500, '[') + std::string(500, ']')));
        QCOMPARE(doc.root().size(), std::size_t(1));
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
