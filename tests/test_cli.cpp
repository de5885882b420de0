#include <QDir>
#include <QProcess>
#include <QTemporaryDir>
#include <QtTest>
#include <nlohmann/json.hpp>

#include "demo/demo_job.h"
#include "files/files.h"
#include "store/job_store.h"

using nlohmann::json;

namespace {

struct Run {
    int status = -1;
    std::vector<json> lines;
    int garbage = 0;
};

Run run(const QStringList& arguments)
{
    QProcess p;
    QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
    environment.remove("DISPLAY");
    environment.remove("QT_QPA_PLATFORM");  // the tool must do without
    p.setProcessEnvironment(environment);
    p.start(CLENDO_CLI, arguments);
    p.waitForFinished(60000);
    Run out;
    out.status = p.exitStatus() == QProcess::NormalExit ? p.exitCode() : -1;
    const auto lines = p.readAllStandardOutput().split('\n');
    for (const QByteArray& line : lines) {
        if (line.isEmpty()) continue;
        const json object = json::parse(line.toStdString(), nullptr, false);
        if (object.is_object())
            out.lines.push_back(object);
        else
            ++out.garbage;
    }
    return out;
}

QString face(const char* name) { return QString(TEST_DATA "/faces/") + name; }
QString trace(const char* name) { return QString(TEST_DATA "/traces/") + name; }

}  // namespace

class TestCli : public QObject {
    Q_OBJECT
private slots:
    void facesHaveTheKeysOfTheContract()
    {
        const Run r = run({"face", "--class", "mm-pc", face("fails-mm50.png"), face("passes-dusty.jpg")});
        QCOMPARE(r.status, 0);
        QCOMPARE(r.lines.size(), std::size_t{2});
        for (const char* key : {"image", "width_px", "height_px", "elapsed_ms", "faces"}) QVERIFY2(r.lines[0].contains(key), key);
        const json& f = r.lines[0]["faces"][0];
        for (const char* key : {"fiber", "center_px", "cladding_diameter_px", "um_per_px", "scale_source", "core", "focus", "usable", "reasons",
                                "findings", "rules", "verdict", "near_limit"})
            QVERIFY2(f.contains(key), key);
        for (const char* key : {"id", "kind", "appearance", "zone", "center_um", "size_um", "width_um", "length_um"})
            QVERIFY2(f["findings"][0].contains(key), key);
        QCOMPARE(f["verdict"], "fail");
        QCOMPARE(f["core"]["kind"], "MM50");
    }
    void oneBadPictureDoesNotStopTheOthers()
    {
        const Run r = run({"face", face("passes-dusty.jpg"), trace("example.sor"), "/no/such.png", face("passes-colour.jpg")});
        QCOMPARE(r.status, 1);
        QCOMPARE(r.lines.size(), std::size_t{4});
        QCOMPARE(r.garbage, 0);
        QCOMPARE(r.lines[0]["faces"][0]["verdict"], "pass");
        QCOMPARE(r.lines[1]["error"]["code"], "not_a_picture");
        QCOMPARE(r.lines[2]["error"]["code"], "file_unreadable");
        QCOMPARE(r.lines[3]["faces"][0]["verdict"], "pass");
    }
    void tracesHaveTheKeysOfTheContract()
    {
        const Run r = run({"trace", "--launch", "150", "--tail", "150", trace("campus.sor")});
        QCOMPARE(r.status, 0);
        const json& t = r.lines[0];
        for (const char* key : {"file", "wavelength_nm", "pulse_ns", "group_index", "backscatter_db", "sample_m", "points", "averages", "checksum_ok",
                                "events", "span"})
            QVERIFY2(t.contains(key), key);
        for (const char* key : {"n", "kind", "at_m", "loss_db", "reflectance_db", "lead_in_db_per_km", "saturated"})
            QVERIFY2(t["events"][1].contains(key), key);
        for (const char* key : {"from_m", "to_m", "length_m", "loss_db", "db_per_km", "orl_db"}) QVERIFY2(t["span"].contains(key), key);
        const Run stored = run({"trace", "--stored", trace("example.sor")});
        QCOMPARE(stored.lines[0]["events"].size(), std::size_t{1});
        QCOMPARE(stored.lines[0]["events"][0]["loss_db"], 0.31);
    }
    void eventsBesideThePlan()
    {
        QTemporaryDir dir;
        const auto demo = clendo::makeDemo(dir.path()).value();
        const QString shot = QDir(demo.traces).filePath("VP-04-05-1310-ab.sor"), plan = dir.filePath("cable.json");
        const std::string cable =
            "{\"id\":\"VP-04\",\"place_a\":\"Tide Hall\",\"place_b\":\"Breakwater Hut\",\"panel_a\":\"TH-R2\",\"panel_b\":\"BH "
            "box\",\"fibre\":\"OS2\",\"connector\":\"LC\","
            "\"criteria\":\"sm-upc\",\"fibres\":12,\"length_m\":2400,\"splices\":[{\"name\":\"manhole "
            "3\",\"at_m\":1180},{\"name\":\"nowhere\",\"at_m\":1600}]}";
        QVERIFY(clendo::writeFile(plan.toStdString(), cable));
        const Run r = run({"trace", "--launch", "150", "--tail", "150", "--plan", plan, shot});
        QCOMPARE(r.status, 0);
        const json& rows = r.lines[0]["plan"];
        QCOMPARE(rows.size(), std::size_t{5});                       // two ends, two planned splices, one that was not planned
        QVERIFY(qAbs(rows[1]["found_m"].get<double>() - 1180) < 5);  // from the port at A, where one would dig
        QVERIFY(qAbs(rows[1]["at_m"].get<double>() - 1330) < 5);     // from the front panel
        QVERIFY(rows[2]["name"] == "splice nowhere" && rows[2]["found_m"].is_null());
        QCOMPARE(rows[3]["kind"], "not planned");
        QVERIFY(clendo::writeFile(plan.toStdString(), "{}"));
        QCOMPARE(run({"trace", "--plan", plan, shot}).status, 1);
    }
    void framesOfOneFaceAreOneAnswer()
    {
        const Run r = run({"face", "--combine", face("passes-dusty.jpg"), face("passes-dusty.jpg"), face("passes-dusty.jpg")});
        QCOMPARE(r.status, 0);
        QCOMPARE(r.lines.size(), std::size_t{1});
        const json& line = r.lines[0];
        QVERIFY(line["frames"] == 3 && line["frames_used"] == 3 && line["faces"].size() == 1 && line["faces"][0]["verdict"] == "pass");
        // a frame that cannot be read is said, the others are judged
        const Run gone = run({"face", "--combine", face("passes-dusty.jpg"), "/no/such.png"});
        QVERIFY(gone.status == 1 && gone.lines.size() == 1);
        QVERIFY(gone.lines[0]["frames"] == 2 && gone.lines[0]["frames_used"] == 1 && gone.lines[0]["unread"].size() == 1);
        const Run none = run({"face", "--combine", "/no/such.png", "/nor/this.png"});
        QVERIFY(none.status == 1 && none.lines[0]["error"]["code"] == "file_unreadable" && none.lines[0]["frames_used"] == 0);
    }
    void facesAreHeldAgainstEachOther()
    {
        const Run r =
            run({"match", face("passes-dusty.jpg"), face("passes-dusty.jpg"), face("passes-colour.jpg"), "/no/such.png", trace("example.sor")});
        QCOMPARE(r.status, 1);
        QCOMPARE(r.lines.size(), std::size_t{4});
        for (std::size_t i = 0; i < 2; ++i)
            for (const char* key : {"image", "against", "answer", "score", "false_match_rate", "turn_deg", "marks_used"})
                QVERIFY2(r.lines[i].contains(key), key);
        QVERIFY(r.lines[0]["answer"] == "same" && r.lines[0]["turn_deg"] == 0);
        QVERIFY(r.lines[1]["answer"] != "same" && r.lines[1]["turn_deg"].is_null());
        QCOMPARE(r.lines[2]["error"]["code"], "file_unreadable");
        QVERIFY(r.lines[3].contains("error"));
    }
    void bothWays()
    {
        QTemporaryDir dir;
        const auto demo = clendo::makeDemo(dir.path()).value();
        const Run r = run({"bidir", QDir(demo.traces).filePath("VP-04-03-1550-ab.sor"), QDir(demo.traces).filePath("VP-04-03-1550-ba.sor"),
                           "--launch", "150", "--tail", "150"});
        QCOMPARE(r.status, 0);
        // a bend of 0.42 dB lies 5 m before a splice of some 0.1 dB: together or apart
        double atTheSeaWall = 0;
        for (const auto& pair : r.lines[0]["pairs"])
            if (std::abs(pair["at_m"].get<double>() - 150 - 1902) < 10) atTheSeaWall += pair["loss_db"].get<double>();
        QVERIFY2(qAbs(atTheSeaWall - 0.53) < 0.04, qPrintable(QString::number(atTheSeaWall)));
        QVERIFY(r.lines[0]["pairs"].size() >= 4);
        const Run mixed = run({"bidir", QDir(demo.traces).filePath("VP-04-03-1550-ab.sor"), QDir(demo.traces).filePath("VP-04-03-1310-ba.sor")});
        QCOMPARE(mixed.status, 1);
        QVERIFY(mixed.lines[0]["error"]["message"].get<std::string>().find("1550 nm, the other at 1310 nm") != std::string::npos);
        // and the certificate of the demo job, without a display
        const Run c = run({"certificate", demo.job, "--out", dir.filePath("out")});
        QCOMPARE(c.status, 0);
        const auto pdf = clendo::readFile(dir.filePath("out/VP-04/VP-04.pdf").toStdString()).value();
        QVERIFY(pdf.starts_with("%PDF") && pdf.size() > 50000);
        for (const auto& file : c.lines[0]["files"]) QVERIFY(QFileInfo::exists(QString::fromStdString(file.get<std::string>())));
        QCOMPARE(run({"certificate", demo.job, "--out", dir.filePath("out"), "--subject", "VP-99"}).status, 1);
        QCOMPARE(run({"certificate", trace("example.sor"), "--out", dir.filePath("out")}).lines[0]["error"]["code"], "job_not_clendo");
    }
    void aSignedCertificateIsVerified()
    {
        QTemporaryDir dir;
        qputenv("XDG_DATA_HOME", dir.filePath("home").toUtf8());
        const auto demo = clendo::makeDemo(dir.path()).value();
        const std::string words = dir.filePath("words").toStdString();
        QVERIFY(clendo::writeFile(words, "low tide at noon\n"));
        QCOMPARE(run({"key", "make", "--holder", "technician 1", "--passphrase-file", "/dev/null"}).status, 1);
        const Run key = run({"key", "make", "--holder", "technician 1", "--passphrase-file", QString::fromStdString(words)});
        QCOMPARE(key.status, 0);
        const QString keys = dir.filePath("home/clendo/keys"), file = keys + '/' + QDir(keys).entryList({"*.clendo-key"}).value(0);
        const QString out = dir.filePath("out"), folder = out + "/VP-04";
        const QStringList write{"certificate", demo.job, "--out", out, "--subject", "VP-04", "--key", file, "--passphrase-file"};
        QVERIFY(clendo::writeFile(dir.filePath("wrong").toStdString(), "high tide"));
        QCOMPARE(run(write + QStringList{dir.filePath("wrong")}).lines[0]["error"]["code"], "passphrase_wrong");
        QVERIFY(!QFileInfo::exists(folder));
        QCOMPARE(run(write + QStringList{QString::fromStdString(words)}).status, 0);
        const Run good = run({"verify", folder});
        QCOMPARE(good.status, 0);
        for (const char* contracted : {"subject", "kind", "entries", "evidence", "ok", "wrong", "signatures"})
            QVERIFY2(good.lines[0].contains(contracted), contracted);
        QCOMPARE(good.lines[0]["kind"], "certificate");
        QCOMPARE(good.lines[0]["key"]["standing"], "known");
        QCOMPARE(good.lines[0]["signatures"].size(), std::size_t{2});
        QCOMPARE(good.lines[0]["signatures"][1]["state"], "overtaken");
        QVERIFY(QString::fromStdString(good.lines[0]["signatures"][0]["at"].get<std::string>()).endsWith('Z'));
        // of whoever else it must be, it is not
        QCOMPARE(run({"verify", "--key", QString(64, '7'), folder}).status, 1);
        QCOMPARE(run({"verify", "--key", QString::fromStdString(key.lines[0]["public"].get<std::string>()), folder}).status, 0);
        const Run all = run({"verify", out});
        QCOMPARE(all.lines[0]["certificates"].size(), std::size_t{1});
        auto csv = clendo::readFile((folder + "/VP-04.csv").toStdString()).value();
        csv[40] ^= 1;
        QVERIFY(clendo::writeFile((folder + "/VP-04.csv").toStdString(), csv));
        const Run bad = run({"verify", folder});
        QCOMPARE(bad.status, 1);
        QCOMPARE(bad.lines[0]["ok"], false);
        QCOMPARE(bad.lines[0]["wrong"][0]["id"], "VP-04.csv");
        QCOMPARE(run({"verify", dir.filePath("home")}).lines[0]["error"]["code"], "certificate_invalid");
        qunsetenv("XDG_DATA_HOME");
    }
    void aReelIsJudgedAndCut()
    {
        QTemporaryDir dir;
        const auto demo = clendo::makeDemo(dir.path()).value();
        const QString delivery = QDir(demo.traces).filePath("reel.json"), plan = dir.filePath("cut.json");
        // a line of 2400 m with a cord of 150 m behind it, taken for a reel of 2600 m
        QVERIFY(clendo::writeFile(delivery.toStdString(),
                                  R"({"reel": "R-7", "ordered": {"length_m": 2600, "fibres": 12, "attenuation_db_per_km": {"1550": 0.3}},
            "marks": {"outer": 1500, "inner": 98970, "unit": "m", "digits": 5}, "launch_m": 150, "fibre_excess_percent": 1,
            "traces": ["VP-04-04-1550-ab.sor"], "sample": {"plan": "iso-2859-1", "level": "II", "aql": 1.0, "seed": 7}})"));
        const Run r = run({"reel", delivery});
        QCOMPARE(r.status, 0);
        const auto& reel = r.lines[0];
        QVERIFY(qAbs(reel["by_marks_m"].get<double>() - 2530) < 0.1);
        QVERIFY2(qAbs(reel["optical_cable_m"].get<double>() - 2550 / 1.01) < 4, qPrintable(QString::fromStdString(reel.dump())));
        QVERIFY(reel["joint"] == "good" && reel["verdict"] == "reject" && reel["significant"] == true);
        QVERIFY(reel["sample"]["size"] == 12 && reel["sample"]["fibres"].size() == 12);
        QCOMPARE(reel["attenuation"][0]["fibre"], 4);
        QVERIFY(clendo::writeFile(plan.toStdString(),
                                  R"({"reels": [{"id": "R-7", "length_m": 978}], "runs": [{"id": "sea wall", "length_m": 410, "slack_m": 20}],
            "joint_allowed": true, "keep_least_m": 50})"));
        const Run cut = run({"cut", plan});
        QCOMPARE(cut.status, 0);
        QCOMPARE(cut.lines[0]["assignments"][0]["left_m"], 548.0);
        QCOMPARE(run({"reel", plan}).status, 1);
        QCOMPARE(run({"cut", delivery}).status, 1);
    }
    void aJobIsVerified()
    {
        QTemporaryDir dir;
        const QString job = dir.filePath("job.clendo"), torn = dir.filePath("torn.clendo"), saved = dir.filePath("saved.clendo");
        QVERIFY(QFile::copy(TEST_DATA "/jobs/schema-2.clendo", job));
        const Run good = run({"verify", job});
        QCOMPARE(good.status, 0);
        const json& line = good.lines.at(0);
        for (const char* key : {"subject", "kind", "entries", "evidence", "ok", "wrong", "signatures"}) QVERIFY2(line.contains(key), key);
        QVERIFY(line["ok"] == true && line["kind"] == "job" && line["entries"] == 57 && line["evidence"] == 2 && line["wrong"].empty());
        const json& signature = line["signatures"].at(0);
        QVERIFY(signature["subject"] == "VP-04/1" && signature["by"] == "crew lead" && signature["state"] == "overtaken");
        QVERIFY(signature["at"] == "2026-11-17T08:30:00Z" && signature["by_entry"].get<std::string>().size() == 64);
        const std::string bytes = clendo::readFile(job.toStdString()).value();
        QVERIFY(clendo::writeFile(torn.toStdString(), bytes.substr(0, bytes.size() * 3 / 4)));
        const Run bad = run({"verify", torn, "--save", saved});
        QCOMPARE(bad.status, 1);
        QVERIFY(bad.lines.at(0)["ok"] == false && !bad.lines[0]["wrong"].empty());
        QVERIFY(bad.lines[0]["saved"]["entries"].get<int>() > 0);
        QCOMPARE(run({"verify", saved}).status, 0);
        const Run certificates = run({"certificate", torn, "--out", dir.filePath("out")});
        QCOMPARE(certificates.status, 1);
        QCOMPARE(certificates.lines.at(0)["error"]["code"], "job_damaged");
        QVERIFY(!QFile::exists(dir.filePath("out")));
        QCOMPARE(run({"verify", trace("example.sor")}).lines.at(0)["error"]["code"], "job_not_clendo");
        QCOMPARE(run({"verify", job, torn}).lines.size(), std::size_t{2});
    }
    void twoCopiesAreMerged()
    {
        QTemporaryDir dir;
        const QString a = TEST_DATA "/jobs/schema-1.clendo", b = TEST_DATA "/jobs/schema-2.clendo", c = dir.filePath("c.clendo");
        const Run merged = run({"merge", a, b, "--out", c});
        QCOMPARE(merged.status, 0);
        QVERIFY(merged.lines.at(0) == json({{"entries", 57}, {"from_a", 0}, {"from_b", 10}, {"both", 47}, {"contradictions", json::array()}}));
        QCOMPARE(run({"verify", c}).status, 0);
        QCOMPARE(run({"merge", a, b, "--out", c}).status, 1);  // it is there
        const auto demo = clendo::makeDemo(dir.filePath("demo")).value();
        QCOMPARE(run({"merge", a, demo.job, "--out", dir.filePath("d.clendo")}).lines.at(0)["error"]["code"], "job_other");
        QCOMPARE(run({"merge", a, "/no/such.clendo", "--out", dir.filePath("d.clendo")}).lines.at(0)["error"]["code"], "file_unreadable");
    }
    void anAnswerThatCannotBeWrittenIsAnError()
    {
        QProcess p;
        p.setStandardOutputFile("/dev/full");
        p.start(CLENDO_CLI, {"trace", trace("campus.sor")});
        p.waitForFinished(60000);
        QCOMPARE(p.exitCode(), 1);
        QVERIFY(p.readAllStandardError().contains("standard output"));
    }
    void aSheetNeverOverwritesAPicture()
    {
        QTemporaryDir dir;
        const QString picture = dir.filePath("a.jpg");
        QVERIFY(QFile::copy(face("passes-dusty.jpg"), picture));
        const auto before = clendo::readFile(picture.toStdString()).value();
        QVERIFY(QFile::link(picture, dir.filePath("link.csv")));
        QCOMPARE(run({"face", "--csv", dir.filePath("link.csv"), picture}).status, 2);
        QCOMPARE(run({"face", "--csv", picture, picture}).status, 2);
        QCOMPARE(clendo::readFile(picture.toStdString()).value(), before);
    }
    void theDemoIsMadeWholeAndKeepsWhatOthersMade()
    {
        QTemporaryDir dir;
        const auto demo = clendo::makeDemo(dir.path()).value();
        const QString mine = QDir(demo.scope).filePath("mine.png"), changed = QDir(demo.traces).filePath("VP-04-01-1310-ab.sor");
        QVERIFY(clendo::writeFile(mine.toStdString(), "mine") && clendo::writeFile(changed.toStdString(), "changed"));
        QVERIFY(QFile::exists(dir.filePath("demo-made.json")));
        QVERIFY(clendo::makeDemo(dir.path()));
        QVERIFY(QFile::exists(mine));
        QCOMPARE(clendo::readFile(QDir(demo.traces).filePath("VP-04-01-1310-ab (kept).sor").toStdString()).value(), std::string("changed"));
        QCOMPARE(run({"verify", demo.job}).status, 0);
        const auto open = clendo::JobStore::open(demo.job).value();
        const auto again = clendo::makeDemo(dir.path());
        QVERIFY(!again && again.error().code == clendo::Error::Code::JobInUse);
        QVERIFY(!QDir(dir.path()).entryList(QDir::AllEntries | QDir::Hidden).join(' ').contains(".making"));
    }
    void theLossExample()
    {
        QTemporaryDir dir;
        const QString file = dir.filePath("link.json");
        QVERIFY(clendo::writeFile(
            file.toStdString(),
            R"({"link":"T1-07","fiber":"OS2","length_m":2400,"connections":2,"splices":2,"limits":"generic-sm","method":"one-cord","source":{"warm_up_s":900},
            "readings":[{"wavelength_nm":1310,"direction":"ab","reference_dbm":-7.02,"power_dbm":-8.63},{"wavelength_nm":1310,"direction":"ba","reference_dbm":-7.10,"power_dbm":-8.75}]})"));
        const Run r = run({"loss", file, "/no/such.json"});
        QCOMPARE(r.status, 1);
        const json& result = r.lines[0]["results"][0];
        QCOMPARE(result["loss_ab_db"], 1.61);
        QCOMPARE(result["limit_db"], 3.3);
        QCOMPARE(result["margin_db"], 1.65);
        QCOMPARE(result["connections_counted"], 2);
        QCOMPARE(r.lines[0]["verdict"], "pass");
        QCOMPARE(r.lines[1]["error"]["code"], "file_unreadable");
    }
    void calledWrongly_data()
    {
        QTest::addColumn<QStringList>("arguments");
        QTest::newRow("nothing") << QStringList{};
        QTest::newRow("unknown command") << QStringList{"dance"};
        QTest::newRow("match without another") << QStringList{"match", face("passes-dusty.jpg")};
        QTest::newRow("match, unknown class") << QStringList{"match", "--class", "sm-xyz", face("passes-dusty.jpg"), face("passes-dusty.jpg")};
        QTest::newRow("face without a picture") << QStringList{"face"};
        QTest::newRow("unknown class") << QStringList{"face", "--class", "sm-xyz", face("passes-dusty.jpg")};
        QTest::newRow("unknown edition") << QStringList{"face", "--edition", "1999", face("passes-dusty.jpg")};
        QTest::newRow("scale of 0") << QStringList{"face", "--um-per-px", "0", face("passes-dusty.jpg")};
        QTest::newRow("cladding nan") << QStringList{"face", "--cladding-um", "nan", face("passes-dusty.jpg")};
        QTest::newRow("scale nan") << QStringList{"face", "--um-per-px", "nan", face("passes-dusty.jpg")};
        QTest::newRow("cladding infinite") << QStringList{"face", "--cladding-um", "inf", face("passes-dusty.jpg")};
        QTest::newRow("merge without a place") << QStringList{"merge", "a.clendo", "b.clendo"};
        QTest::newRow("fibres: some") << QStringList{"face", "--fibers", "some", face("passes-dusty.jpg")};
        QTest::newRow("launch nan") << QStringList{"trace", "--launch", "nan", trace("example.sor")};
        QTest::newRow("launch -5") << QStringList{"trace", "--launch", "-5", trace("example.sor")};
        QTest::newRow("bidir with one") << QStringList{"bidir", trace("example.sor")};
        QTest::newRow("certificate without a place") << QStringList{"certificate", "job.clendo"};
    }
    void calledWrongly()
    {
        QFETCH(QStringList, arguments);
        const Run r = run(arguments);
        QCOMPARE(r.status, 2);
        QCOMPARE(r.garbage, 0);
        QVERIFY(r.lines.empty());
    }
};
QTEST_GUILESS_MAIN(TestCli)
#include "test_cli.moc"
