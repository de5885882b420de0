#pragma once
#include <opencv2/imgproc.hpp>

#include "face/find/locate.h"

namespace clendo::face {

/// The square of `reach` pixels around a circle, as far as it lies in the picture, whose sides `factor` divides.
inline cv::Rect squareAround(const Circle& circle, double reach, int factor, cv::Size picture)
{
    cv::Rect square(static_cast<int>(circle.x - reach), static_cast<int>(circle.y - reach), static_cast<int>(2 * reach) + 2,
                    static_cast<int>(2 * reach) + 2);
    square &= cv::Rect({}, picture);
    square.width -= square.width % factor;
    square.height -= square.height % factor;
    return square;
}

/// A picture of pixels that are means of `factor` by `factor`; the picture itself for 1.
inline cv::Mat1b reduced(const cv::Mat1b& picture, int factor)
{
    if (factor == 1) return picture;
    cv::Mat1b out;
    cv::resize(picture, out, {picture.cols / factor, picture.rows / factor}, 0, 0, cv::INTER_AREA);
    return out;
}

}  // namespace clendo::face
