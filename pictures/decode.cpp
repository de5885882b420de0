#include "pictures/decode.h"

#include <fmt/format.h>

#include <QBuffer>
#include <QImage>
#include <QImageReader>
#include <new>

namespace clendo {
namespace {

constexpr int shortestSide = 16, longestSide = 12000;
constexpr int lightPng = 80;  // grain does not compress: more effort costs seconds and saves little
constexpr qint64 mostPixels = 64'000'000;
constexpr int mostMegabytes = 600;      // that many pixels of eight bytes
constexpr std::size_t trailer = 65536;  // some scopes write notes behind the picture

/// A JPEG without its end is read with grey in place of what is missing: half a picture must not be judged as a whole one.
bool cutOffJpeg(std::string_view bytes)
{
    return bytes.starts_with("\xFF\xD8") && bytes.substr(bytes.size() - std::min<std::size_t>(bytes.size(), trailer)).find("\xFF\xD9") == bytes.npos;
}

/// Qt's name of the format that the first bytes are of; null: none that is read.
const char* formatOf(std::string_view bytes)
{
    if (bytes.starts_with("\x89PNG\r\n\x1A\n")) return "png";
    if (bytes.starts_with("\xFF\xD8\xFF")) return "jpeg";
    if (bytes.starts_with(std::string_view("II*\0", 4)) || bytes.starts_with(std::string_view("MM\0*", 4))) return "tiff";
    if (bytes.starts_with("BM")) return "bmp";
    return nullptr;
}

tl::unexpected<Error> tooLarge(const std::string& name, QSize size)
{
    return failure(Error::Code::PictureTooLarge,
                   fmt::format("“{}” is {} × {} pixels; at most {} a side and {} million in all are read. Save it at the scope's own resolution.",
                               name, size.width(), size.height(), longestSide, mostPixels / 1'000'000));
}

}  // namespace

Result<QImage> readImage(std::string_view bytes, const std::string& name)
try {
    const char* format = formatOf(bytes);
    QByteArray data = QByteArray::fromRawData(bytes.data(), static_cast<qsizetype>(bytes.size()));
    QBuffer buffer(&data);
    buffer.open(QIODevice::ReadOnly);
    QImageReader reader(&buffer, format);
    reader.setAutoDetectImageFormat(false);
    reader.setAutoTransform(true);
    QImageReader::setAllocationLimit(mostMegabytes);  // Qt's own limit lies below the largest pictures that are read here
    if (!format || !reader.canRead())
        return failure(Error::Code::NotAPicture, fmt::format("“{}” is not a picture that can be read. PNG, JPEG, TIFF and BMP are.", name));
    const QSize size = reader.size();
    if (size.isValid() && (size.width() > longestSide || size.height() > longestSide || qint64(size.width()) * size.height() > mostPixels))
        return tooLarge(name, size);
    if (size.isValid() && (size.width() < shortestSide || size.height() < shortestSide))
        return failure(Error::Code::PictureTooSmall,
                       fmt::format("“{}” is only {} × {} pixels. Save it at the scope's own resolution.", name, size.width(), size.height()));
    QImage image = reader.read();
    if (image.isNull() || cutOffJpeg(bytes))
        return failure(Error::Code::NotAPicture, fmt::format("“{}” is damaged and cannot be read to its end. Copy it from the scope again.", name),
                       reader.errorString().toStdString());
    if (image.width() < shortestSide || image.height() < shortestSide)
        return failure(Error::Code::PictureTooSmall,
                       fmt::format("“{}” is only {} × {} pixels. Save it at the scope's own resolution.", name, image.width(), image.height()));
    return image;
} catch (const std::bad_alloc&) {
    return failure(Error::Code::PictureTooLarge, fmt::format("There is not enough memory for “{}”. Save it at the scope's own resolution.", name));
}

Result<face::Picture> decodePicture(std::string_view bytes, const std::string& name) { return readImage(bytes, name).map(greyPicture); }

face::Picture greyPicture(const QImage& image)
{
    face::Picture out;
    out.width = image.width();
    out.height = image.height();
    out.pixels.resize(static_cast<std::size_t>(out.width) * static_cast<std::size_t>(out.height));
    const bool grey = image.format() == QImage::Format_Grayscale8;
    const QImage same = grey ? image : image.convertToFormat(QImage::Format_RGB32);
    for (int y = 0; y < out.height; ++y) {
        std::uint8_t* to = out.pixels.data() + static_cast<std::size_t>(y) * static_cast<std::size_t>(out.width);
        if (grey) {
            std::copy_n(same.constScanLine(y), out.width, to);
            continue;
        }
        const auto* from = reinterpret_cast<const QRgb*>(same.constScanLine(y));
        // the plain mean: coloured light must not cost contrast, as weights of the eye would
        for (int x = 0; x < out.width; ++x) to[x] = static_cast<std::uint8_t>((qRed(from[x]) + qGreen(from[x]) + qBlue(from[x]) + 1) / 3);
    }
    return out;
}

std::string encodePng(const face::Picture& picture)
{
    const QImage image(picture.pixels.data(), picture.width, picture.height, picture.width, QImage::Format_Grayscale8);
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    image.save(&buffer, "PNG", lightPng);
    return bytes.toStdString();
}

}  // namespace clendo
