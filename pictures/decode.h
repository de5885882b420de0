#pragma once
#include <string>
#include <string_view>

#include "face/picture.h"
#include "result/result.h"

class QImage;

namespace clendo {

/// Bytes of a PNG, JPEG, TIFF or BMP file as an image, turned as it says. What it is is told from its content, whatever its name: nothing else is
/// ever read as a picture (an SVG could draw other files). Errors as of decodePicture(). Everything that shows or prints a picture reads it here.
Result<QImage> readImage(std::string_view bytes, const std::string& name);

/// Bytes of a PNG, JPEG, TIFF or BMP file as a grey picture. Refuses what is no picture, below 16 px or above 64 megapixels or
/// 12,000 px a side, before anything of that size is allocated. `name` is used in messages.
Result<face::Picture> decodePicture(std::string_view bytes, const std::string& name);

/// An image as a grey picture: the plain mean of its colours. Any format; a null image gives an empty picture.
face::Picture greyPicture(const QImage& image);

/// The picture as a PNG file.
std::string encodePng(const face::Picture& picture);

}  // namespace clendo
