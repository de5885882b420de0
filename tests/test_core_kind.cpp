#include <QtTest>
#include <opencv2/imgproc.hpp>

#include "face/even/core_kind.h"

using namespace clendo;
using namespace clendo::face;

namespace {

constexpr double ppu = 2;
const cv::Point2d centre(130.3, 129.6);

/// Glass of level 1 with a core, softened by optics, with some noise.
cv::Mat1f glassWith(const CoreShape& shape, double strength, double uneven = 0)
{
    cv::Mat1f even(260, 260, 0.0F), noise(even.size());
    for (int y = 0; y < even.rows; ++y)
        for (int x = 0; x < even.cols; ++x) {
            const double r = std::hypot(x - centre.x, y - centre.y) / ppu, part = r / shape.radius;
            if (r > 60) continue;
            const double core = shape.modeField ? std::exp(-2 * part * part) : part < 1 ? std::pow(1 - part * part, shape.exponent) : 0;
            even(y, x) = static_cast<float>(1 + strength * core + uneven * (r / 60) * (r / 60));
        }
    const cv::Mat outside = even <= 0;
    cv::GaussianBlur(even, even, {}, 0.5 * ppu);
    cv::RNG random(3);
    random.fill(noise, cv::RNG::NORMAL, 0, 0.015);
    even += noise;
    even.setTo(0, outside);
    return even;
}

/// Something that lies on the face; um from the centre.
void lay(cv::Mat1f& even, cv::Point2d at, double radiusUm, double factor)
{
    cv::Mat1b mask(even.size(), std::uint8_t{0});
    cv::circle(mask, cv::Point(cvRound(centre.x + at.x * ppu), cvRound(centre.y + at.y * ppu)), cvRound(radiusUm * ppu), 255, cv::FILLED);
    cv::Mat covered;
    even.convertTo(covered, CV_32F, factor);
    covered.copyTo(even, mask);
}

void scratch(cv::Mat1f& even, cv::Point2d from, cv::Point2d to)
{
    const auto pixel = [](cv::Point2d um) { return cv::Point(cvRound(centre.x + um.x * ppu), cvRound(centre.y + um.y * ppu)); };
    cv::line(even, pixel(from), pixel(to), cv::Scalar(0.6), 6);
}

std::string kindOf(const CoreEstimate& e)
{
    return e.inferred                         ? "no other"
           : !e.kind                          ? "unknown"
           : *e.kind == CoreKind::SingleMode  ? "SM"
           : *e.kind == CoreKind::Multimode50 ? "MM50"
                                              : "MM62.5";
}

}  // namespace

class TestCoreKind : public QObject {
    Q_OBJECT

private slots:
    void kinds_data()
    {
        QTest::addColumn<double>("radius");
        QTest::addColumn<double>("exponent");
        QTest::addColumn<double>("strength");
        QTest::addColumn<QString>("kind");
        for (const double strength : {-0.12, -0.05, 0.05, 0.12}) {
            const auto row = [&](const char* name, double radius, double exponent, const char* kind) {
                QTest::addRow("%s %.2f", name, strength) << radius << exponent << strength << kind;
            };
            row("single-mode", 4.5, 0, "SM");
            row("even 50", 25, 0, "MM50");
            row("graded 50", 24.6, 0.5, "MM50");
            row("even 62.5", 31.25, 0, "MM62.5");
            row("graded 62.5", 31.6, 0.5, "MM62.5");
        }
        QTest::addRow("none") << 4.5 << 0.0 << 0.0 << "no other";
    }
    void kinds()
    {
        QFETCH(double, radius);
        QFETCH(double, exponent);
        QFETCH(double, strength);
        QFETCH(QString, kind);
        for (const double uneven : {-0.02, 0.0, 0.02}) {
            const CoreEstimate e = estimateCore(glassWith({radius, exponent, false}, strength, uneven), centre, ppu);
            QCOMPARE(QString::fromStdString(kindOf(e)), kind);
            if (strength != 0) QVERIFY2(std::abs(e.strength - strength) < 0.3 * std::abs(strength) + 0.01, qPrintable(QString::number(e.strength)));
        }
    }

    void aDarkCoreIsOneWhereItIsRoundAndEven_data()
    {
        QTest::addColumn<double>("strength");
        QTest::addColumn<double>("x");  // of what is darkest
        QTest::addColumn<double>("radius");
        QTest::addColumn<bool>("core");
        QTest::newRow("a quarter darker") << -0.25 << 0.0 << 4.5 << true;
        QTest::newRow("a good third") << -0.36 << 0.4 << 4.3 << true;
        QTest::newRow("nearly half") << -0.46 << 0.0 << 4.6 << true;
        QTest::newRow("too dark for glass") << -0.8 << 0.0 << 4.5 << false;
        QTest::newRow("beside the middle") << -0.35 << 3.0 << 4.5 << false;
    }
    void aDarkCoreIsOneWhereItIsRoundAndEven()
    {
        QFETCH(double, strength);
        QFETCH(double, x);
        QFETCH(double, radius);
        QFETCH(bool, core);
        cv::Mat1f even = glassWith({4.5, 0, false}, 0);
        lay(even, {x, 0}, radius, 1 + strength);
        QCOMPARE(estimateCore(even, centre, ppu).kind == CoreKind::SingleMode, core);
        lay(even, {x + 2, 2}, 1.6, 0.4);  // with dirt on it, it is not even any more
        QVERIFY(estimateCore(even, centre, ppu).kind != CoreKind::SingleMode);
    }

    void aDarkMultimodeCoreIsOneWhereAllOfItIsAsDark_data()
    {
        QTest::addColumn<double>("radius");
        QTest::addColumn<double>("exponent");
        QTest::addColumn<double>("strength");
        QTest::addColumn<double>("x");  // of its middle
        QTest::addColumn<QString>("kind");
        QTest::newRow("graded 50") << 25.0 << 0.6 << -0.3 << 0.0 << "MM50";
        QTest::newRow("even 62.5") << 31.25 << 0.0 << -0.25 << 0.0 << "MM62.5";
        QTest::newRow("a film of its size beside the middle") << 25.0 << 0.0 << -0.3 << 8.0 << "unknown";
        QTest::newRow("too dark for glass") << 25.0 << 0.0 << -0.7 << 0.0 << "unknown";
    }
    void aDarkMultimodeCoreIsOneWhereAllOfItIsAsDark()
    {
        QFETCH(double, radius);
        QFETCH(double, exponent);
        QFETCH(double, strength);
        QFETCH(double, x);
        QFETCH(QString, kind);
        cv::Mat1f even = glassWith({radius, exponent, false}, x == 0 ? strength : 0);
        if (x != 0) lay(even, {x, 0}, radius, 1 + strength);
        QCOMPARE(QString::fromStdString(kindOf(estimateCore(even, centre, ppu))), kind);
        lay(even, {x + 10, 8}, 2, 0.4);  // dirt on it changes nothing
        QCOMPARE(QString::fromStdString(kindOf(estimateCore(even, centre, ppu))), kind);
    }

    void dirtIsNoCore_data()
    {
        QTest::addColumn<double>("x");
        QTest::addColumn<double>("y");
        QTest::addColumn<double>("radius");
        QTest::addColumn<double>("factor");
        QTest::newRow("droplet over the core") << 8.0 << -3.0 << 15.0 << 0.88;
        QTest::newRow("bright film over the core") << 10.0 << -9.0 << 20.0 << 1.13;
        QTest::newRow("dark film over half of the glass") << 35.0 << 0.0 << 36.0 << 0.8;
    }
    void dirtIsNoCore()
    {
        QFETCH(double, x);
        QFETCH(double, y);
        QFETCH(double, radius);
        QFETCH(double, factor);
        for (const double strength : {0.0, 0.08}) {
            cv::Mat1f even = glassWith({4.5, 0, false}, strength);
            lay(even, {x, y}, radius, factor);
            const CoreEstimate e = estimateCore(even, centre, ppu);
            QVERIFY2(e.kind == CoreKind::SingleMode || e.inferred || !e.kind, kindOf(e).c_str());
        }
    }

    void dirtHidesNoCore_data()
    {
        QTest::addColumn<double>("radius");
        QTest::addColumn<QString>("kind");
        QTest::newRow("50") << 25.0 << "MM50";
        QTest::newRow("62.5") << 31.25 << "MM62.5";
    }
    void dirtHidesNoCore()
    {
        QFETCH(double, radius);
        QFETCH(QString, kind);
        cv::Mat1f scratched = glassWith({radius, 0, false}, 0.045), oily = scratched.clone();
        scratch(scratched, {-20, 18}, {19, -21});
        QCOMPARE(QString::fromStdString(kindOf(estimateCore(scratched, centre, ppu))), kind);
        lay(oily, {18, 20}, 16, 0.75);
        QCOMPARE(QString::fromStdString(kindOf(estimateCore(oily, centre, ppu))), kind);
    }

    void lightInTheCore()
    {
        for (const double radius : {4.6, 5.2}) {
            const CoreEstimate e = estimateCore(glassWith({radius, 0, true}, 0.8), centre, ppu);
            QCOMPARE(QString::fromStdString(kindOf(e)), QString("SM"));
            QVERIFY2(e.strength > 0.6 && e.strength < 0.95, qPrintable(QString::number(e.strength)));
        }
    }

    void aCoreThatWasExpectedIsNotSeenInAnother_data()
    {
        QTest::addColumn<double>("radius");
        QTest::addColumn<double>("exponent");
        QTest::addColumn<double>("strength");
        QTest::newRow("single-mode") << 4.5 << 0.0 << 0.08;
        QTest::newRow("50") << 25.0 << 0.4 << 0.06;
        QTest::newRow("faint 50") << 25.5 << 0.0 << -0.03;
        QTest::newRow("62.5") << 31.25 << 0.4 << 0.06;
        QTest::newRow("faint 62.5") << 31.0 << 0.0 << -0.03;
        QTest::newRow("none") << 4.5 << 0.0 << 0.0;
    }
    void aCoreThatWasExpectedIsNotSeenInAnother()
    {
        QFETCH(double, radius);
        QFETCH(double, exponent);
        QFETCH(double, strength);
        const cv::Mat1f even = glassWith({radius, exponent, false}, strength);
        const std::string wanted = kindOf(estimateCore(even, centre, ppu));
        for (const CoreShape& before : {CoreShape{4.5, 0, false}, CoreShape{25, 0.4, false}, CoreShape{31.25, 0.4, false}, CoreShape{4.8, 0, true}}) {
            const CoreEstimate expected = estimateCore(glassWith(before, 0.06), centre, ppu);
            QVERIFY(expected.kind);
            QCOMPARE(kindOf(estimateCore(even, centre, ppu, &expected)), wanted);
        }
    }

    void nothingToSee()
    {
        const CoreEstimate e = estimateCore(cv::Mat1f(40, 40, 0.0F), {20, 20}, ppu);
        QVERIFY(!e.kind && !e.inferred);
    }
};

QTEST_GUILESS_MAIN(TestCoreKind)
#include "test_core_kind.moc"
