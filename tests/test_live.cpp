#include <QBuffer>
#include <QImage>
#include <QSignalSpy>
#include <QTemporaryDir>
#include <QtTest>
#include <thread>

#include "face/judge/focus_advice.h"
#include "instruments/live_scope.h"
#include "instruments/simulated_scope.h"
#include "instruments/stills_source.h"
#include "modules/video.h"
#include "modules/vision.h"
#include "pictures/decode.h"
#include "world/simulated_faces.h"

using namespace clendo;
using face::FocusAdvice;
using face::RetakeReason;

namespace {

/// A scope that sends what a test wants.
class HandFed : public VideoSource {
public:
    [[nodiscard]] QString name() const override { return QStringLiteral("hand fed"); }
    void start() override { ++started; }
    void stop() override {}
    void send(int width, int height, std::uint8_t mark)
    {
        emit frame(std::make_shared<const face::Picture>(
            face::Picture{width, height, std::vector<std::uint8_t>(static_cast<std::size_t>(width * height), mark)}));
    }
    int started = 0;
};

/// Stands in for measuring: the grey says how sharp the frame is, 0 is out of focus.
std::vector<face::FaceMeasurement> byGrey(const face::Picture& picture)
{
    face::FaceMeasurement m;
    m.focus = picture.pixels.front() / 100.0;
    if (picture.pixels.front() == 0) m.retake.push_back(RetakeReason::OutOfFocus);
    return {m};
}

/// Measures each frame by itself.
LiveScope::Measure each(std::function<std::vector<face::FaceMeasurement>(const face::Picture&)> measure)
{
    return [measure = std::move(measure)](const face::Picture& p, const auto&) { return face::FrameMeasured{measure(p)}; };
}

void little(QByteArray& out, quint32 value)
{
    for (int i = 0; i < 4; ++i) out.append(static_cast<char>(value >> (8 * i)));
}
QByteArray chunk(const char* name, const QByteArray& body)
{
    QByteArray out(name);
    little(out, static_cast<quint32>(body.size()));
    out += body;
    if (body.size() % 2) out.append('\0');
    return out;
}
QByteArray words(std::initializer_list<quint32> values)
{
    QByteArray out;
    for (const quint32 v : values) little(out, v);
    return out;
}
/// A motion-JPEG file as a camera would record it.
QByteArray motionJpeg(const QList<QImage>& images)
{
    const auto width = static_cast<quint32>(images[0].width()), height = static_cast<quint32>(images[0].height()),
               count = static_cast<quint32>(images.size());
    QByteArray frames;
    for (const QImage& image : images) {
        QByteArray jpeg;
        QBuffer buffer(&jpeg);
        buffer.open(QIODevice::WriteOnly);
        image.save(&buffer, "JPG", 95);
        frames += chunk("00dc", jpeg);
    }
    const QByteArray main = words({40000, 0, 0, 0x10, count, 0, 1, 0, width, height, 0, 0, 0, 0});
    const QByteArray stream = QByteArray("vidsMJPG") + words({0, 0, 0, 1, 25, 0, count, 0, 0xFFFFFFFF, 0, 0, (height << 16) | width});
    const QByteArray format = words({40, width, height, (24U << 16) | 1, 0x47504A4D, width * height * 3, 0, 0, 0, 0});
    const QByteArray header = chunk("LIST", "hdrl" + chunk("avih", main) + chunk("LIST", "strl" + chunk("strh", stream) + chunk("strf", format)));
    return chunk("RIFF", "AVI " + header + chunk("LIST", "movi" + frames));
}

}  // namespace

/// Live pictures: what is judged, what a capture takes, and what happens when the scope misbehaves.
class TestLive : public QObject {
    Q_OBJECT
private slots:
    void initTestCase() { qputenv("QT_MEDIA_BACKEND", "ffmpeg"); }

    void theSharpestOfTheLastFramesIsTaken()
    {
        auto owned = std::make_unique<HandFed>();
        HandFed& feed = *owned;
        LiveScope scope(std::move(owned), each(byGrey));
        scope.start();
        QCOMPARE(feed.started, 1);
        QVERIFY(!scope.sharpest());
        for (const int grey : {30, 80, 0, 55}) {
            const int before = scope.judged();
            feed.send(20, 20, static_cast<std::uint8_t>(grey));
            QTRY_COMPARE(scope.judged(), before + 1);
        }
        QVERIFY(scope.sharpest());
        QCOMPARE(scope.sharpest()->first().focus, 0.8);
        scope.forget();  // another face came under the scope
        QVERIFY(!scope.sharpest());
    }
    void anOldFrameIsNotTaken()
    {
        auto owned = std::make_unique<HandFed>();
        HandFed& feed = *owned;
        LiveScope scope(std::move(owned), each(byGrey));
        scope.start();
        feed.send(20, 20, 80);
        QTRY_VERIFY(scope.sharpest());
        QTRY_VERIFY_WITH_TIMEOUT(!scope.sharpest(), 4000);
    }
    void framesThatComeTooFastAreDroppedNotQueued()
    {
        auto owned = std::make_unique<HandFed>();
        HandFed& feed = *owned;
        std::atomic<int> measured = 0;
        LiveScope scope(std::move(owned), each([&](const face::Picture& p) {
                            std::this_thread::sleep_for(std::chrono::milliseconds(30));
                            ++measured;
                            return byGrey(p);
                        }));
        scope.start();
        for (int i = 0; i < 500; ++i) feed.send(20, 20, static_cast<std::uint8_t>(i % 90 + 1));
        QTRY_VERIFY(scope.judged() >= 2);
        QTest::qWait(150);
        QVERIFY2(measured <= 4, qPrintable(QString::number(measured)));
    }
    void aFrameThatCannotBeMeasuredIsSaidAndTheNextIsJudged()
    {
        auto owned = std::make_unique<HandFed>();
        HandFed& feed = *owned;
        LiveScope scope(std::move(owned), each([](const face::Picture& p) {
                            if (p.width == 64) throw std::bad_alloc();
                            return byGrey(p);
                        }));
        QSignalSpy trouble(&scope, &LiveScope::trouble), looked(&scope, &LiveScope::looked);
        scope.start();
        feed.send(64, 20, 50);
        QTRY_COMPARE(trouble.size(), 1);
        QVERIFY(trouble[0][0].toString().contains("memory"));
        feed.send(32, 20, 50);
        QTRY_COMPARE(looked.size(), 1);
    }
    void looksComeInTheirOrder()
    {
        auto owned = std::make_unique<HandFed>();
        HandFed& feed = *owned;
        LiveScope scope(std::move(owned), each([](const face::Picture& p) {
                            if (p.width == 64) std::this_thread::sleep_for(std::chrono::milliseconds(150));  // the first takes longer
                            return byGrey(p);
                        }));
        QList<int> widths;
        connect(&scope, &LiveScope::looked, this, [&](const LiveLook& look) { widths << look.frame->width; });
        scope.start();
        feed.send(64, 20, 50);
        feed.send(32, 20, 50);
        QTRY_COMPARE(scope.judged(), 2);
        QVERIFY(widths == QList<int>({32}) || widths == QList<int>({64, 32}));
    }
    void framesThatStopAreSaidAndTakenUpAgain()
    {
        auto owned = std::make_unique<HandFed>();
        HandFed& feed = *owned;
        LiveScope scope(std::move(owned), each(byGrey));
        QSignalSpy silent(&scope, &LiveScope::silentChanged);
        scope.start();
        feed.send(20, 20, 60);
        QTRY_VERIFY_WITH_TIMEOUT(scope.silent(), 4000);
        feed.send(40, 30, 60);  // back, with another size
        QVERIFY(!scope.silent());
        QCOMPARE(silent.size(), 2);
        QTRY_VERIFY(scope.sharpest());
        QCOMPARE(scope.sharpest()->frame->width, 40);
    }
    void nothingCountsAfterStop()
    {
        auto owned = std::make_unique<HandFed>();
        HandFed& feed = *owned;
        LiveScope scope(std::move(owned), each(byGrey));
        QSignalSpy looked(&scope, &LiveScope::looked);
        scope.start();
        feed.send(20, 20, 60);
        scope.stop();
        feed.send(20, 20, 60);
        QTRY_COMPARE(scope.judged(), 1);
        QCOMPARE(looked.size(), 0);
        QVERIFY(!scope.sharpest());
    }
    void aFrameThatIsNoneIsLeftOut()
    {
        auto owned = std::make_unique<HandFed>();
        HandFed& feed = *owned;
        LiveScope scope(std::move(owned), each(byGrey));
        scope.start();
        emit feed.frame(nullptr);
        emit feed.frame(std::make_shared<const face::Picture>(face::Picture{100, 100, {}}));
        QTest::qWait(50);
        QCOMPARE(scope.judged(), 0);
    }

    void theSimulatedScopeComesIntoFocusByItsWheel()
    {
        const FaceId face{"VP-04/10", End::A, Side::Port};
        const auto module = vision();
        QVERIFY(module);
        auto owned = std::make_unique<SimulatedScope>();
        SimulatedScope& simulated = *owned;
        simulated.pointAt([&] { return module->simulatedScope(face, 0); });
        LiveScope scope(std::move(owned), [&](const face::Picture& p, const auto& before) { return module->measureFrame(p, {}, before); });
        scope.start();
        QTRY_VERIFY_WITH_TIMEOUT(scope.judged() >= 3, 10000);
        QVERIFY(!scope.sharpest());  // out of focus at first
        scope.source().turnFocus(-simulated.defocus().value());
        QTRY_VERIFY_WITH_TIMEOUT(scope.sharpest(), 10000);
        QVERIFY(scope.sharpest()->first().focus > 0.6);
        QVERIFY(!scope.sharpest()->first().findings.empty());
        simulated.setLight(0.02);
        QTRY_COMPARE_WITH_TIMEOUT(scope.advice(), FocusAdvice::Light, 10000);
    }
    void aVideoFileIsJudgedFrameByFrame()
    {
        QTemporaryDir dir;
        const auto picture = simulatedPicture({"VP-04/7", End::A, Side::Port}, 0);
        const QImage image(picture.pixels.data(), picture.width, picture.height, picture.width, QImage::Format_Grayscale8);
        QFile file(dir.filePath("scope.avi"));
        QVERIFY(file.open(QIODevice::WriteOnly));
        file.write(motionJpeg(QList<QImage>(25, image.copy())));
        file.close();
        const auto player = video();
        QVERIFY(player);
        const auto module = vision();
        LiveScope scope(player->file(file.fileName()),
                        [&](const face::Picture& p, const auto& before) { return module->measureFrame(p, {}, before); });
        scope.start();
        QTRY_VERIFY_WITH_TIMEOUT(scope.sharpest(), 20000);
        QCOMPARE(scope.sharpest()->frame->width, picture.width);
        QCOMPARE(scope.sharpest()->first().findings.size(), face::measure(picture, {}).front().findings.size());
    }
    void aVideoThatIsNoneIsSaidSo()
    {
        QTemporaryDir dir;
        QFile file(dir.filePath("scope.avi"));
        QVERIFY(file.open(QIODevice::WriteOnly));
        file.write(QByteArray(4000, 'x'));
        file.close();
        const auto source = video()->file(file.fileName());
        QSignalSpy trouble(source.get(), &VideoSource::trouble);
        source->start();
        QTRY_VERIFY_WITH_TIMEOUT(!trouble.isEmpty(), 10000);
        QVERIFY(trouble[0][0].toString().contains("scope.avi"));
    }
    void aCameraThatIsNotThereIsSaidSo()
    {
        const auto source = video()->camera("no-such-camera");
        QSignalSpy trouble(source.get(), &VideoSource::trouble);
        source->start();
        QCOMPARE(trouble.size(), 1);
        QVERIFY(trouble[0][0].toString().contains("not plugged in"));
    }
    void stillsThatKeepComingAreALivePicture()
    {
        QTemporaryDir dir;
        StillsSource source(dir.path());
        QSignalSpy frames(&source, &VideoSource::frame), trouble(&source, &VideoSource::trouble);
        source.start();
        const auto put = [&](const char* name, const std::string& bytes) {
            QFile file(dir.filePath(name));
            QVERIFY(file.open(QIODevice::WriteOnly));
            file.write(bytes.data(), qint64(bytes.size()));
        };
        put("1.png", encodePng({40, 30, std::vector<std::uint8_t>(1200, 90)}));
        QTRY_COMPARE(frames.size(), 1);
        QCOMPARE(frames[0][0].value<Frame>()->width, 40);
        put("2.png", "no picture");
        QTRY_COMPARE(trouble.size(), 1);
    }

    void adviceFollowsTheHand_data()
    {
        QTest::addColumn<QList<double>>("blurs");  // of the last frames, 0.1 s apart; 0: sharp, -1: no fibre, -2: dark
        QTest::addColumn<int>("advice");
        QList<double> away, nearer, never, none;
        for (int i = 0; i < 12; ++i) {
            away << 2.1 + 0.2 * i;
            nearer << 5.0 - 0.2 * i;
        }
        for (int i = 0; i < 100; ++i) {
            never << 4.0;
            none << -1;
        }
        QTest::newRow("sharp") << QList<double>{3, 2.5, 0} << int(FocusAdvice::Sharp);
        QTest::newRow("getting worse") << away << int(FocusAdvice::TurnBack);
        QTest::newRow("getting better") << nearer << int(FocusAdvice::KeepTurning);
        QTest::newRow("never comes") << never << int(FocusAdvice::DoNotForce);
        QTest::newRow("never a fibre") << none << int(FocusAdvice::DoNotForce);
        QTest::newRow("no fibre yet") << QList<double>{-1, -1, -1} << int(FocusAdvice::FindTheFibre);
        QTest::newRow("lost for a moment") << QList<double>{0, 0, -1, -1} << int(FocusAdvice::HoldStill);
        QTest::newRow("dark") << QList<double>{0, -2} << int(FocusAdvice::Light);
        QTest::newRow("nothing yet") << QList<double>{} << int(FocusAdvice::FindTheFibre);
    }
    void adviceFollowsTheHand()
    {
        QFETCH(QList<double>, blurs);
        QFETCH(int, advice);
        std::vector<face::FocusSample> samples;
        for (const double blur : blurs) {
            face::FocusSample s{Second(0.1 * double(samples.size())), {}, {}};
            if (blur >= 0) s.blur = Micrometre(blur);
            if (blur > 0) s.reason = RetakeReason::OutOfFocus;
            if (blur == -1) s.reason = RetakeReason::NoFibre;
            if (blur == -2) s.reason = RetakeReason::TooDark;
            samples.push_back(s);
        }
        QCOMPARE(int(face::adviseFocus(samples)), advice);
        QVERIFY(sentenceOf(face::adviseFocus(samples)).size() > 10);
    }
};

QTEST_MAIN(TestLive)
#include "test_live.moc"
