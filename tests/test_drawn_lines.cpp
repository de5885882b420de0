#include <QtTest>
#include <opencv2/imgproc.hpp>

#include "face/segment/in_line.h"
#include "face/size/drawn_lines.h"
#include "face/size/winding.h"
#include "piece_shapes.h"

using namespace clendo;
using namespace clendo::face;

namespace {

constexpr int side = 320;
constexpr double blur = 0.4;  // um

/// A line through points, um from the fibre's centre.
struct Line {
    std::vector<cv::Point2d> points;
    double width = 1.5, contrast = -0.4;
};

Line straight(cv::Point2d from, cv::Point2d to, double width = 1.5, double contrast = -0.4) { return {{from, to}, width, contrast}; }

/// From -`length`/2 to `length`/2, by how far it lies aside at a share of its length, -1 to 1.
Line along(double length, const std::function<double(double)>& aside, double width)
{
    Line line{{}, width, -0.4};
    constexpr int pieces = 120;
    for (int i = 0; i <= pieces; ++i) {
        const double x = 2.0 * i / pieces - 1;
        line.points.emplace_back(x * length / 2, aside(x));
    }
    return line;
}

Flattened glassWith(const std::vector<Line>& lines, double noise = 0.015)
{
    constexpr int fine = 4, shift = 4;  // drawn to a sixteenth of a fine pixel
    cv::Mat1f drawn(side * fine, side * fine, 0.0F), one;
    for (const Line& line : lines) {
        one = cv::Mat1f(drawn.size(), 0.0F);
        for (std::size_t i = 0; i + 1 < line.points.size(); ++i) {
            const auto at = [](cv::Point2d p) {
                const double x = (p.x * ppu + side / 2.0 + 0.5) * fine - 0.5, y = (p.y * ppu + side / 2.0 + 0.5) * fine - 0.5;
                return cv::Point(cvRound(x * (1 << shift)), cvRound(y * (1 << shift)));
            };
            cv::line(one, at(line.points[i]), at(line.points[i + 1]), cv::Scalar(line.contrast), cvRound(line.width * ppu * fine), cv::LINE_8, shift);
        }
        const cv::Mat stronger = cv::abs(one) > cv::abs(drawn);
        one.copyTo(drawn, stronger);
    }
    cv::GaussianBlur(drawn, drawn, {}, blur * ppu * fine);
    Flattened out;
    cv::resize(drawn, out.contrast, {side, side}, 0, 0, cv::INTER_AREA);
    cv::Mat1f grain(out.contrast.size());
    cv::theRNG().state = 11;
    cv::randn(grain, 0, noise);
    out.contrast += grain;
    out.doubt = cv::Mat1f(out.contrast.size(), 0.0F);
    out.judged = cv::Mat1b(out.contrast.size(), uchar{255});
    out.origin = {edge.circle.x - side / 2.0, edge.circle.y - side / 2.0};
    return out;
}

/// All that shows, as if it hung together.
Piece allOf(const Flattened& glass)
{
    cv::Mat1f map;
    cv::GaussianBlur(glass.contrast, map, {}, 1);
    const cv::Mat1b shows = cv::Mat(cv::abs(map) > 0.1);
    std::vector<std::vector<cv::Point>> outlines;
    cv::findContours(shows, outlines, cv::RETR_LIST, cv::CHAIN_APPROX_NONE);
    Piece p;
    for (const auto& outline : outlines)
        for (const auto& q : outline) p.outline.emplace_back(cv::Point2d(q) + glass.origin);
    double least = 0, most = 0;
    cv::minMaxLoc(map, &least, &most);
    p.contrast = -least > most ? least : most;
    p.area = cv::countNonZero(shows);
    p.hollow = true;
    p.enclose();
    return p;
}

/// Where a stroke lies, um: its length and the place of its middle.
struct Found {
    double length, x, y;
};
std::vector<Found> foundIn(const std::vector<Line>& lines, double noise = 0.015)
{
    const Flattened glass = glassWith(lines, noise);
    std::vector<Found> out;
    for (const Piece& stroke : DrawnLines(glass, ppu).of(allOf(glass)))
        out.push_back({2 * stroke.radius / ppu, (double(stroke.centre.x) - edge.circle.x) / ppu, (double(stroke.centre.y) - edge.circle.y) / ppu});
    return out;
}

std::optional<Winding> windingIn(const Line& line, double noise)
{
    const Flattened glass = glassWith({line}, noise);
    Piece piece = band(line.points, line.width + 0.5, line.contrast);
    const Shape shape = shapeOf(piece, ppu);
    return windingOf(glass.contrast, glass.origin, -1, piece, shape, courseOf(piece, shape, 1 / ppu), ppu);
}

}  // namespace

/// Scratches run along arcs, lint winds; several scratches that hang together are told apart.
class TestDrawnLines : public QObject {
    Q_OBJECT
private slots:
    void howFarALineWindsIsTold_data()
    {
        QTest::addColumn<double>("amplitude");  // um, of one and a half waves along it
        QTest::addColumn<double>("noise");
        for (const double a : {0.0, 0.15, 0.3, 0.6})
            for (const double n : {0.0, 0.02, 0.05}) QTest::addRow("%.2f um, noise %.2f", a, n) << a << n;
    }
    void howFarALineWindsIsTold()
    {
        QFETCH(double, amplitude);
        QFETCH(double, noise);
        const auto winding = windingIn(along(
                                           40, [&](double x) { return amplitude * std::sin(1.5 * std::numbers::pi * x); }, 2),
                                       noise);
        QVERIFY(winding.has_value());
        const double wanted = amplitude / std::numbers::sqrt2;
        // an arc takes a part of so slow a wave
        QVERIFY2(winding->off > 0.6 * wanted - 2 * winding->unsure && winding->off < wanted + 0.04 + 2 * winding->unsure,
                 qPrintable(QString("%1 +- %2").arg(winding->off).arg(winding->unsure)));
        QCOMPARE(windsAsLint(*winding, 2), amplitude > (noise > 0.04 ? 0.2 : 0.1));  // where noise may make it, it is not said
    }
    void anArcDoesNotWind()
    {
        const auto winding = windingIn(along(
                                           50, [](double x) { return 1.5 * x * x; }, 2),
                                       0.02);
        QVERIFY(winding.has_value());
        QVERIFY2(winding->off < 0.04, qPrintable(QString::number(winding->off)));
    }
    void whatIsThinnerThanLintIsNone()
    {
        QVERIFY(!windsAsLint({0.3, 0.01}, 1.0));
        QVERIFY(windsAsLint({0.3, 0.01}, 2.0));
        QVERIFY(!windsAsLint({0.3, 0.1}, 2.0));  // as noise makes it
    }
    void lintThatHardlyWindsIsNoScratch()
    {
        const auto kindOf = [](double amplitude) {
            const Line line = along(
                36, [=](double x) { return amplitude * std::sin(4 * x); }, 2);
            const Flattened glass = glassWith({line});
            const auto findings = describe({band(line.points, 2.4, -0.4)}, edge, ppu, &glass);
            return findings.size() == 1 ? std::optional(findings.front().kind) : std::nullopt;
        };
        QVERIFY(kindOf(0) == FindingKind::Scratch);
        QVERIFY(kindOf(0.25) == FindingKind::Defect);
    }
    void scratchesThatMeetAreTakenApart_data()
    {
        QTest::addColumn<std::vector<Line>>("lines");
        QTest::newRow("crossing steeply") << std::vector{straight({-20, -15}, {20, 15}), straight({-15, 20}, {18, -20})};
        QTest::newRow("crossing at a small angle") << std::vector{straight({-25, -3}, {25, 3}), straight({-25, 4}, {25, -3})};
        QTest::newRow("dark and bright") << std::vector{straight({-20, -15}, {20, 15}, 1.2, -0.4), straight({-20, 18}, {20, -14}, 1.8, 0.2)};
        QTest::newRow("a bundle of three") << std::vector{straight({-25, -3}, {25, 3}, 3), straight({-20, -12}, {20, 14}),
                                                          straight({-22, 8}, {20, -8})};
        QTest::newRow("a single one") << std::vector{straight({-20, -15}, {20, 15})};
    }
    void scratchesThatMeetAreTakenApart()
    {
        QFETCH(std::vector<Line>, lines);
        const auto found = foundIn(lines);
        QCOMPARE(found.size(), lines.size());
        for (const Line& line : lines) {
            const cv::Point2d middle = (line.points.front() + line.points.back()) / 2;
            const double length = cv::norm(line.points.back() - line.points.front());
            const auto is = [&](const Found& f) { return std::hypot(f.x - middle.x, f.y - middle.y) < 3 && std::abs(f.length - length) < 6; };
            QVERIFY2(std::any_of(found.begin(), found.end(), is), qPrintable(QString("%1 um about %2, %3").arg(length).arg(middle.x).arg(middle.y)));
        }
    }
    void whatBendsIsNoScratch_data()
    {
        QTest::addColumn<std::vector<Line>>("lines");
        QTest::newRow("kinked") << std::vector{Line{{{-20, -10}, {0, 6}, {22, -4}}, 2, -0.4}};
        QTest::newRow("a curl") << std::vector{along(
            40, [](double x) { return 14 * x * x; }, 2)};
        QTest::newRow("an S") << std::vector{along(
            40, [](double x) { return 3 * std::sin(3 * x); }, 2)};
        QTest::newRow("nearly straight") << std::vector{along(
            36, [](double x) { return 0.35 * std::sin(4 * x); }, 2.2)};
        QTest::newRow("a blob") << std::vector{straight({-5, 0}, {5, 0}, 9)};
    }
    void whatBendsIsNoScratch()
    {
        QFETCH(std::vector<Line>, lines);
        QCOMPARE(foundIn(lines).size(), std::size_t(0));
    }
    void aBundleIsFiledAsItsScratches()
    {
        const Flattened glass = glassWith({straight({-25, -3}, {25, 3}), straight({-25, 4}, {25, -3})});
        const auto findings = describe({allOf(glass), disc(30, 20, 3)}, edge, ppu, &glass);
        QCOMPARE(findings.size(), std::size_t(3));
        QCOMPARE(std::count_if(findings.begin(), findings.end(), [](const Finding& f) { return f.kind == FindingKind::Scratch; }), 2);
    }
    void aLineIsOneWhereItShowsBetweenItsPieces_data()
    {
        QTest::addColumn<double>("between");
        QTest::addColumn<std::size_t>("pieces");
        QTest::newRow("it goes on, fainter") << -0.05 << std::size_t(1);
        QTest::newRow("nothing between them") << 0.0 << std::size_t(2);
        QTest::newRow("bright between them") << 0.05 << std::size_t(2);
        QTest::newRow("next to nothing") << -0.008 << std::size_t(2);
    }
    void aLineIsOneWhereItShowsBetweenItsPieces()
    {
        QFETCH(double, between);
        QFETCH(std::size_t, pieces);
        const Flattened glass =
            glassWith({straight({-28, 1}, {-12, 1}, 1, -0.1), straight({-12, 1}, {8, 1}, 1, between), straight({8, 1}, {26, 1}, 1, -0.1)});
        std::vector<Piece> seen{band({{-28, 1}, {-12, 1}}, 1, -0.08), band({{8, 1}, {26, 1}}, 1, -0.08)};
        joinInLine(seen, ppu, &glass);
        QCOMPARE(seen.size(), pieces);
    }
    void onTheFerruleALineStandsOutOfTheGrainBetweenItsPieces_data()
    {
        QTest::addColumn<double>("between");
        QTest::addColumn<std::size_t>("pieces");
        QTest::newRow("it goes on") << -0.16 << std::size_t(1);
        QTest::newRow("grain between them") << 0.0 << std::size_t(2);
        QTest::newRow("no more than grain") << -0.02 << std::size_t(2);
    }
    void onTheFerruleALineStandsOutOfTheGrainBetweenItsPieces()
    {
        QFETCH(double, between);
        QFETCH(std::size_t, pieces);
        Flattened ferrule =
            glassWith({straight({-32, 1}, {-12, 1}, 1, -0.3), straight({-12, 1}, {12, 1}, 1, between), straight({12, 1}, {30, 1}, 1, -0.3)});
        cv::Mat1f grain(ferrule.contrast.size());
        cv::RNG random(4);
        random.fill(grain, cv::RNG::NORMAL, 0, 0.5);
        cv::GaussianBlur(grain, grain, {}, 1.2 * ppu);
        ferrule.contrast += grain;
        // with larger pixels than the picture has
        cv::resize(ferrule.contrast, ferrule.contrast, {}, 0.5, 0.5, cv::INTER_AREA);
        cv::resize(ferrule.judged, ferrule.judged, {}, 0.5, 0.5, cv::INTER_NEAREST);
        ferrule.origin += cv::Point2d(0.5, 0.5);
        ferrule.reduction = 2;
        std::vector<Piece> seen{band({{-32, 1}, {-12, 1}}, 1, -0.25), band({{12, 1}, {30, 1}}, 1, -0.25)};
        for (Piece& piece : seen) piece.region = Region::Ferrule;
        joinInLine(seen, ppu, nullptr, &ferrule);
        QCOMPARE(seen.size(), pieces);
    }
    void dirtOnAScratchIsNotTakenForAPartOfIt()
    {
        QCOMPARE(foundIn({straight({-20, -15}, {20, 15}, 1.2, -0.3), straight({-3, 6}, {5, 6}, 8, -0.5)}).size(), std::size_t(0));
    }
    void aPartOfALineLiesAlongIt_data()
    {
        QTest::addColumn<cv::Point2d>("from");
        QTest::addColumn<double>("contrast");
        QTest::addColumn<bool>("part");
        QTest::newRow("within") << cv::Point2d(4, 0.2) << -0.3 << true;
        QTest::newRow("its faint tip") << cv::Point2d(19.5, 0) << -0.1 << true;
        QTest::newRow("beyond it, as dark") << cv::Point2d(19.5, 0) << -0.4 << false;
        QTest::newRow("beside it") << cv::Point2d(4, 4) << -0.3 << false;
        QTest::newRow("dirt, far darker") << cv::Point2d(4, 0.2) << -0.8 << false;
    }
    void aPartOfALineLiesAlongIt()
    {
        QFETCH(cv::Point2d, from);
        QFETCH(double, contrast);
        QFETCH(bool, part);
        const Flattened glass = glassWith({straight({-20, 0}, {20, 0})});
        const Piece stroke = band({{-20, 0}, {20, 0}}, 1.5, -0.4), piece = band({from, from + cv::Point2d(3, 0)}, 1, contrast);
        QCOMPARE(DrawnLines(glass, ppu).hasPart(stroke, piece), part);
    }
};
QTEST_APPLESS_MAIN(TestDrawnLines)
#include "test_drawn_lines.moc"
