#include <QImage>
#include <QSignalSpy>
#include <QTemporaryDir>
#include <QtTest>
#include <nlohmann/json.hpp>
#include <random>

#include "batch/batch_judge.h"
#include "batch/cord_certificate.h"
#include "batch/cord_line.h"
#include "files/files.h"
#include "pictures/decode.h"
#include "record/advice/batch_advice.h"
#include "varrow_journal.h"

using namespace clendo;

namespace {

const Criteria& criteria()
{
    static const Criteria p = loadCriteria("2015", dataFolder()).value();
    return p;
}
const FaceClass& faceClass()
{
    static const FaceClass c = criteria().find("sm-upc").value();
    return c;
}

SheetRow rowOf(const std::string& file, const std::vector<Finding>& findings)
{
    SheetRow row{file, cordOfFile(file), {}, {JudgedFace{}}};
    row.faces[0].measured.claddingDiameter = Pixel(300);
    row.faces[0].measured.findings = findings;
    row.faces[0].judged = face::judgeLook(row.faces[0].measured, faceClass(), criteria());
    return row;
}
SheetRow fit(const std::string& file) { return rowOf(file, {}); }
SheetRow dirty(const std::string& file, int specks = 1)
{
    std::vector<Finding> findings;
    for (int i = 0; i < specks; ++i) findings.push_back(dirt(20 + 3 * i, 7, i + 1));
    return rowOf(file, findings);
}
SheetRow blurred(const std::string& file)
{
    SheetRow row{file, cordOfFile(file), {}, {JudgedFace{}}};
    row.faces[0].measured.retake.push_back(face::RetakeReason::OutOfFocus);
    row.faces[0].judged = face::judgeLook(row.faces[0].measured, faceClass(), criteria());
    return row;
}
SheetRow broken(const std::string& file)
{
    return {file, cordOfFile(file), Error{Error::Code::NotAPicture, "“x” is not a picture, \"really\".", {}}, {}};
}

/// Stands in for measuring: a bright picture is clean, a grey one dirty.
std::shared_ptr<const BatchRules> quickRules()
{
    return std::make_shared<const BatchRules>(BatchRules{criteria(), faceClass(), [](const face::Picture& p) {
                                                             face::FaceMeasurement m;
                                                             m.claddingDiameter = Pixel(300);
                                                             if (p.pixels.front() < 128) m.findings = {dirt(20)};
                                                             return std::vector{m};
                                                         }});
}

void savePicture(const QString& path, std::uint8_t grey)
{
    QVERIFY(writeFile(path.toStdString(), encodePng({32, 24, std::vector<std::uint8_t>(768, grey)})));
}

}  // namespace

/// Many pictures at once: order, counts, export, cancel, hostile folders.
class TestBatch : public QObject {
    Q_OBJECT
private slots:
    void whatFailsIsARowAndEndsNothing()
    {
        QTemporaryDir dir;
        savePicture(dir.filePath("a.png"), 200);
        savePicture(dir.filePath("b.png"), 10);
        savePicture(dir.filePath("c.png"), 200);
        auto rules = std::make_shared<BatchRules>(*quickRules());
        rules->measure = [quick = rules->measure](const face::Picture& p) {
            if (p.pixels.front() < 128) throw std::bad_alloc();
            return quick(p);
        };
        BatchJudge judge;
        QSignalSpy finished(&judge, &BatchJudge::finished);
        std::vector<SheetRow> rows;
        connect(&judge, &BatchJudge::judged, this, [&](const auto& some) { rows.insert(rows.end(), some.begin(), some.end()); });
        judge.judge(picturesIn(dir.path()), rules);
        QVERIFY(finished.wait(10000));
        QCOMPARE(rows.size(), std::size_t{3});
        std::sort(rows.begin(), rows.end(), [](const SheetRow& a, const SheetRow& b) { return a.file < b.file; });  // they come as they are done
        QVERIFY(!rows[0].error && !rows[2].error);
        QVERIFY(rows[1].error && rows[1].error->code == Error::Code::OutOfMemory);
        QVERIFY(rows[1].file.ends_with("b.png"));
    }
    void labelsCountOn_data()
    {
        QTest::addColumn<QString>("label");
        QTest::addColumn<QString>("next");
        QTest::newRow("plain") << "cord 1"
                               << "cord 2";
        QTest::newRow("keeps its width") << "VP-P-009"
                                         << "VP-P-010";
        QTest::newRow("grows") << "99"
                               << "100";
        QTest::newRow("no number") << "blue"
                                   << "blue 2";
        QTest::newRow("longer than any integer") << "A99999999999999999999"
                                                 << "A100000000000000000000";
        QTest::newRow("number in the middle") << "12-a"
                                              << "12-a 2";
    }
    void labelsCountOn()
    {
        QFETCH(QString, label);
        QFETCH(QString, next);
        QCOMPARE(QString::fromStdString(nextLabel(label.toStdString())), next);
    }
    void cordsAreReadEndByEnd()
    {
        const auto words = [](const std::vector<CordEnd>& cords) {
            QStringList out;
            for (const auto& c : cords) out << QString::fromStdString(cordWords(c.cord, c.end));
            return out.join(", ");
        };
        QCOMPARE(words(cordsFrom({"P-9", "A"}, 2)), QString("P-9 end A, P-9 end B, P-10 end A, P-10 end B"));
        QCOMPARE(words(cordsFrom({"P-9", "B"}, 2)), QString("P-9 end B, P-10 end A, P-10 end B"));  // the first was turned round already
        QCOMPARE(words(cordsFrom({"P-9", ""}, 3)), QString("P-9, P-10, P-11"));
        QVERIFY(cordsFrom({"P-9", "A"}, 0).empty());
    }
    void aCordIsInHandUntilItsEndsAreFit()
    {
        CordLine line("P-9");
        line.judged(false);
        QCOMPARE(line.inHand(), std::string("P-9"));
        line.judged(true);
        QCOMPARE(line.inHand(), std::string("P-10"));
        line.setBothEnds(true);
        QCOMPARE(line.inHand(), std::string("P-10 end A"));
        line.judged(true);
        line.judged(false);
        QCOMPARE(line.inHand(), std::string("P-10 end B"));
        line.judged(true);
        QCOMPARE(line.inHand(), std::string("P-11 end A"));
        line.judged(true);
        line.giveUp();
        QCOMPARE(line.inHand(), std::string("P-12 end A"));
        line.relabel("X");
        QCOMPARE(line.inHand(), std::string("X end A"));
        QCOMPARE(line.label() + line.end(), std::string("XA"));
    }
    void theWorstStandFirst()
    {
        std::vector rows{fit("a.png"), dirty("b.png"), broken("c.png"), blurred("d.png"), dirty("e.png", 4), fit("f.png")};
        sortWorstFirst(rows);
        QStringList order;
        for (const auto& row : rows) order << QString::fromStdString(row.file);
        QCOMPARE(order.join(""), QString("e.pngb.pngd.pngc.pnga.pngf.png"));
    }
    void ofSeveralFibresTheWorstCounts()
    {
        SheetRow row = fit("row.png");
        row.faces.push_back(dirty("row.png").faces[0]);
        row.faces[1].measured.fibre = 2;
        QCOMPARE(outcomeOf(row), SheetOutcome::NotFit);
        QVERIFY(whyOf(row, faceClass()).starts_with("fibre 2: "));
    }
    void cordsAreKnownByTheirNames_data()
    {
        QTest::addColumn<QString>("file");
        QTest::addColumn<QString>("cord");
        QTest::newRow("first look") << "/x/cord-012.png"
                                    << "cord-012";
        QTest::newRow("second look") << "/x/cord-012-try2.png"
                                     << "cord-012";
        QTest::newRow("eleventh") << "cord-012-try11.jpg"
                                  << "cord-012";
        QTest::newRow("no number") << "cord-try.png"
                                   << "cord-try";
        QTest::newRow("other words") << "cord-tryout.png"
                                     << "cord-tryout";
        QTest::newRow("nothing before") << "-try2.png"
                                        << "-try2";
    }
    void cordsAreKnownByTheirNames()
    {
        QFETCH(QString, file);
        QFETCH(QString, cord);
        QCOMPARE(QString::fromStdString(cordOfFile(file.toStdString())), cord);
    }
    void firstTimeRightCountsCordsNotPictures()
    {
        // c1 right at once; c2 after cleaning; c3 never; c4 has only a blurred picture; c5 was blurred first, then right
        const std::vector rows{fit("c1.png"),     dirty("c2.png"),   fit("c2-try2.png"), dirty("c3.png"), dirty("c3-try2.png"),
                               blurred("c4.png"), blurred("c5.png"), fit("c5-try2.png"), broken("c6.png")};
        const auto t = tallyOf(rows);
        QCOMPARE(t.pictures, 9);
        QCOMPARE(t.fit, 3);
        QCOMPARE(t.notFit, 3);
        QCOMPARE(t.retake, 2);
        QCOMPARE(t.broken, 1);
        QCOMPARE(t.cords, 4);
        QCOMPARE(t.cordsFit, 3);
        QCOMPARE(t.firstTimeRight, 2);
    }
    void theOrderInWhichPicturesAreJudgedChangesNothing()
    {
        std::vector rows{dirty("c1.png"), fit("c1-try2.png"), fit("c2.png"), dirty("c3-try2.png"), fit("c3-try10.png"), dirty("c3.png")};
        std::mt19937 chance(5);
        for (int n = 0; n < 50; ++n) {
            const auto t = tallyOf(rows);
            QCOMPARE(t.cordsFit, 3);
            QCOMPARE(t.firstTimeRight, 1);  // only c2
            std::shuffle(rows.begin(), rows.end(), chance);
        }
        sortWorstFirst(rows);  // as the export has them
        QCOMPARE(tallyOf(rows).firstTimeRight, 1);
    }
    void bothEndsAreOneCord()
    {
        const auto look = [](SheetRow row, const char* cord, const char* end) {
            row.cord = cord;
            row.end = end;
            return row;
        };
        // c1 right at once at both ends, c2 only at end A, c3 never at end B
        const std::vector rows{look(fit("1"), "c1", "A"), look(fit("2"), "c1", "B"),   look(fit("3"), "c2", "A"), look(dirty("4"), "c2", "B"),
                               look(fit("5"), "c2", "B"), look(dirty("6"), "c3", "A"), look(fit("7"), "c3", "A"), look(dirty("8"), "c3", "B")};
        const auto t = tallyOf(rows);
        QCOMPARE(t.cords, 3);
        QCOMPARE(t.cordsFit, 2);
        QCOMPARE(t.firstTimeRight, 1);
        QCOMPARE(rows[3].called(), std::string("c2 end B"));
        QVERIFY(QString::fromStdString(sheetCsv(rows, faceClass())).contains("c2,B,1,fail"));
    }
    void aCordsCertificateSaysWhatItsEndsAreNow()
    {
        auto a = dirty("1"), again = fit("2"), b = dirty("3"), dim = blurred("4");
        a.cord = again.cord = b.cord = dim.cord = "VP-P-017";
        a.end = again.end = "A";
        b.end = dim.end = "B";
        const auto json =
            cordCertificate("VP-P-017", std::vector{a, again, b, dim}, faceClass(), criteria(), {5, {"stands firm"}, {"solvent filled"}}, {}, 7);
        QCOMPARE(json["verdict"].get<std::string>(), std::string("fail"));
        QCOMPARE(json["ends"].size(), std::size_t(2));
        QCOMPARE(json["ends"][0]["outcome"].get<std::string>(), std::string("pass"));
        QCOMPARE(json["ends"][1]["end"].get<std::string>(), std::string("B"));
        QCOMPARE(json["cleaner"]["open"][0].get<std::string>(), std::string("solvent filled"));
        QCOMPARE(json["pictures"].size(), std::size_t(4));
        const auto one = cordCertificate("X", std::vector{a, again}, faceClass(), criteria(), {}, {}, 7);
        QCOMPARE(one["verdict"].get<std::string>(), std::string("pass"));
        QVERIFY(one["cleaner"].is_null());
        // a loss that was measured has its say
        for (const char* verdict : {"pass", "near limit", "not valid", "fail"}) {
            const std::vector losses{CordLossRow{"A", Nanometre(1310), Decibel(0.2), Decibel(0.75), Decibel(0.1), "pass", "single-ended"},
                                     CordLossRow{"B", Nanometre(1310), std::nullopt, Decibel(0.75), Decibel(0.1), verdict, "single-ended"}};
            const auto measured = cordCertificate("X", std::vector{a, again}, faceClass(), criteria(), {}, losses, 7);
            QCOMPARE(measured["verdict"].get<std::string>(), std::string(verdict));
            QCOMPARE(measured["loss"][0]["loss_db"].get<double>(), 0.2);
            QVERIFY(measured["loss"][1]["loss_db"].is_null());
        }
        QCOMPARE(cordCertificate("X", {}, faceClass(), criteria(), {}, {}, 7)["verdict"].get<std::string>(), std::string("not seen"));
    }
    void theExportCanBeReadAndCannotBite()
    {
        const std::vector rows{dirty("=cmd|'x'!A1.png"), broken("with, comma.png")};
        const QString csv = QString::fromStdString(sheetCsv(rows, faceClass()));
        const QStringList lines = csv.split("\r\n", Qt::SkipEmptyParts);
        QCOMPARE(lines.size(), 3);
        QVERIFY(lines[1].startsWith("'=cmd"));
        QVERIFY(lines[1].contains(",fail,particle of 7.0 µm in zone B,1,7.0,"));
        QVERIFY(lines[2].startsWith("\"with, comma.png\",\"with, comma\",,,cannot be read,\"“x” is not a picture, \"\"really\"\".\""));
        const auto json = sheetJson(rows, faceClass(), criteria());
        QCOMPARE(json["tally"]["not_fit"].get<int>(), 1);
        QCOMPARE(json["pictures"][1]["error"]["code"].get<std::string>(), std::string(codeName(Error::Code::NotAPicture)));
        QCOMPARE(json["pictures"][0]["faces"][0]["findings"].size(), std::size_t(1));
        QCOMPARE(json["criteria"]["sha256"].get<std::string>(), criteria().hash);
    }

    void aFolderIsJudgedWithItsBrokenFiles()
    {
        QTemporaryDir dir;
        QVERIFY(QDir(dir.path()).mkdir("more"));
        savePicture(dir.filePath("a.png"), 250);
        savePicture(dir.filePath("more/b.png"), 50);
        QVERIFY(writeFile(dir.filePath("c.png").toStdString(), "no picture at all"));
        QVERIFY(writeFile(dir.filePath("d.jpg").toStdString(), ""));
        QVERIFY(writeFile(dir.filePath("notes.txt").toStdString(), "not asked for"));
        BatchJudge judge;
        std::vector<SheetRow> rows;
        connect(&judge, &BatchJudge::judged, this, [&](const std::vector<SheetRow>& more) { rows.insert(rows.end(), more.begin(), more.end()); });
        QSignalSpy finished(&judge, &BatchJudge::finished);
        judge.judge(picturesIn(dir.path()), quickRules());
        QTRY_COMPARE(finished.size(), 1);
        QCOMPARE(finished[0][0].toBool(), false);
        const auto t = tallyOf(rows);
        QCOMPARE(t.pictures, 4);
        QCOMPARE(t.fit, 1);
        QCOMPARE(t.notFit, 1);
        QCOMPARE(t.broken, 2);
        QCOMPARE(judge.waiting(), 0);
    }
    void tenThousandFilesCanBeStopped()
    {
        QTemporaryDir dir;
        savePicture(dir.filePath("a.png"), 250);
        QStringList files;
        for (int i = 0; i < 10000; ++i) files << (i % 7 == 0 ? dir.filePath("gone.png") : dir.filePath("a.png"));
        BatchJudge judge;
        std::size_t rows = 0;
        connect(&judge, &BatchJudge::judged, this, [&](const std::vector<SheetRow>& more) {
            rows += more.size();
            if (rows > 200 && judge.waiting() > 0) judge.cancel();
        });
        QSignalSpy finished(&judge, &BatchJudge::finished);
        judge.judge(files, quickRules());
        QTRY_COMPARE_WITH_TIMEOUT(finished.size(), 1, 60000);
        QVERIFY(finished[0][0].toBool());
        QVERIFY2(rows > 200 && rows < 10000, qPrintable(QString::number(rows)));
        QCOMPARE(judge.waiting(), 0);
    }
    void filesCanBeAddedWhileOthersAreJudged()
    {
        QTemporaryDir dir;
        savePicture(dir.filePath("a.png"), 250);
        BatchJudge judge;
        QSignalSpy judged(&judge, &BatchJudge::judged), finished(&judge, &BatchJudge::finished);
        judge.judge(QStringList(20, dir.filePath("a.png")), quickRules());
        judge.judge({dir.filePath("a.png")}, quickRules());
        QCOMPARE(judge.asked(), 21);
        QTRY_COMPARE(finished.size(), 1);
    }
    void aFolderClaimsOnlyWhatWasSeen_data()
    {
        QTest::addColumn<int>("fits");
        QTest::addColumn<int>("dirties");
        QTest::addColumn<int>("others");
        QTest::addColumn<int>("tone");
        QTest::addColumn<bool>("all");
        QTest::newRow("all pass") << 3 << 0 << 0 << int(Tone::Fit) << true;
        QTest::newRow("one fails") << 3 << 1 << 0 << int(Tone::Work) << false;
        QTest::newRow("one must be taken again") << 3 << 0 << 1 << int(Tone::Fit) << false;
        QTest::newRow("nothing says anything") << 0 << 0 << 2 << int(Tone::Neutral) << false;
    }
    void aFolderClaimsOnlyWhatWasSeen()
    {
        QFETCH(const int, fits);
        QFETCH(const int, dirties);
        QFETCH(const int, others);
        std::vector<SheetRow> rows;
        for (int i = 0; i < fits; ++i) rows.push_back(fit("f" + std::to_string(i) + ".png"));
        for (int i = 0; i < dirties; ++i) rows.push_back(dirty("d" + std::to_string(i) + ".png"));
        for (int i = 0; i < others; ++i) rows.push_back(i % 2 == 0 ? blurred("b.png") : broken("x.png"));
        const Advice advice = folderAdvice(rows);
        QTEST(int(advice.tone), "tone");
        QTEST(advice.headline == "All pass", "all");
        const bool yield = std::any_of(advice.help.begin(), advice.help.end(), [](const auto& s) { return s.starts_with("First-pass yield"); });
        QCOMPARE(yield, fits + dirties > 0);
    }
    void aLineOffersWhatCanBeDoneNow_data()
    {
        QTest::addColumn<QString>("last");
        QTest::addColumn<QString>("end");
        QTest::addColumn<bool>("checked");
        QTest::addColumn<QString>("first");
        QTest::newRow("nothing yet") << ""
                                     << "" << false << "batch.cleaner";
        QTest::newRow("nothing yet, checked") << ""
                                              << "" << true << "batch.label";
        QTest::newRow("passed") << "fit"
                                << "" << true << "batch.certificate";
        QTest::newRow("one of two ends passed: no cord is finished") << "fit"
                                                                     << "A" << true << "batch.label";
        QTest::newRow("the other end passed") << "fit"
                                              << "B" << true << "batch.certificate";
        QTest::newRow("failed") << "dirty"
                                << "" << true << "batch.label";
        QTest::newRow("says nothing") << "blurred"
                                      << "" << true << "batch.label";
    }
    void aLineOffersWhatCanBeDoneNow()
    {
        QFETCH(const QString, last);
        QFETCH(const QString, end);
        QFETCH(const bool, checked);
        std::vector<SheetRow> rows;
        if (!last.isEmpty()) rows.push_back(last == "fit" ? fit("c.png") : last == "dirty" ? dirty("c.png") : blurred("c.png"));
        if (!rows.empty()) rows[0].end = end.toStdString();
        CordLine cords("VP-P-001");
        cords.setBothEnds(!end.isEmpty());
        const Advice advice = lineAdvice(rows, faceClass(), cords, CleanerCheck{checked ? 1 : 0, {}, {}});
        QFETCH(const QString, first);
        QCOMPARE(QString::fromUtf8(advice.actions.front().command.data(), qsizetype(advice.actions.front().command.size())), first);
        QVERIFY(advice.actions.size() <= 3);
        QCOMPARE(advice.tone == Tone::Fit, last == "fit");
    }
};

QTEST_GUILESS_MAIN(TestBatch)
#include "test_batch.moc"
