#include <QtTest>
#include <opencv2/imgproc.hpp>

#include "face/find/row_edge.h"

using namespace clendo::face;

namespace {

/// A fibre in its adhesive, pixels and grey levels.
struct Fibre {
    double radius = 71.5, ring = 1.7, line = 75, blur = 0.5, noise = 3;
    int seed = 1;
};

std::optional<CladdingEdge> edgeOf(const Fibre& fibre)
{
    constexpr int side = 200, fine = 8;
    const cv::Point2d middle(100.3 + 0.1 * fibre.seed, 99.6);
    cv::Mat1f drawn(side * fine, side * fine, 28.0F), picture, grain(side, side);
    const auto disc = [&](double radius, double level) {
        cv::circle(drawn, cv::Point(cvRound(middle.x * fine), cvRound(middle.y * fine)), cvRound(radius * fine), cv::Scalar(level), cv::FILLED);
    };
    disc(fibre.radius + fibre.ring, fibre.line);
    disc(fibre.radius, 120);
    cv::GaussianBlur(drawn, drawn, {}, fibre.blur * fine);
    cv::resize(drawn, picture, grain.size(), 0, 0, cv::INTER_AREA);
    cv::RNG random(static_cast<std::uint64_t>(fibre.seed));
    random.fill(grain, cv::RNG::NORMAL, 0, fibre.noise);
    cv::Mat1b seen;
    cv::Mat(picture + grain).convertTo(seen, CV_8U);
    return refine(seen, {middle.x + 1, middle.y - 1, fibre.radius + 1, 1});
}

std::vector<std::optional<CladdingEdge>> rowOf(const std::vector<Fibre>& fibres)
{
    std::vector<std::optional<CladdingEdge>> row;
    for (std::size_t i = 0; i < fibres.size(); ++i) {
        Fibre fibre = fibres[i];
        fibre.seed = static_cast<int>(i) + 1;
        row.push_back(edgeOf(fibre));
    }
    return row;
}

}  // namespace

/// The fibres of a row tell together what their edges look like.
class TestRowEdge : public QObject {
    Q_OBJECT
private slots:
    void theGlassEndsWhereItDoes_data()
    {
        QTest::addColumn<double>("ring");
        QTest::addColumn<double>("line");
        QTest::addColumn<double>("noise");
        QTest::newRow("adhesive between glass and ferrule") << 1.7 << 75.0 << 3.0;
        QTest::newRow("nearly as bright as the glass") << 2.0 << 90.0 << 3.0;
        QTest::newRow("black adhesive") << 1.7 << 5.0 << 3.0;
        QTest::newRow("next to none") << 0.3 << 28.0 << 3.0;
        QTest::newRow("in noise") << 1.7 << 75.0 << 8.0;
    }
    void theGlassEndsWhereItDoes()
    {
        QFETCH(double, ring);
        QFETCH(double, line);
        QFETCH(double, noise);
        // claddings of one row differ a little
        std::vector<Fibre> fibres;
        for (const double radius : {71.4, 71.5, 71.5, 71.7, 71.6, 71.5, 71.4, 71.6}) fibres.push_back({radius, ring, line, 0.5, noise});
        auto row = rowOf(fibres);
        shareEdge(row);
        for (std::size_t i = 0; i < row.size(); ++i) {
            QVERIFY(row[i].has_value());
            const double off = row[i]->circle.radius - fibres[i].radius;
            QVERIFY2(std::abs(off) < 0.35, qPrintable(QString("fibre %1 is %2 px too large").arg(i + 1).arg(off)));
        }
    }
    void allHaveOneBlurAndRing()
    {
        auto row = rowOf(std::vector<Fibre>(6));
        shareEdge(row);
        for (const auto& edge : row) {
            QCOMPARE(edge->blur, row.front()->blur);
            QCOMPARE(edge->ring, row.front()->ring);
            QVERIFY2(edge->blur < 0.9, qPrintable(QString::number(edge->blur)));
        }
    }
    void whatIsOutOfFocusStaysAsItIs()
    {
        std::vector<Fibre> fibres(6);
        fibres[2].blur = 4;
        auto row = rowOf(fibres);
        const double before = row[2]->blur;
        shareEdge(row);
        QCOMPARE(row[2]->blur, before);
        QVERIFY(row[1]->blur < before / 2);
    }
    void whatIsNotThereIsLeftOut()
    {
        auto row = rowOf(std::vector<Fibre>(6));
        row[3].reset();
        row[5]->coverage = 0.1;
        const double radius = row[5]->circle.radius;
        shareEdge(row);
        QVERIFY(!row[3]);
        QCOMPARE(row[5]->circle.radius, radius);
    }
    void fewTellNothingOfEachOther()
    {
        auto row = rowOf(std::vector<Fibre>(3));
        std::vector<double> before, after;
        for (const auto& edge : row) before.push_back(edge->circle.radius);
        shareEdge(row);
        for (const auto& edge : row) after.push_back(edge->circle.radius);
        QCOMPARE(after, before);
    }
};
QTEST_APPLESS_MAIN(TestRowEdge)
#include "test_row_edge.moc"
