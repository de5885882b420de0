#include <QtTest>
#include <opencv2/imgproc.hpp>

#include "face/size/line_width.h"
#include "piece_shapes.h"

using namespace clendo;
using namespace clendo::face;

namespace {

constexpr double blur = 0.5;  // um

/// Light across a line, by its distance in um from the middle.
using Across = std::function<double(double)>;

Across bar(double width, double takes)
{
    return [=](double u) { return std::abs(u) < width / 2 ? -takes : 0; };
}

Across groove(double width, double takes, double weaker)
{
    return [=](double u) { return std::abs(u) > width / 2 ? 0 : u < 0 ? -takes : weaker * takes; };
}

/// A straight line through the fibre's centre, drawn eight times as fine, blurred and seen by a camera with `noise`; `gap`: um left out in the
/// middle.
Flattened glassWith(const Across& across, double degrees, double length, double noise, double gap = 0, int sharpening = 0)
{
    constexpr int fine = 8, side = 260;
    const double a = degrees * std::numbers::pi / 180;
    cv::Mat1f drawn(side * fine, side * fine, 0.0F);
    for (int y = 0; y < drawn.rows; ++y)
        for (int x = 0; x < drawn.cols; ++x) {
            const double px = ((x + 0.5) / fine - 0.5 - side / 2) / ppu, py = ((y + 0.5) / fine - 0.5 - side / 2) / ppu;
            const double t = px * std::cos(a) + py * std::sin(a), u = -px * std::sin(a) + py * std::cos(a);
            if (std::abs(t) < length / 2 && std::abs(t) >= gap / 2) drawn(y, x) = static_cast<float>(across(u));
        }
    cv::GaussianBlur(drawn, drawn, {}, blur * ppu * fine);
    Flattened out;
    cv::resize(drawn, out.contrast, {side, side}, 0, 0, cv::INTER_AREA);
    for (int i = 0; i < sharpening; ++i) {
        cv::Mat1f soft;
        cv::GaussianBlur(out.contrast, soft, {}, 1.5);
        cv::addWeighted(out.contrast, 1.6, soft, -0.6, 0, out.contrast);
    }
    cv::Mat1f grain(out.contrast.size());
    cv::theRNG().state = 7;
    cv::randn(grain, 0, noise);
    out.contrast += grain;
    out.judged = cv::Mat1b(out.contrast.size(), uchar{255});
    out.origin = {edge.circle.x - side / 2, edge.circle.y - side / 2};
    return out;
}

std::optional<double> widthOf(const Flattened& glass, double degrees, double length, double outlined, double contrast = -0.3)
{
    const double a = degrees * std::numbers::pi / 180;
    const cv::Point2d end(length / 2 * std::cos(a), length / 2 * std::sin(a));
    const Piece piece = band({-end, end}, outlined, contrast);
    const Shape shape = shapeOf(piece, ppu);
    return lineWidth(glass, piece, shape, courseOf(piece, shape, 1 / ppu), ppu, std::hypot(blur, 0.5 / ppu));
}

}  // namespace

/// How wide scratches are.
class TestLineWidth : public QObject {
    Q_OBJECT
private slots:
    void theWidthBeforeTheBlurComesBack_data()
    {
        QTest::addColumn<double>("width");
        QTest::addColumn<double>("sigma");
        for (const double w : {0.8, 1.2, 2.0, 4.0})
            for (const double s : {0.2, 0.4, 0.6}) QTest::addRow("%.1f um blurred by %.1f", w, s) << w << s;
    }
    void theWidthBeforeTheBlurComesBack()
    {
        QFETCH(double, width);
        QFETCH(double, sigma);
        // blur a bar numerically and read it at half its height
        const auto at = [&](double x) {
            double sum = 0;
            for (double u = -width / 2; u <= width / 2; u += 0.001) sum += std::exp(-0.5 * (x - u) * (x - u) / (sigma * sigma));
            return sum;
        };
        double x = 0;
        while (at(x) > at(0) / 2) x += 0.001;
        const double back = widthBeforeBlur(2 * x, sigma);
        QVERIFY2(qAbs(back - width) < (width > 2 * sigma ? 0.03 : 0.25), qPrintable(QString::number(back)));
    }
    void aLineIsAsWideAsItWasDrawn_data()
    {
        QTest::addColumn<double>("width");
        QTest::addColumn<double>("degrees");
        QTest::addColumn<double>("noise");
        for (const double w : {1.2, 2.0, 3.4})
            for (const double a : {0.0, 31.0, 90.0})
                for (const double n : {0.0, 0.06}) QTest::addRow("%.1f um at %.0f degrees, noise %.2f", w, a, n) << w << a << n;
    }
    void aLineIsAsWideAsItWasDrawn()
    {
        QFETCH(double, width);
        QFETCH(double, degrees);
        QFETCH(double, noise);
        // the outline, which follows the noise, is half a micrometre off
        const auto w = widthOf(glassWith(bar(width, 0.3), degrees, 40, noise), degrees, 40, width + 0.5);
        QVERIFY(w.has_value());
        QVERIFY2(qAbs(*w - width) < (noise > 0 ? 0.35 : 0.2), qPrintable(QString::number(*w)));
    }
    void aGapInTheLineMakesItNoNarrower()
    {
        const auto w = widthOf(glassWith(bar(2, 0.3), 20, 40, 0.01, 12), 20, 40, 1.4);
        QVERIFY(w && qAbs(*w - 2) < 0.25);
    }
    void aGrooveIsAsWideAsBothFlanks_data()
    {
        QTest::addColumn<double>("width");
        QTest::addColumn<double>("weaker");
        for (const double w : {2.4, 3.6, 4.8})
            for (const double f : {1.0, 0.6, 0.2}) QTest::addRow("%.1f um, weaker flank %.1f", w, f) << w << f;
    }
    void aGrooveIsAsWideAsBothFlanks()
    {
        QFETCH(double, width);
        QFETCH(double, weaker);
        // found by its dark flank alone
        const auto w = widthOf(glassWith(groove(width, 0.3, weaker), 25, 40, 0.01), 25, 40, width / 2);
        QVERIFY(w.has_value());
        QVERIFY2(qAbs(*w - width) < 0.4, qPrintable(QString::number(*w)));
    }
    void besideTheRimAGrooveIsAsWide()
    {
        for (const double seen : {0.5, 1.5, 4.0}) {  // um that are judged beyond it
            Flattened glass = glassWith(groove(4, 0.3, 0.8), 0, 40, 0.01);
            const int last = glass.judged.rows / 2 - static_cast<int>((2 + seen) * ppu);
            glass.judged.rowRange(0, last) = uchar{0};
            const auto w = widthOf(glass, 0, 40, 2);
            QVERIFY(w.has_value());
            QVERIFY2(qAbs(*w - 4) < 0.5, qPrintable(QString::number(*w)));
        }
    }
    void twoLinesOfUnlikeLightAreNoGroove()
    {
        const auto apart = [](double u) { return std::abs(u) < 0.8 ? -0.3 : std::abs(u - 3.6) < 2.6 ? 0.25 : 0; };
        const auto w = widthOf(glassWith(apart, 25, 40, 0.01), 25, 40, 1.6);
        QVERIFY(w && *w < 2.2);
    }
    void halosOfSharpeningAreNoFlanks()
    {
        const auto w = widthOf(glassWith(bar(1.5, 0.3), 25, 40, 0.005, 0, 2), 25, 40, 1.5);
        QVERIFY(w.has_value());
        QVERIFY2(*w < 2, qPrintable(QString::number(*w)));
    }
    void whatIsLostInTheNoiseHasNoWidth() { QVERIFY(!widthOf(glassWith(bar(1.5, 0.01), 25, 12, 0.1), 25, 12, 1.5)); }
};
QTEST_APPLESS_MAIN(TestLineWidth)
#include "test_line_width.moc"
