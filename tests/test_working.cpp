#include <QtTest>

#include "drawn_face.h"
#include "face/even/working.h"

using namespace clendo;
using namespace clendo::face;

namespace {

CladdingEdge edgeOf(const Drawn& face, double ppu)
{
    CladdingEdge edge;
    edge.circle = {face.middle().x, face.middle().y, 62.5 * ppu, 1};
    edge.blur = edge.mostBlur = 0.45 * ppu;
    edge.ring = 0.8 * ppu;
    return edge;
}

}  // namespace

/// The picture in which things are looked for, where its pixels are much finer than what the optics show.
class TestWorking : public QObject {
    Q_OBJECT
private slots:
    void onlyFinePixelsAreLaidTogether_data()
    {
        QTest::addColumn<double>("ppu");
        QTest::addColumn<int>("factor");
        QTest::newRow("0.9 um") << 1.1 << 1;
        QTest::newRow("0.35 um") << 2.86 << 1;
        QTest::newRow("0.3 um") << 3.33 << 2;
        QTest::newRow("0.2 um") << 5.0 << 3;
        QTest::newRow("0.15 um") << 6.67 << 4;
    }
    void onlyFinePixelsAreLaidTogether()
    {
        QFETCH(double, ppu);
        QFETCH(int, factor);
        const Drawn face(120, 140, 40, ppu);
        const cv::Mat1b picture = face.seen(2);
        const auto edge = edgeOf(face, ppu);
        const auto on = workingOn(picture, {}, edge, ppu);
        QVERIFY(std::abs(on.pixelsPerMicrometre * factor - ppu) < 1e-9);
        QCOMPARE(on.picture.data == picture.data, factor == 1);  // the picture itself, where it is coarse
        QVERIFY(std::abs(on.edge.circle.radius * factor - edge.circle.radius) < 1e-9);
        QVERIFY(on.seen.empty());
        // the edge lies where it is looked for: on the line about the glass, darker than both sides
        const auto mean = [&](double um) {
            double sum = 0;
            for (int i = 0; i < 360; ++i) {
                const double r = on.edge.circle.radius + um * on.pixelsPerMicrometre, a = i * CV_PI / 180;
                sum += on.picture(cvRound(on.edge.circle.y + r * std::sin(a)), cvRound(on.edge.circle.x + r * std::cos(a)));
            }
            return sum / 360;
        };
        QVERIFY2(mean(0.4) < mean(-2) - 15 && mean(0.4) < mean(3) - 25, qPrintable(QString::number(mean(0.4))));
    }
    void pixelsOfTheCameraBecomeNoSpecks()
    {
        constexpr double ppu = 4;
        const Drawn face(120, 140, 40, ppu);
        cv::Mat1b picture = face.seen(1);
        const cv::Point middle(face.middle());
        for (const cv::Point at : {cv::Point(40, 30), cv::Point(-60, 80), cv::Point(10, -90)}) picture(middle + at) = 250;
        const auto on = workingOn(picture, {}, edgeOf(face, ppu), ppu);
        QCOMPARE(on.lonePixels, 3);
        double most = 0;
        cv::minMaxLoc(on.picture(cv::Rect(cvRound(on.edge.circle.x) - 60, cvRound(on.edge.circle.y) - 60, 120, 120)), nullptr, &most);
        QVERIFY2(most < 126, qPrintable(QString::number(most)));
        QCOMPARE(measured(picture).lonePixels, 3);
    }
    void whatTheOpticsDoNotShowStaysUnseen()
    {
        constexpr double ppu = 4;
        const Drawn face(120, 140, 40, ppu);
        const cv::Mat1b picture = face.seen(2);
        cv::Mat1b seen(picture.size(), std::uint8_t{255});
        seen.colRange(0, 100).setTo(0);
        const auto on = workingOn(picture, seen, edgeOf(face, ppu), ppu);
        QCOMPARE(on.seen.size(), on.picture.size());
        QCOMPARE(cv::countNonZero(on.seen(cv::Rect(0, 0, on.seen.cols, 1)) == 0) > 0, true);
        QCOMPARE(int(on.seen(on.seen.rows / 2, on.seen.cols - 1)), 255);
    }
    void aFaceIsToldAlikeAtAnyPixel_data()
    {
        QTest::addColumn<double>("ppu");
        for (const double ppu : {2.0, 3.4, 4.2, 5.3}) QTest::addRow("%.1f pixels a um", ppu) << ppu;
    }
    void aFaceIsToldAlikeAtAnyPixel()
    {
        QFETCH(double, ppu);
        Drawn face(120, 140, 40, ppu);
        face.disc({20, -14}, 2.0, 50);  // 4 um
        face.disc({-25, 10}, 0.6, 40);  // 1.2 um
        face.disc({85, 30}, 6.0, 40);   // on the ferrule, 12 um
        const auto m = measured(face.seen(2));
        QVERIFY(m.usable());
        QVERIFY2(std::abs(m.centre.x.value() - face.middle().x) < 0.5 && std::abs(m.centre.y.value() - face.middle().y) < 0.5,
                 qPrintable(QString("%1, %2").arg(m.centre.x.value()).arg(m.centre.y.value())));
        QVERIFY2(std::abs(m.claddingDiameter.value() / ppu - 125) < 1, qPrintable(QString::number(m.claddingDiameter.value() / ppu)));
        QVERIFY2(std::abs(m.scale.micrometresPerPixel() * ppu - 1) < 0.01, qPrintable(QString::number(m.scale.micrometresPerPixel())));
        QCOMPARE(m.findings.size(), std::size_t{3});
        for (const auto& [x, y, size] : {std::array{20.0, -14.0, 4.0}, std::array{-25.0, 10.0, 1.2}, std::array{85.0, 30.0, 12.0}}) {
            const auto there = std::find_if(m.findings.begin(), m.findings.end(), [x = x, y = y](const Finding& f) {
                return std::hypot(f.centre.x.value() - x, f.centre.y.value() - y) < 0.5;
            });
            QVERIFY2(there != m.findings.end(), qPrintable(QString::number(x)));
            QVERIFY2(std::abs(there->size.value() - size) < 0.7, qPrintable(QString("%1: %2").arg(size).arg(there->size.value())));
        }
    }
};

QTEST_GUILESS_MAIN(TestWorking)
#include "test_working.moc"
