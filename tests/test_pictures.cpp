#include <QBuffer>
#include <QImage>
#include <QtTest>

#include "face/face_report.h"
#include "files/files.h"
#include "pictures/decode.h"
#include "world/face_world.h"

using namespace clendo;

namespace {

std::string encoded(const QImage& image, const char* format, int quality = -1)
{
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    image.save(&buffer, format, quality);
    return bytes.toStdString();
}

}  // namespace

class TestPictures : public QObject {
    Q_OBJECT
private slots:
    void aPngComesBackAsItWas()
    {
        const auto picture = world::takePicture(world::makeFace(world::Story::Dusty, 1), {});
        const auto back = decodePicture(encodePng(picture), "a.png").value();
        QCOMPARE(back.width, picture.width);
        QCOMPARE(back.height, picture.height);
        QVERIFY(back.pixels == picture.pixels);
    }
    void formatsAndDepths_data()
    {
        QTest::addColumn<QString>("format");
        QTest::addColumn<int>("depth");
        for (const char* format : {"PNG", "JPG", "BMP", "TIFF"})
            for (const auto depth : {QImage::Format_Grayscale8, QImage::Format_RGB32, QImage::Format_ARGB32, QImage::Format_Grayscale16})
                if (!(QString(format) == "BMP" && depth == QImage::Format_Grayscale16))
                    QTest::addRow("%s %d", format, int(depth)) << format << int(depth);
    }
    void formatsAndDepths()
    {
        QFETCH(QString, format);
        QFETCH(int, depth);
        QImage image(64, 48, QImage::Format_RGB32);
        image.fill(QColor(120, 120, 120));
        const auto picture = decodePicture(encoded(image.convertToFormat(QImage::Format(depth)), format.toLatin1().constData()), "x");
        QVERIFY2(picture.has_value(), picture ? "" : picture.error().message.c_str());
        QCOMPARE(picture->width, 64);
        QVERIFY(picture->sound());
        QVERIFY(qAbs(int(picture->pixels[100]) - 120) <= 2);
    }
    void whatCompressionPutThereIsNoFinding_data()
    {
        QTest::addColumn<int>("quality");
        QTest::addColumn<double>("brightness");
        for (const int quality : {55, 65, 80, 92})
            for (const double brightness : {0.35, 0.6, 1.0}) QTest::addRow("%d at %.2f", quality, brightness) << quality << brightness;
    }
    void whatCompressionPutThereIsNoFinding()
    {
        QFETCH(int, quality);
        QFETCH(double, brightness);
        for (const std::uint32_t seed : {1U, 2U}) {
            const world::Camera camera{1024, 768, Scale(0.31), Micrometre(0.45), {}, {}, brightness, 1.6, seed};
            const auto sharp = world::takePicture({}, camera);
            const QImage image(sharp.pixels.data(), sharp.width, sharp.height, sharp.width, QImage::Format_Grayscale8);
            const auto faces = face::measure(decodePicture(encoded(image, "JPG", quality), "a.jpg").value(), {});
            QCOMPARE(faces.size(), std::size_t(1));
            for (const auto& finding : faces.front().findings)
                QVERIFY2(finding.nearest > Micrometre(57.5), qPrintable(QString::number(finding.contrast)));
        }
    }
    void fewGreyLevelsAreNoFindings()
    {
        for (const int step : {2, 4, 6})
            for (const double brightness : {0.35, 0.7}) {
                auto coarse = world::takePicture({}, {1024, 768, Scale(0.31), Micrometre(0.45), {}, {}, brightness, 1.0, 3});
                for (auto& v : coarse.pixels) v = static_cast<std::uint8_t>(v / step * step);
                const auto face = face::measure(coarse, {}).front();
                QVERIFY(face.usable());
                for (const auto& finding : face.findings) QVERIFY2(finding.nearest > Micrometre(57.5), qPrintable(QString::number(finding.contrast)));
            }
    }
    void badOnesAreRefusedWithASentence_data()
    {
        QTest::addColumn<QByteArray>("bytes");
        QTest::addColumn<int>("code");
        const auto row = [](const char* name, const std::string& bytes, Error::Code code) {
            QTest::newRow(name) << QByteArray::fromStdString(bytes) << int(code);
        };
        row("empty", "", Error::Code::NotAPicture);
        row("text", "this is not a picture", Error::Code::NotAPicture);
        const std::string jpeg = encoded(QImage(TEST_DATA "/faces/passes-dusty.jpg"), "JPG");
        row("a JPEG cut off at three quarters", jpeg.substr(0, jpeg.size() * 3 / 4), Error::Code::NotAPicture);
        row("a JPEG without its end", jpeg.substr(0, jpeg.size() - 2), Error::Code::NotAPicture);
        row("one pixel", encoded(QImage(1, 1, QImage::Format_RGB32), "PNG"), Error::Code::PictureTooSmall);
        row("20,000 pixels wide", encoded(QImage(20000, 20, QImage::Format_Grayscale8), "PNG"), Error::Code::PictureTooLarge);
        const std::string good = encoded(QImage(640, 480, QImage::Format_RGB32), "PNG");
        row("only the beginning", good.substr(0, 20), Error::Code::NotAPicture);
        row("cut in the middle", good.substr(0, good.size() / 3), Error::Code::NotAPicture);
        row("an SVG that is called a PNG", "<svg xmlns='http://www.w3.org/2000/svg' width='640' height='480'><image href='/etc/passwd'/></svg>",
            Error::Code::NotAPicture);
        row("a format that nobody judges", encoded(QImage(640, 480, QImage::Format_RGB32), "PPM"), Error::Code::NotAPicture);
        row("11,000 x 11,000", encoded(QImage(11000, 11000, QImage::Format_Grayscale8), "PNG"), Error::Code::PictureTooLarge);
        std::string bomb = good;  // says that it has 2^31 - 1 columns
        bomb.replace(16, 4, std::string("\x7F\xFF\xFF\xFF", 4));
        row("a size beyond all", bomb, Error::Code::NotAPicture);
    }
    void badOnesAreRefusedWithASentence()
    {
        QFETCH(QByteArray, bytes);
        QFETCH(int, code);
        const auto picture = decodePicture(bytes.toStdString(), "scope.png");
        QVERIFY(!picture);
        if (QByteArray(QTest::currentDataTag()) != "a size beyond all") QCOMPARE(int(picture.error().code), code);
        QVERIFY(picture.error().message.find("scope.png") != std::string::npos);
    }
    void theLargestPictureIsRead()
    {
        QImage large(8000, 8000, QImage::Format_RGB32);
        large.fill(QColor(90, 100, 110));
        const auto picture = decodePicture(encoded(large, "BMP"), "large.bmp");
        QVERIFY2(picture.has_value(), picture ? "" : picture.error().message.c_str());
        QCOMPARE(picture->width, 8000);
        QCOMPARE(int(picture->pixels.front()), 100);
    }
    void samplePicturesAreJudged_data()
    {
        QTest::addColumn<QString>("file");
        QTest::addColumn<QString>("className");
        QTest::addColumn<bool>("isFit");
        QTest::newRow("JPEG with dust") << "passes-dusty.jpg"
                                        << "sm-upc" << true;
        QTest::newRow("blue light") << "passes-colour.jpg"
                                    << "sm-upc" << true;
        QTest::newRow("50 um core, scratches") << "fails-mm50.png"
                                               << "mm-pc" << false;
    }
    void samplePicturesAreJudged()
    {
        QFETCH(QString, file);
        QFETCH(QString, className);
        QFETCH(bool, isFit);
        const auto picture = decodePicture(readFile(std::string(TEST_DATA "/faces/") + file.toStdString()).value(), file.toStdString()).value();
        const auto m = face::measure(picture, {}).front();
        QVERIFY(m.usable());
        const Criteria criteria = loadCriteria("2015", dataFolder()).value();
        QCOMPARE(judge(m.findings, criteria.find(className.toStdString()).value(), criteria).fit, isFit);
        QVERIFY(m.core == (className == "mm-pc" ? CoreKind::Multimode50 : CoreKind::SingleMode));
    }
    void aRowOfTwelveIsCounted()
    {
        const auto picture = decodePicture(readFile(TEST_DATA "/faces/row-of-12.jpg").value(), "row").value();
        face::MeasureOptions options;
        options.fibres.reset();
        QCOMPARE(face::measure(picture, options).size(), std::size_t{12});
    }
};
QTEST_MAIN(TestPictures)
#include "test_pictures.moc"
