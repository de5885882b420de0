#include <QDir>
#include <QImage>
#include <QProcess>
#include <QTemporaryDir>
#include <QtTest>
#include <nlohmann/json.hpp>

#include "files/files.h"
#include "files/plain_name.h"
#include "record/journal/time_text.h"
#include "record/output/certificate.h"
#include "record/output/certificate_csv.h"
#include "report/certificate/cord.h"
#include "report/certificate/delivery.h"
#include "seal/check_folder.h"
#include "varrow_journal.h"

using namespace clendo;

namespace {

JobState stateWith(const std::string& job, int fibres, bool lookedAt)
{
    Journal j;
    JobSettings set;
    set.name = job;
    j.set(set);
    CablePlan c = varrowCable(fibres);
    c.panelA = c.placeA;
    j.add(CablePlanned{c});
    if (lookedAt)
        for (int n = 1; n <= fibres; ++n)
            for (const End end : {End::A, End::B}) j.add(FaceSeen{{"VP-04/" + std::to_string(n), end, Side::Port}, "gone", "lost.png", {}, {}});
    return j.state();
}

Result<std::string> nothing(const std::string&) { return failure(Error::Code::JobDamaged, "A picture or trace is missing from the job file."); }

/// The written file that ends so.
QString ending(const PlacedFiles& files, const char* with)
{
    for (const auto& path : files.paths)
        if (path.endsWith(QLatin1String(with)) && !path.endsWith(QLatin1String("signature.json"))) return path;
    return {};
}

QString textOf(const PlacedFiles& files)
{
    const QString pdf = ending(files, ".pdf");
    QProcess p;
    p.start(PDFTOTEXT, {"-layout", pdf, "-"});
    p.waitForFinished();
    return QString::fromUtf8(p.readAllStandardOutput());
}

}  // namespace

class TestReport : public QObject {
    Q_OBJECT
private slots:
    void anEmptyLinkIsCertifiedAsIncomplete()
    {
        QTemporaryDir dir;
        const auto c = certificate(stateWith("Varrow Point", 2, false), "VP-04").value();
        const auto files = writeCertificates({c}, nothing, dir.filePath("out"));
        QVERIFY(files);
        QCOMPARE(files->paths.size(), 5);  // PDF, JSON, CSV, the page, the signature
        const QString text = textOf(*files);
        QVERIFY(text.contains("incomplete"));
        QVERIFY(text.contains("Certificate VP-04"));
        QCOMPARE(QDir(dir.filePath("out")).entryList(QDir::AllEntries | QDir::Hidden | QDir::NoDotAndDotDot), QStringList{"VP-04"});
    }
    void missingEvidenceDoesNotStopIt()
    {
        QTemporaryDir dir;
        const auto c = certificate(stateWith("Varrow Point", 1, true), "VP-04/1").value();
        const auto files = writeCertificates({c}, nothing, dir.path());
        QVERIFY(files);
        QVERIFY(textOf(*files).contains("Tide Hall port 1"));
        QVERIFY(textOf(*files).contains("Not tested"));
    }
    void manyFibresTakeManyPages()
    {
        QTemporaryDir dir;
        const auto files = writeCertificates({certificate(stateWith("Varrow Point", 144, true), "VP-04").value()}, nothing, dir.path());
        QVERIFY(files);
        const QString text = textOf(*files);
        for (const char* wanted : {"Fibre 1,", "VP-04/144", "page 1", "Fibre 144, aqua, tube 12 aqua"}) QVERIFY2(text.contains(wanted), wanted);
    }
    void otherLimitsStandBesideTheVerdict()
    {
        QTemporaryDir dir;
        const auto text = readFile(dataFolder() / "limits/generic-sm.json").value();
        auto strict = nlohmann::json::parse(text);
        strict["name"] = strict["title"] = "the client's own";
        strict["total_db"] = 0.5;
        const std::string own = dir.filePath("client.json").toStdString();
        QVERIFY(writeFile(own, strict.dump()));
        Journal j;
        JobSettings set = j.state().plan->job;
        set.alsoLimits = {own, "iso-link-sm"};
        j.set(set).light(-7, -8.5);
        const auto c = certificate(j.state(), "VP-04/1").value();
        const auto& others = c["cables"][0]["links"][0]["other_limits"];
        QCOMPARE(others.size(), std::size_t{2});
        QCOMPARE(others[0]["results"][0]["verdict"], "fail");
        QVERIFY(std::abs(others[0]["results"][0]["limit_db"].get<double>() - 0.5) < 1e-9);
        QVERIFY(c["cables"][0]["links"][0]["loss"]["verdict"] != "fail");  // the job's own limits give the verdict
        const auto ofFibre = writeCertificates({c}, nothing, dir.filePath("out"), {true, false, nullptr, 5});
        QVERIFY(ofFibre);
        QVERIFY2(textOf(*ofFibre).contains("Against the client's own"), qPrintable(textOf(*ofFibre)));
        const auto ofCable = writeCertificates({certificate(j.state(), "VP-04").value()}, nothing, dir.filePath("out"));
        QVERIFY(ofCable);
        const QString printed = textOf(*ofCable);
        QVERIFY(printed.contains("Their loss against other limits") && printed.contains("fail: 1"));
    }
    void aJobAndACableOfOneNameAreToldApart()
    {
        const JobState state = stateWith("VP-04", 2, false);
        QCOMPARE(certificate(state, "").value()["subject"], "job VP-04");
        QCOMPARE(certificate(state, "VP-04").value()["subject"], "VP-04");
        QCOMPARE(certificate(stateWith("Varrow Point", 2, false), "").value()["subject"], "Varrow Point");
    }
    void aCordHasItsCertificate()
    {
        QTemporaryDir dir;
        QImage picture(40, 30, QImage::Format_Grayscale8);
        picture.fill(120);
        QVERIFY(picture.save(dir.filePath("1.png")));
        nlohmann::json cord{{"cord", "VP/P-017"},
                            {"verdict", "fail"},
                            {"written_at", 1794902400},
                            {"criteria", {{"name", "IEC"}, {"class", "sm-upc"}, {"version", "1"}, {"checked", false}}},
                            {"cleaner", {{"checked_at", 1794902400}, {"good", {"stands firm"}}, {"open", {"solvent filled"}}}},
                            {"loss",
                             {{{"end", "A"},
                               {"wavelength_nm", 1310},
                               {"loss_db", 0.214},
                               {"limit_db", 0.75},
                               {"uncertainty_db", 0.13},
                               {"reference", "single-ended"},
                               {"verdict", "pass"}}}},
                            {"pictures", nlohmann::json::array()}};
        for (int n = 1; n <= 9; ++n)
            cord["pictures"].push_back({{"image", dir.filePath(QString::number(n) + ".png").toStdString()},
                                        {"end", n % 2 ? "A" : "B"},
                                        {"outcome", n == 9 ? "cannot be read" : "fail"},
                                        {"faces", nlohmann::json::array()}});
        cord["pictures"][8]["error"] = {{"code", "not_a_picture"}, {"message", "It is no picture."}};
        cord["pictures"][0]["faces"].push_back(
            {{"reasons", nlohmann::json::array()},
             {"rules", {{{"zone", "B"}, {"kind", "defect"}, {"counted", 2}, {"allowed", "none"}, {"met", false}}}}});
        const auto files = writeCord(cord, "file,cord\r\n", dir.filePath("certificates"));
        QVERIFY(files && files->paths.size() == 4);
        QVERIFY(files->paths[0].endsWith("/certificates/VP_P-017/VP_P-017.pdf"));
        const QString text = textOf(*files);
        for (const char* wanted : {"Cord VP/P-017", "fail", "open was solvent filled", "zone B, defect: 2 counted, none allowed", "End B",
                                   "It is no picture.", "connector A, 1310 nm: 0.21 dB; limit 0.75 dB", "not yet compared", "page 2", "2026-11-17"})
            QVERIFY2(text.contains(wanted), wanted);
        QVERIFY(!writeCord(cord, {}, "/proc/no/such"));
    }
    void strangeNamesStayInsideTheFolder()
    {
        QTemporaryDir dir;
        auto c = certificate(stateWith("../../etc \"x\" <b>", 1, false), "VP-04/1").value();
        const auto files = writeCertificates({c}, nothing, dir.filePath("out"));
        QVERIFY(files);
        for (const auto& file : files->paths) QCOMPARE(QFileInfo(file).canonicalPath(), QFileInfo(dir.filePath("out/VP-04_1")).canonicalFilePath());
        QCOMPARE(QFileInfo(ending(*files, ".pdf")).fileName(), QStringLiteral("VP-04_1.pdf"));
    }
    void hostileNamesAreOnlyNames_data()
    {
        QTest::addColumn<QByteArray>("name");
        QTest::newRow("slashes and quotes") << QByteArray("../../etc/\"x'");
        QTest::newRow("a formula") << QByteArray("=cmd|' /C calc'!A0");
        QTest::newRow("right to left") << QByteArray("\xD7\x9E\xD7\x92\xD7\x93\xD7\x9C\xD7\x95\xD7\xA8 7");
        QTest::newRow("300 letters") << QByteArray(300, 'w');
        QTest::newRow("markup") << QByteArray("<script>alert(1)</script><b>&amp;");
        QTest::newRow("no UTF-8") << QByteArray("\xFF\xFE\x80 x");
        QTest::newRow("lines and bells") << QByteArray("a\nb\tc\x07");
    }
    void hostileNamesAreOnlyNames()
    {
        QFETCH(QByteArray, name);
        const QTemporaryDir dir;
        Journal j;
        CablePlan c = varrowCable(1);
        c.placeA = c.panelA = c.endA.rack = name.toStdString();
        j.add(CablePlanned{c});
        j.who = name.toStdString();
        j.add(FaceSeen{{"VP-04/1", End::A, Side::Port}, std::string(64, 'a'), name.toStdString(), {}, {}}).sign("VP-04/1", name.toStdString());
        const auto key = seal::SigningKey::make(name.toStdString());
        const auto body = certificate(j.state(), "VP-04").value();
        const auto files = writeCertificates({body}, nothing, dir.path(), {true, true, &key, 5});
        QVERIFY2(files.has_value(), files ? "" : files.error().message.c_str());
        const auto check = seal::checkFolder(dir.filePath("VP-04").toStdString(), {});
        QVERIFY2(check && check->ok(), check ? check->sentence().c_str() : "");
        const QString page = QString::fromStdString(readFile(ending(*files, "index.html").toStdString()).value());
        QCOMPARE(page.count("<script>"), 1);  // the page's own
        QVERIFY(textOf(*files).contains("Certificate VP-04"));
        QProcess sound;
        sound.start("qpdf", {"--check", ending(*files, ".pdf")});
        QVERIFY(sound.waitForFinished() && sound.exitCode() == 0);
        for (const QString& line : QString::fromStdString(readFile(ending(*files, ".csv").toStdString()).value()).split("\r\n"))
            for (const QString& cell : line.split(',')) QVERIFY2(!cell.startsWith('='), qPrintable(line));
    }
    void noTwoSubjectsShareAName()
    {
        std::set<QString> names;
        for (const char* subject : {"VP-04/1", "VP-04-1", "VP-04_1", "VP_04/1", "VP 04/1", "VP.04/1", "../VP", "Größe", "=5F", "_", "/"}) {
            const QString name = QString::fromStdString(plainName(subject));
            QVERIFY2(names.insert(name).second, subject);
            for (const QChar c : name) QVERIFY(c.unicode() < 128 && (c.isLetterOrNumber() || QString("-_=+").contains(c)));
        }
    }
    void aCertificateIsReplacedWholeAndOthersFilesStay()
    {
        QTemporaryDir dir;
        const QString out = dir.filePath("out");
        const auto with = [](const char* job) { return certificate(stateWith(job, 1, true), "VP-04/1").value(); };
        const auto first = writeCertificates({with("job alpha")}, nothing, out).value();
        QFile note(out + "/VP-04_1/note of the client.txt");
        QVERIFY(note.open(QIODevice::WriteOnly));
        note.close();
        QVERIFY(writeCertificates({with("job beta")}, nothing, out));
        QVERIFY(readFile(ending(first, ".json").toStdString()).value().find("alpha") == std::string::npos);
        QVERIFY(textOf(first).contains("beta") && note.exists());
        // one of two cannot take its place: a file lies where the folder should be. It stays, and so does the other certificate.
        QVERIFY(writeFile((out + "/VP-04").toStdString(), "mine"));
        QVERIFY(!writeCertificates({with("job gamma"), certificate(stateWith("x", 1, false), "VP-04").value()}, nothing, out));
        QVERIFY(readFile(ending(first, ".json").toStdString()).value().find("beta") != std::string::npos);
        QCOMPARE(readFile((out + "/VP-04").toStdString()).value(), std::string("mine"));
        QVERIFY(!QDir(out).entryList(QDir::AllEntries | QDir::Hidden | QDir::NoDotAndDotDot).join(' ').contains(".clendo-new"));
    }
    void aFileOfSomebodysThatIsInTheWayIsKept()
    {
        QTemporaryDir dir;
        // as an earlier version left it, with a page of the client's own beside it
        QVERIFY(QDir().mkpath(dir.filePath("VP-04_1")));
        QVERIFY(writeFile(dir.filePath("VP-04_1/VP-04_1.json").toStdString(), R"({"format":"clendo-certificate","subject":"VP-04/1"})"));
        QVERIFY(writeFile(dir.filePath("VP-04_1/index.html").toStdString(), "mine"));
        const auto body = certificate(stateWith("Varrow Point", 1, false), "VP-04/1").value();
        QVERIFY(writeCertificates({body}, nothing, dir.path()));
        QVERIFY(readFile(dir.filePath("VP-04_1/index.html").toStdString()).value() != "mine");
        const QStringList others = QDir(dir.path()).entryList({"VP-04_1=others-*"}, QDir::Dirs);
        QCOMPARE(others.size(), 1);
        QCOMPARE(readFile(dir.filePath(others[0] + "/index.html").toStdString()).value(), std::string("mine"));
        QVERIFY(!QFileInfo::exists(dir.filePath(others[0] + "/VP-04_1.json")));
    }
    void aRecordThatIsNotWholeSaysSo()
    {
        QTemporaryDir dir;
        Journal j;
        j.add(LossesNoted{"torn.clendo", {{"d1", 3, 9}}, {"aa"}, false});
        const auto body = certificate(j.state(), "VP-04").value();
        QCOMPARE(body["losses"].size(), std::size_t{1});
        const auto files = writeCertificates({body}, nothing, dir.path()).value();
        QVERIFY(textOf(files).simplified().contains(
            "This record is not whole. Saved from the damaged file “torn.clendo”: 7 entries and 1 pictures or traces were lost"));
    }
    void whatIsStoppedWritesNothing()
    {
        const QTemporaryDir dir;
        const auto whole = certificate(stateWith("Varrow Point", 3, true), "VP-04").value();
        int asked = 0, all = 0;
        const auto stopsAtTheThird = [&](int done, int of) {
            all = of;
            return done == asked++ && done < 2;
        };
        const auto files = writeCertificates({whole, whole}, nothing, dir.path(), {true, true, nullptr, 0, stopsAtTheThird});
        QVERIFY(!files && files.error().code == Error::Code::ExportFailed);
        QVERIFY(files.error().message.starts_with("Stopped"));
        QCOMPARE(asked, 3);
        QCOMPARE(all, 6);
        QVERIFY(QDir(dir.path()).isEmpty());
    }
    void aPlaceThatCannotBeWrittenIsSaid()
    {
        const auto c = certificate(stateWith("Varrow Point", 1, false), "VP-04/1").value();
        const auto files = writeCertificates({c}, nothing, "/proc/no/such");
        QVERIFY(!files);
        QVERIFY(files.error().code == Error::Code::ExportFailed);
        QVERIFY(files.error().message.size() > 30);
    }
    void csvQuotesWhatNeedsIt()
    {
        auto c = certificate(stateWith("Varrow Point", 1, false), "VP-04").value();
        c["cables"][0]["links"][0]["signed_by"] = "Smith, \"the splicer\"";
        QVERIFY(certificateCsv(c).find("\"Smith, \"\"the splicer\"\"\"") != std::string::npos);
    }
    void timesAreReadableAndNeverAbsurd()
    {
        QCOMPARE(timeText(1794902400), std::string("2026-11-17 08:00 UTC"));
        QCOMPARE(timeText(-5), std::string("1970-01-01 00:00 UTC"));
        QCOMPARE(timeText(std::numeric_limits<std::int64_t>::max()), std::string("9999-12-31 23:59 UTC"));
    }
};
QTEST_MAIN(TestReport)
#include "test_report.moc"
