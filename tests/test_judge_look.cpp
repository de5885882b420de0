#include <QtTest>
#include <nlohmann/json.hpp>

#include "face/face_json.h"
#include "face/judge/judge_look.h"
#include "face/surroundings/making.h"
#include "record/fold/fold.h"
#include "record/state/rules.h"
#include "varrow_journal.h"
#include "world/face_world.h"

using namespace clendo;

namespace {

face::FaceMeasurement lookOf(double umPerPx, double blur, const std::vector<Finding>& findings)
{
    face::FaceMeasurement m;
    m.claddingDiameter = Pixel(125 / umPerPx);
    m.scale = Scale(umPerPx);
    m.blur = Micrometre(blur);
    m.findings = findings;
    return m;
}

bool has(const face::FaceMeasurement& m, face::MakingFault fault) { return std::find(m.making.begin(), m.making.end(), fault) != m.making.end(); }

}  // namespace

/// What a look can prove, by what its picture can show; and what it shows of how the connector was made.
class TestJudgeLook : public QObject {
    Q_OBJECT
private slots:
    void aPassNeedsAPictureThatShowsEnough_data()
    {
        QTest::addColumn<double>("umPerPx");
        QTest::addColumn<double>("blur");
        QTest::addColumn<bool>("dirty");
        QTest::addColumn<QString>("verdict");
        QTest::newRow("high magnification, clean") << 0.3 << 0.5 << false << "pass";
        QTest::newRow("coarse but enough, clean") << 0.9 << 0.95 << false << "pass";
        QTest::newRow("low magnification, clean") << 2.0 << 1.0 << false << "retake";
        QTest::newRow("blurred, clean") << 0.4 << 2.0 << false << "retake";
        QTest::newRow("low magnification, dirty") << 2.0 << 1.0 << true << "fail";
        QTest::newRow("high magnification, dirty") << 0.3 << 0.5 << true << "fail";
    }
    void aPassNeedsAPictureThatShowsEnough()
    {
        QFETCH(double, umPerPx);
        QFETCH(double, blur);
        QFETCH(bool, dirty);
        QFETCH(QString, verdict);
        const auto criteria = loadCriteria("2015", dataFolder()).value();
        const auto judged =
            face::judgeLook(lookOf(umPerPx, blur, dirty ? std::vector{dirt(20)} : std::vector<Finding>()), criteria.find("sm-upc").value(), criteria);
        QCOMPARE(QString(!judged.verdict ? "retake" : judged.verdict->fit ? "pass" : "fail"), verdict);
        QCOMPARE(judged.reasons.empty(), judged.verdict.has_value());
        if (!judged.verdict) QVERIFY(judged.reasons.front().find("higher magnification") != std::string::npos);
    }
    void whatAPictureShowsComesFromTheTable_data()
    {
        QTest::addColumn<double>("umPerPx");
        QTest::addColumn<double>("blur");
        QTest::addColumn<double>("smallest");
        QTest::newRow("a place of the table") << 0.4 << 1.0 << 1.4;
        QTest::newRow("between two blurs") << 0.4 << 1.5 << 1.9;
        QTest::newRow("between two scales") << 0.6 << 1.0 << 1.6;
        QTest::newRow("between four") << 0.6 << 1.5 << 2.1;
        QTest::newRow("finer and sharper than any") << 0.1 << 0.2 << 1.4;
        QTest::newRow("coarser: not under two pixels") << 2.0 << 1.0 << std::hypot(4.0, 1.5);
        QTest::newRow("more blurred: not under what is left of it") << 0.4 << 3.0 << std::hypot(0.8, 4.5);
        QTest::newRow("just beyond: no less than at the edge") << 0.81 << 1.0 << std::hypot(1.62, 1.5);
    }
    void whatAPictureShowsComesFromTheTable()
    {
        QFETCH(double, umPerPx);
        QFETCH(double, blur);
        QFETCH(double, smallest);
        const auto table = parseDetection(R"({"format": "clendo-detection", "um_per_px": [0.4, 0.8], "blur_um": [1, 2],
            "smallest_um": [[1.4, 2.4], [1.8, 2.8]]})")
                               .value();
        QVERIFY(std::abs(table.surelyFound(Scale(umPerPx), Micrometre(blur)).value() - smallest) < 1e-9);
        QVERIFY(std::abs(DetectionTable{}.surelyFound(Scale(umPerPx), Micrometre(blur)).value() - std::hypot(2 * umPerPx, 1.5 * blur)) < 1e-9);
    }
    void tablesWithHolesAreRefused_data()
    {
        QTest::addColumn<QString>("text");
        const QString head = R"({"format": "clendo-detection", "um_per_px": [0.4, 0.8], "blur_um": [1, 2], "smallest_um": )";
        QTest::newRow("no JSON") << "{";
        QTest::newRow("something else") << R"({"format": "clendo-kit"})";
        QTest::newRow("no sizes") << head + "[]}";
        QTest::newRow("a row is missing") << head + "[[1, 2]]}";
        QTest::newRow("a number is missing") << head + "[[1, 2], [1]]}";
        QTest::newRow("a word for a number") << head + R"([[1, 2], [1, "x"]]})";
        QTest::newRow("no size at all") << head + "[[0, 2], [1, 2]]}";
        QTest::newRow("more blur shows more") << head + "[[2, 1], [2, 3]]}";
        QTest::newRow("a coarser scale shows more") << head + "[[2, 3], [1, 3]]}";
        QTest::newRow("scales that fall")
            << R"({"format": "clendo-detection", "um_per_px": [0.8, 0.4], "blur_um": [1, 2], "smallest_um": [[1, 2], [1, 2]]})";
    }
    void tablesWithHolesAreRefused()
    {
        QFETCH(QString, text);
        const auto table = parseDetection(text.toStdString());
        QVERIFY(!table);
        QVERIFY(table.error().message.find("table of what pictures show") != std::string::npos);
    }
    void theMethodsTwoMicrometresAreAskedFor()
    {
        for (const char* edition : {"2009", "2015", "pristine"}) {
            const auto criteria = loadCriteria(edition, dataFolder()).value();
            QCOMPARE(criteria.mustResolve, Micrometre(2));
            QVERIFY(criteria.detection.surelyFound(Scale(0.8), Micrometre(0.6)) < criteria.mustResolve);
            QVERIFY(criteria.detection.surelyFound(Scale(0.3), Micrometre(1.9)) > criteria.mustResolve);
        }
    }
    void thePristineSchoolAcceptsNoParticle()
    {
        const auto standard = loadCriteria("2015", dataFolder()).value(), pristine = loadCriteria("pristine", dataFolder()).value();
        for (const double at : {20.0, 60.0, 100.0}) {  // in B, C and D: small enough for the standard
            const std::vector small{dirt(at, 1.8)};
            QVERIFY(judge(small, standard.find("sm-upc").value(), standard).fit);
            QVERIFY(!judge(small, pristine.find("sm-upc").value(), pristine).fit);
        }
        QCOMPARE(pristine.classes.size(), standard.classes.size());
        QVERIFY(judge({}, pristine.find("mm-multi").value(), pristine).fit);
    }
    void sizesCarryTheirUncertainty()
    {
        const auto criteria = loadCriteria("2015", dataFolder()).value();
        QCOMPARE(sizeUncertainty(dirt(20, 2), criteria), criteria.sizeUncertainty);
        QCOMPARE(sizeUncertainty(dirt(20, 20), criteria).value(), 20 * criteria.sizeUncertaintyShare);
        Finding faint = dirt(20, 2);
        faint.contrast = -0.12;
        QVERIFY(sizeUncertainty(faint, criteria) > criteria.sizeUncertainty * 1.2);
        faint.contrast = -0.4;
        QCOMPARE(sizeUncertainty(faint, criteria), criteria.sizeUncertainty);
        // the ferrule is looked at with larger pixels, and the glass ends in a ring
        QVERIFY(sizeUncertainty(dirt(80, 2), criteria) > criteria.sizeUncertainty * 1.5);
    }
    void aLookThatShowsTooLittleLeavesTheFaceUnseen()
    {
        Journal j;
        const FaceId id{"VP-04/1", End::A, Side::Cord};
        FaceSeen seen{id, "sha", "low.png", lookOf(2.0, 1.0, {}), {}};
        j.add(seen);
        const JobState low = fold(j.entries, Rules(dataFolder()));
        QCOMPARE(low.face(id).condition, FaceCondition::NotSeen);
        seen.measured = lookOf(0.3, 0.5, {});
        j.add(seen);
        QCOMPARE(fold(j.entries, Rules(dataFolder())).face(id).condition, FaceCondition::Fit);
    }

    void aGoodConnectorHasNoFaultOfMaking()
    {
        for (const auto story : {world::Story::Clean, world::Story::Dusty, world::Story::Oily, world::Story::Pitted})
            QVERIFY(face::measure(world::takePicture(world::makeFace(story, 4), {}), {}).front().making.empty());
    }
    void aCrescentIsAFibreOffItsCentre()
    {
        // the hole's dark gap, 7 um wide at the right, closes at the left
        face::Picture picture = world::takePicture(world::makeFace(world::Story::Clean, 4), {});
        const auto before = face::measure(picture, {}).front();
        const double scale = before.scale.micrometresPerPixel();
        for (int y = 0; y < picture.height; ++y)
            for (int x = 0; x < picture.width; ++x) {
                const double ux = (x - before.centre.x.value()) * scale, uy = (y - before.centre.y.value()) * scale;
                if (std::hypot(ux, uy) > 63.2 && std::hypot(ux - 3.5, uy) < 66.7)
                    picture.pixels[static_cast<std::size_t>(y * picture.width + x)] = 12;
            }
        const auto after = face::measure(picture, {}).front();
        QVERIFY(has(after, face::MakingFault::OffCentre));
        FlatJson doc;
        QVERIFY(doc.read(measurementToJson(after).dump()));
        const auto read = measurementFromJson(doc.root());
        QVERIFY(read && read->making == after.making);
    }
    void aShadowAllAroundIsAFibreThatStandsProud()
    {
        face::Picture picture = world::takePicture(world::makeFace(world::Story::Clean, 4), {});
        const auto before = face::measure(picture, {}).front();
        const double scale = before.scale.micrometresPerPixel();
        for (int y = 0; y < picture.height; ++y)
            for (int x = 0; x < picture.width; ++x) {
                const double r = std::hypot((x - before.centre.x.value()) * scale, (y - before.centre.y.value()) * scale) - 63.8;
                auto& pixel = picture.pixels[static_cast<std::size_t>(y * picture.width + x)];
                if (r > 0) pixel = static_cast<std::uint8_t>(pixel * (1 - 0.35 * std::exp(-r / 3)));
            }
        const auto after = face::measure(picture, {}).front();
        QVERIFY(has(after, face::MakingFault::Proud));
        QVERIFY(!has(after, face::MakingFault::OffCentre));
        QVERIFY(sentenceOf(face::MakingFault::Proud).size() > 40);
    }
};

QTEST_GUILESS_MAIN(TestJudgeLook)
#include "test_judge_look.moc"
