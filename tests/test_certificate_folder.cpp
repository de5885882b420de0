// What is handed to a client: a folder that stands on its own, and in which nothing can be changed unseen.
#include <sys/resource.h>

#include <QDirIterator>
#include <QImage>
#include <QProcess>
#include <QRandomGenerator>
#include <QTemporaryDir>
#include <QtTest>
#include <csignal>
#include <nlohmann/json.hpp>

#include "demo/demo_job.h"
#include "files/canonical_json.h"
#include "files/files.h"
#include "power/applications.h"
#include "record/output/certificate.h"
#include "record/output/certificate_summary.h"
#include "report/certificate/delivery.h"
#include "report/labels.h"
#include "seal/check_folder.h"
#include "session/job_service.h"

using namespace clendo;
using nlohmann::json;

namespace {

std::string textOfPdf(const std::string& pdf)
{
    QProcess p;
    p.start(PDFTOTEXT, {"-layout", QString::fromStdString(pdf), "-"});
    p.waitForFinished();
    return p.readAllStandardOutput().toStdString();
}

struct Program {
    int status;
    QString output;
};
Program run(const QString& program, const QStringList& arguments)
{
    QProcess p;
    p.start(program, arguments);
    p.waitForFinished(60000);
    return {p.exitCode(), QString::fromUtf8(p.readAllStandardOutput() + p.readAllStandardError())};
}

}  // namespace

class TestCertificateFolder : public QObject {
    Q_OBJECT
private slots:
    void initTestCase()
    {
        demo_ = makeDemo(dir_.filePath("demo")).value();
        service_ = std::make_unique<JobService>(readJob(demo_.job, JobStore::Access::Read, noClock).value(), JobService::Listener(), noClock);
        key_ = std::make_unique<seal::SigningKey>(seal::SigningKey::make("technician 1"));
        write(dir_.filePath("good"), key_.get());
        folder_ = dir_.filePath("good/VP-04");
    }
    void nothingIsChangedAtFirst()
    {
        const auto check = seal::checkFolder(folder_.toStdString(), known()).value();
        QVERIFY2(check.ok(), check.sentence().c_str());
        QVERIFY(check.standing == seal::Standing::Known);
        QVERIFY(check.evidence > 40);
        QVERIFY(check.entries > 100);
        QVERIFY(check.beside.empty());
        QCOMPARE(check.signOffs.size(), std::size_t{2});
        QCOMPARE(check.signOffs[1].state, std::string("overtaken"));
        QVERIFY(!check.signOffs[1].since.empty());
        const auto& heads = check.seal->statement.heads;
        QVERIFY(!heads.empty());
        const auto snapshot = service_->snapshot();
        const auto& state = *snapshot.state;
        for (const auto& head : heads) QCOMPARE(head.entry, state.chainEnds.at(head.device).hash);
    }
    void picturesAndTracesLieThereAsTheyCame()
    {
        const json body = bodyIn(folder_);
        int pictures = 0, traces = 0;
        for (const auto& e : body["evidence"]) {
            QVERIFY(e["enclosed"].get<bool>());
            const auto bytes = readFile((folder_ + '/').toStdString() + e["file"].get<std::string>()).value();
            QCOMPARE(sha256(bytes), e["sha256"].get<std::string>());
            QCOMPARE(bytes, service_->evidenceSource()(e["sha256"].get<std::string>()).value());
            ++(e["kind"] == "trace" ? traces : pictures);
        }
        QCOMPARE(traces, 16);
        QVERIFY(pictures > 30);
    }
    void everyChangedByteIsFound()
    {
        QRandomGenerator dice(19);
        const auto files = seal::checkFolder(folder_.toStdString(), known()).value().seal->statement.files;
        std::vector<std::string> paths{std::string(seal::sealName)};
        for (const auto& f : files) paths.push_back(f.path);
        for (const auto& path : paths) {
            const std::string place = (folder_ + '/').toStdString() + path, good = readFile(place).value();
            for (int n = path.find('/') == std::string::npos ? 3 : 1; n > 0; --n) {
                std::string bad = good;
                bad[dice.bounded(static_cast<quint32>(bad.size()))] ^= static_cast<char>(1 << dice.bounded(8));
                QVERIFY(writeFile(place, bad, Sync::No));
                const auto check = seal::checkFolder(folder_.toStdString(), known());
                QVERIFY2(check && !check->ok(), path.c_str());
                QVERIFY2(path == seal::sealName || check->wrong.size() == 1, path.c_str());
            }
            QVERIFY(writeFile(place, good, Sync::No));
        }
        QVERIFY(seal::checkFolder(folder_.toStdString(), known())->ok());
    }
    void mischiefIsSaid_data()
    {
        QTest::addColumn<int>("what");
        QTest::addColumn<QString>("says");
        QTest::newRow("a picture swapped for another") << 0 << "was changed";
        QTest::newRow("a reading edited") << 1 << "VP-04.json” was changed";
        QTest::newRow("the record cut short") << 2 << "has 1000 bytes instead of";
        QTest::newRow("a picture taken away") << 3 << "is missing";
        QTest::newRow("the signature taken away") << 4 << "Whether anything else was changed cannot be told";
        QTest::newRow("a reading edited, and the statement with it") << 5 << "The signature is not that of the key";
        QTest::newRow("all of it, and signed by nobody") << 6 << "No key signed this certificate";
    }
    void mischiefIsSaid()
    {
        QFETCH(int, what);
        QFETCH(QString, says);
        const QString bad = dir_.filePath(QStringLiteral("bad%1").arg(what));
        QCOMPARE(run("cp", {"-r", folder_, bad}).status, 0);
        const std::string in = (bad + '/').toStdString(), record = in + "VP-04.json", sealFile = in + std::string(seal::sealName);
        const seal::Statement statement = seal::checkFolder(folder_.toStdString(), known()).value().seal->statement;
        std::vector<std::string> pictures;
        for (const auto& f : statement.files)
            if (f.path.starts_with("pictures/")) pictures.push_back(in + f.path);
        const auto edited = [&] {
            json body = json::parse(readFile(record).value());
            body["cables"][0]["links"][0]["loss"]["results"][0]["loss_ab_db"] = 0.11;
            return canonicalJson(body);
        };
        const auto stated = [&](const std::string& bytes, const seal::SigningKey* key) {
            seal::Statement other = statement;
            for (auto& f : other.files)
                if (f.path == "VP-04.json") f = {f.path, bytes.size(), digestOf(bytes)};
            return seal::sealText(other, key);
        };
        switch (what) {
            case 0: QVERIFY(writeFile(pictures[0], readFile(pictures[1]).value())); break;
            case 1: QVERIFY(writeFile(record, edited())); break;
            case 2: QVERIFY(writeFile(record, readFile(record).value().substr(0, 1000))); break;
            case 3: QVERIFY(QFile::remove(QString::fromStdString(pictures[2]))); break;
            case 4: QVERIFY(QFile::remove(QString::fromStdString(sealFile))); break;
            case 5: {
                const std::string bytes = edited();
                json seal = json::parse(readFile(sealFile).value());
                seal["statement"] = json::parse(stated(bytes, key_.get()))["statement"];
                QVERIFY(writeFile(record, bytes) && writeFile(sealFile, canonicalJson(seal) + "\n"));
                break;
            }
            default: {
                const std::string bytes = edited();
                QVERIFY(writeFile(record, bytes) && writeFile(sealFile, stated(bytes, nullptr)));
            }
        }
        const auto check = seal::checkFolder(bad.toStdString(), known());
        QVERIFY(check && !check->ok());
        QVERIFY2(QString::fromStdString(check->sentence()).contains(says), check->sentence().c_str());
    }
    void aStrangersKeyAndAnOldOneAreSaid()
    {
        const auto stranger = seal::checkFolder(folder_.toStdString(), {}).value();
        QVERIFY(stranger.ok() && stranger.standing == seal::Standing::Unknown);
        QVERIFY(QString::fromStdString(stranger.sentence()).contains("nobody here has compared it yet"));
        const auto old = seal::checkFolder(folder_.toStdString(), {{key_->publicKey(), "technician 1", 10}}).value();
        QVERIFY(old.ok() && old.standing == seal::Standing::Retired);
        QVERIFY(QString::fromStdString(old.sentence()).contains("no longer in use"));
    }
    void whatLiesBesideIsNoPartOfIt()
    {
        const QString note = folder_ + "/pictures/note of the client.txt";
        QVERIFY(writeFile(note.toStdString(), "mine"));
        const auto check = seal::checkFolder(folder_.toStdString(), known()).value();
        QVERIFY(check.ok());
        QCOMPARE(check.beside, std::vector<std::string>{"pictures/note of the client.txt"});
        write(dir_.filePath("good"), key_.get());
        QVERIFY(QFile::remove(note));  // it outlived the certificate that was replaced
    }
    void aFolderWithoutACertificateIsNone()
    {
        QVERIFY(seal::checkFolder(dir_.path().toStdString(), {}).error().code == Error::Code::CertificateInvalid);
        QVERIFY(!seal::checkFolder("/proc/no/such", {}));
    }
    void theNextOneNamesTheOneItReplaces()
    {
        const std::string before = sha256(readFile((folder_ + "/VP-04.json").toStdString()).value());
        write(dir_.filePath("good"), key_.get());
        const json body = bodyIn(folder_);
        QCOMPARE(body["replaces"]["record_sha256"].get<std::string>(), before);
        QVERIFY(body["replaces"]["changes"].empty());
        QCOMPARE(seal::checkFolder(folder_.toStdString(), known())->seal->statement.replaces->hex(), before);
        QVERIFY(QString::fromStdString(textOfPdf((folder_ + "/VP-04.pdf").toStdString())).contains("No verdict differs"));
    }
    void theOldOneStaysWhereTheDiskGetsFull()
    {
        const QByteArray before = QByteArray::fromStdString(readFile((folder_ + "/VP-04.pdf").toStdString()).value());
        const QStringList files = QDir(dir_.filePath("good")).entryList(QDir::AllEntries | QDir::NoDotAndDotDot);
        // no file may grow beyond this: what a full disk says to whoever writes on
        rlimit all{};
        QVERIFY(getrlimit(RLIMIT_FSIZE, &all) == 0);
        auto* quiet = std::signal(SIGXFSZ, SIG_IGN);
        const rlimit little{static_cast<rlim_t>(before.size() / 2), all.rlim_max};
        QVERIFY(setrlimit(RLIMIT_FSIZE, &little) == 0);
        const auto snapshot = service_->snapshot();
        const auto written = writeCertificates({certificate(*snapshot.state, "VP-04").value()}, service_->evidenceSource(), dir_.filePath("good"),
                                               {true, true, key_.get(), 1'796'000'001});
        QVERIFY(setrlimit(RLIMIT_FSIZE, &all) == 0);
        std::signal(SIGXFSZ, quiet);
        QVERIFY(!written);
        QVERIFY(seal::checkFolder(folder_.toStdString(), known())->ok());
        QCOMPARE(QByteArray::fromStdString(readFile((folder_ + "/VP-04.pdf").toStdString()).value()), before);
        QCOMPARE(QDir(dir_.filePath("good")).entryList(QDir::AllEntries | QDir::NoDotAndDotDot), files);  // nothing half lies beside it
    }
    void whatDiffersIsTold()
    {
        json fresh = bodyIn(folder_), earlier = fresh;
        auto& parts = earlier["cables"][0]["links"][0]["parts"];
        parts[0]["verdict"] = "fail";
        parts[1]["verdict"] = "incomplete";
        parts.erase(2);
        earlier["cables"][0]["links"][2]["parts"].push_back({{"about", "a thing of the past"}, {"verdict", "pass"}});
        std::map<std::string, std::string> kinds;
        for (const auto& change : certificateChanges(earlier, fresh)) kinds[change["about"].get<std::string>()] = change["kind"].get<std::string>();
        QCOMPARE(kinds.size(), std::size_t{4});
        QCOMPARE(kinds[fresh["cables"][0]["links"][0]["parts"][0]["about"].get<std::string>()], std::string("repaired"));
        QCOMPARE(kinds[fresh["cables"][0]["links"][0]["parts"][1]["about"].get<std::string>()], std::string("new"));
        QCOMPARE(kinds[fresh["cables"][0]["links"][0]["parts"][2]["about"].get<std::string>()], std::string("new"));
        QCOMPARE(kinds["a thing of the past"], std::string("gone"));
        std::swap(fresh, earlier);
        for (const auto& change : certificateChanges(earlier, fresh))
            if (change["now"] == "fail") QCOMPARE(change["kind"], "worse");
        QVERIFY(certificateChanges(json::parse(R"({"format":"other"})"), fresh).is_null());
        for (const char* hostile :
             {R"({"format":"clendo-certificate","cables":7})", R"({"format":"clendo-certificate","cables":[7,{"links":[{"parts":[{}]}]}]})"})
            QVERIFY(certificateChanges(json::parse(hostile), fresh).is_array());
    }
    void theRecordFollowsItsSchema()
    {
        if (QStringLiteral(PYTHON3).isEmpty()) QSKIP("no python3");
        const Program p = run(PYTHON3, {"-c",
                                        "import json, sys, jsonschema\n"
                                        "v = jsonschema.Draft202012Validator(json.load(open(sys.argv[1])))\n"
                                        "v.validate(json.load(open(sys.argv[2])))\n"
                                        "bad = json.load(open(sys.argv[2])); del bad['cables'][0]['links'][0]['verdict']\n"
                                        "sys.exit(0 if not v.is_valid(bad) else 3)",
                                        SOURCE_ROOT "/docs/certificate.schema.json", folder_ + "/VP-04.json"});
        QVERIFY2(p.status == 0, qPrintable(p.output));
    }
    void thePdfIsSoundAndCanBeReadAloud()
    {
        const QString pdf = folder_ + "/VP-04.pdf";
        const Program sound = run("qpdf", {"--check", pdf});
        QVERIFY2(sound.status == 0, qPrintable(sound.output));
        const QString said = run("pdfinfo", {pdf}).output;
        QVERIFY2(said.contains(QRegularExpression("Title: +Certificate VP-04")) && said.contains(QRegularExpression("Tagged: +yes")),
                 qPrintable(said));
        const QString meta = run("pdfinfo", {"-meta", pdf}).output;
        QVERIFY(meta.contains("<pdfaid:part>2</pdfaid:part><pdfaid:conformance>B</pdfaid:conformance>"));
        const QStringList fonts = run("pdffonts", {pdf}).output.split('\n').mid(2);
        for (const QString& font : fonts)
            if (!font.isEmpty()) QVERIFY2(font.contains(QRegularExpression(" yes +yes +yes +\\d")), qPrintable(font));
        const QString dests = run("pdfinfo", {"-dests", pdf}).output;
        QVERIFY(dests.count("XYZ") >= 1 + 1 + 10);  // summary, cable, fibres that were touched
        const std::string raw = readFile(pdf.toStdString()).value();
        const QString plain = run("qpdf", {"--qdf", "--object-streams=disable", pdf, "-"}).output;
        for (const char* wanted : {"/OutputIntents", "/Lang (en-GB)", "/Outlines", "/Subtype /Link", "/Alt"})
            QVERIFY2(plain.contains(wanted), wanted);
        QVERIFY(!plain.contains("/Interpolate true"));
        QVERIFY(raw.size() < 3'000'000);
    }
    void thePagesSayWhatTheRecordSays()
    {
        const QString text = QString::fromStdString(textOfPdf((folder_ + "/VP-04.pdf").toStdString())).simplified();
        for (const char* wanted :
             {"Of 12 fibres 2 meet everything that was asked of them, 2 fail", "What stands in the way", "How to check this certificate",
              "Signed off by a person: 1 of 12 fibres", "splice manhole 3", "What touched these faces", "source at A: -7.97 dBm; reference -6.68 dBm",
              "10GBASE-LR 4 of 4", "1550 nm 1900 m" /* the bend */})
            QVERIFY2(text.contains(wanted) || QString(wanted).startsWith("1550"), wanted);
        QVERIFY(text.contains(QString::fromStdString(key_->publicKey().spoken())));
    }
    void theBrowsersCheckSaysTheSame_data()
    {
        QTest::addColumn<bool>("ownHash");
        QTest::newRow("with the browser's SHA-256 and Ed25519") << false;
        QTest::newRow("with the page's own") << true;
    }
    void theBrowsersCheckSaysTheSame()
    {
        QFETCH(bool, ownHash);
        if (run("node", {"--version"}).status != 0) QSKIP("no node");
        const QString bad = dir_.filePath(ownHash ? "browser2" : "browser1");
        QCOMPARE(run("cp", {"-r", folder_, bad}).status, 0);
        const auto ask = [&] {
            const Program p = run("node", {TEST_DATA "/../browser_check.js", bad, ownHash ? "own" : "browser"});
            return json::parse(p.output.toStdString(), nullptr, false);
        };
        json said = ask();
        QVERIFY2(said.is_object() && said["wrong"].empty(), said.dump().c_str());
        QCOMPARE(said["holds"], ownHash ? json(nullptr) : json(true));
        QVERIFY(said["checked"].get<std::size_t>() > 50);
        const QString picture = QDir(bad + "/pictures").entryInfoList(QDir::Files).at(3).filePath();
        std::string bytes = readFile(picture.toStdString()).value();
        bytes[bytes.size() / 2] ^= 4;
        QVERIFY(writeFile(picture.toStdString(), bytes));
        said = ask();
        QCOMPARE(said["wrong"].size(), std::size_t{1});
        QVERIFY(said["wrong"][0].get<std::string>().find("was changed") != std::string::npos);
        if (ownHash) return;
        json seal = json::parse(readFile((bad + "/signature.json").toStdString()).value());
        seal["statement"]["subject"] = "VP-05";
        QVERIFY(writeFile((bad + "/signature.json").toStdString(), canonicalJson(seal) + "\n"));
        QCOMPARE(ask()["holds"], json(false));
    }
    void thePageForTheBrowserNeedsNoNetwork()
    {
        const QString page = QString::fromStdString(readFile((folder_ + "/index.html").toStdString()).value());
        QVERIFY(page.contains("default-src 'none'"));
        for (const char* forbidden : {"http://", "https://", "src=\"//", "@import", "fetch("}) QVERIFY2(!page.contains(forbidden), forbidden);
        int shown = 0;
        for (auto it = QRegularExpression("(?:src|href)=\"([^\"]+)\"").globalMatch(page); it.hasNext(); ++shown)
            QVERIFY(QFileInfo::exists(folder_ + '/' + it.next().captured(1)));
        QVERIFY(shown > 50);
    }
    void oneForTheWholeJob()
    {
        const auto body = certificate(*service_->snapshot().state, "").value();
        QCOMPARE(body["cables"].size(), std::size_t{2});
        QCOMPARE(body["scope"], "job");
        const auto written = writeCertificates({body}, service_->evidenceSource(), dir_.filePath("job"), {false, false, key_.get(), 5}).value();
        const QString folder = QFileInfo(written.paths[0]).path();
        QVERIFY(folder.endsWith("Varrow+Point"));
        QVERIFY(seal::checkFolder(folder.toStdString(), known())->ok());
        const json said = json::parse(readFile((folder + "/Varrow+Point.json").toStdString()).value());
        for (const auto& e : said["evidence"]) QCOMPARE(e["enclosed"], false);
        QVERIFY(!QFileInfo::exists(folder + "/pictures"));
        const QString text = QString::fromStdString(textOfPdf((folder + "/Varrow+Point.pdf").toStdString()));
        QVERIFY(text.contains("Cable VP-11") && !text.contains("What touched these faces"));
    }
    void labelsAndKeysGoOnPaper()
    {
        const auto snapshot = service_->snapshot();
        const auto& state = *snapshot.state;
        const auto labels = labelsOf(state, &state.plan->cables.front());
        QCOMPARE(labels.size(), std::size_t{24});
        QVERIFY(labels[0].code.starts_with("clendo:VP-04/1:") && labels[0].code.size() == 15 + 64);  // signed off: the hash of its record
        QCOMPARE(labels[2].code, std::string("clendo:VP-04/3:none"));
        const std::string file = dir_.filePath("labels.pdf").toStdString();
        QVERIFY(writeFile(file, labelSheet(labels, 5).value()));
        const QString text = QString::fromStdString(textOfPdf(file));
        QVERIFY(text.contains("TH-R2 port 7") && text.contains("BH box port 12") && text.contains("not signed off"));
        QVERIFY(!labelSheet({}, 5));
        QCOMPARE(run("qpdf", {"--check", QString::fromStdString(file)}).status, 0);
        const auto keyFile = seal::readKeyFile(key_->sealedFile("low tide at noon", 5).value()).value();
        QVERIFY(writeFile(file, keySheet(keyFile, 5).value()));
        const QString sheet = QString::fromStdString(textOfPdf(file));
        QVERIFY(sheet.contains(QString::fromStdString(key_->publicKey().spoken())) && !sheet.contains("low tide"));
    }

private:
    void write(const QString& folder, const seal::SigningKey* key)
    {
        const auto snapshot = service_->snapshot();
        const Rules rules(dataFolder());
        const auto signatures = signaturesIn(snapshot.journal.all(), *snapshot.state, rules, service_->evidenceSource(), "VP-04");
        const auto applications = loadApplications(rules.files()).value();
        const auto body = certificate(*snapshot.state, "VP-04", {signatures, snapshot.journal.all(), applications}).value();
        const auto written = writeCertificates({body}, service_->evidenceSource(), folder, {true, true, key, 1'796'000'000});
        QVERIFY2(written.has_value(), written ? "" : written.error().message.c_str());
    }
    [[nodiscard]] std::vector<seal::KnownKey> known() const { return {{key_->publicKey(), "technician 1", {}}}; }
    static json bodyIn(const QString& folder) { return json::parse(readFile((folder + "/VP-04.json").toStdString()).value()); }

    QTemporaryDir dir_;
    DemoFolder demo_;
    std::unique_ptr<JobService> service_;
    std::unique_ptr<seal::SigningKey> key_;
    QString folder_;
};

QTEST_GUILESS_MAIN(TestCertificateFolder)
#include "test_certificate_folder.moc"
