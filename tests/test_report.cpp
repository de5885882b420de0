#include <QDir>
#include <QProcess>
#include <QTemporaryDir>
#include <QtTest>

#include "record/certificate.h"
#include "report/certificate_pdf.h"
#include "varrow_journal.h"

using namespace clendo;

namespace {

JobState stateWith(const std::string& job, int fibres, bool lookedAt)
{
    std::vector<Entry> entries;
    const auto add = [&](Fact f) { entries.push_back({std::int64_t(entries.size()) + 1, 1794902400, "technician 1", std::move(f)}); };
    JobSet set;
    set.name = job;
    add(set);
    CablePlan c = varrowCable(fibres);
    c.panelA = c.placeA;
    add(CablePlanned{c});
    if (lookedAt)
        for (int n = 1; n <= fibres; ++n)
            for (const End end : {End::A, End::B}) add(FaceSeen{{"VP-04/" + std::to_string(n), end, Side::Port}, "gone", "lost.png", {}});
    return fold(entries, Rules(dataFolder()));
}

Result<std::string> nothing(const std::string&) { return failure(Error::Code::JobDamaged, "A picture or trace is missing from the job file."); }

QString textOf(const QString& pdf)
{
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
        const auto files = writeCertificate(c, nothing, dir.filePath("out"));
        QVERIFY(files);
        QCOMPARE(files->size(), 3);
        const QString text = textOf(files->at(0));
        QVERIFY(text.contains("incomplete"));
        QVERIFY(text.contains("Certificate VP-04"));
        QVERIFY(!QDir(dir.filePath("out")).entryList().join(' ').contains(".part"));
    }
    void missingEvidenceDoesNotStopIt()
    {
        QTemporaryDir dir;
        const auto c = certificate(stateWith("Varrow Point", 1, true), "VP-04/1").value();
        const auto files = writeCertificate(c, nothing, dir.path());
        QVERIFY(files);
        QVERIFY(textOf(files->at(0)).contains("Tide Hall port 1"));
        QVERIFY(textOf(files->at(0)).contains("Not tested"));
    }
    void manyFibresTakeManyPages()
    {
        QTemporaryDir dir;
        const auto files = writeCertificate(certificate(stateWith("Varrow Point", 144, true), "VP-04").value(), nothing, dir.path());
        QVERIFY(files);
        const QString text = textOf(files->at(0));
        for (const char* wanted : {"VP-04/1 ", "VP-04/144", "page 1", "Fibre 144, aqua, tube 12 aqua"}) QVERIFY2(text.contains(wanted), wanted);
    }
    void strangeNamesStayInsideTheFolder()
    {
        QTemporaryDir dir;
        auto c = certificate(stateWith("../../etc \"x\" <b>", 1, false), "VP-04/1").value();
        const auto files = writeCertificate(c, nothing, dir.filePath("out"));
        QVERIFY(files);
        for (const auto& file : *files) QVERIFY(QFileInfo(file).absolutePath() == QFileInfo(dir.filePath("out")).absoluteFilePath());
        QCOMPARE(QFileInfo(files->at(0)).fileName(), QStringLiteral("certificate-VP-04-1.pdf"));
    }
    void aPlaceThatCannotBeWrittenIsSaid()
    {
        const auto c = certificate(stateWith("Varrow Point", 1, false), "VP-04/1").value();
        const auto files = writeCertificate(c, nothing, "/proc/no/such");
        QVERIFY(!files);
        QVERIFY(files.error().code == Error::Code::ExportFailed);
        QVERIFY(files.error().message.size() > 30);
    }
    void csvQuotesWhatNeedsIt()
    {
        auto c = certificate(stateWith("Varrow Point", 1, false), "VP-04").value();
        c["links"][0]["signed_by"] = "Smith, \"the splicer\"";
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
