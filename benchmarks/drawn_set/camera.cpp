#include "camera.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <opencv2/imgproc.hpp>

namespace clendo::drawn {
namespace {

/// The share of light that passes a camera's borders.
cv::Mat1f passed(cv::Size size, const Camera& camera, cv::Point2d fibre, double keep, Dice& dice)
{
    cv::Mat1f out(size, 1.0F);
    const double w = size.width, h = size.height, half = std::hypot(w, h) / 2;
    const double aside = std::max(0.0, dice.between(1.02, 1.5) * keep - keep), away = dice.between(0, 0.9) * aside, angle = dice.angle();
    const cv::Point2d middle(fibre.x + away * std::cos(angle), fibre.y + away * std::sin(angle));
    const double windowRadius = keep + aside, soft = dice.between(0.7, 7), oval = dice.between(0.97, 1.03);
    const bool upright = dice.chance(0.4);
    const double from = dice.between(0, std::max(0.0, (upright ? fibre.y : fibre.x) - keep));
    const double to = dice.between(std::min(upright ? h : w, (upright ? fibre.y : fibre.x) + keep), upright ? h : w);
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) {
            const double dx = (x - w / 2) / half, dy = (y - h / 2) / half, r2 = dx * dx + dy * dy;
            double share = (1 + camera.tilt * (dx * std::cos(camera.tiltTo) + dy * std::sin(camera.tiltTo))) * (1 - (1 - camera.corners) * r2);
            if (camera.border == Border::Window) share /= 1 + std::exp((std::hypot(x - middle.x, (y - middle.y) * oval) - windowRadius) / soft);
            const double along = upright ? y : x;
            if (camera.border == Border::Bars && (along < from || along > to)) share = 0;
            out(y, x) = static_cast<float>(std::max(0.0, share));
        }
    return out;
}

double curved(double v, double curve, double gamma)
{
    const double x = std::pow(std::clamp(v / 255, 0.0, 1.5), gamma);
    if (x >= 1) return 255 * x;
    return 255 * (x + curve * (x * x * (3 - 2 * x) - x));
}

void stampOn(cv::Mat& picture, cv::Point2d fibre, double radius, Dice& dice)
{
    const std::array<std::string, 3> words{
        fmt::format("{:02}.{:02}.26 {:02}:{:02}", 1 + dice.below(28), 1 + dice.below(12), dice.below(24), dice.below(60)),
        fmt::format("CH {} x{}", 1 + dice.below(12), 200 * (1 + dice.below(2))), std::string("100 um |----|")};
    const std::array fonts{cv::FONT_HERSHEY_PLAIN, cv::FONT_HERSHEY_DUPLEX, cv::FONT_HERSHEY_COMPLEX_SMALL};
    for (int n = 1 + dice.below(2); n > 0; --n) {
        const std::string& text = words[static_cast<std::size_t>(dice.below(3))];
        const int font = fonts[static_cast<std::size_t>(dice.below(3))];
        const double scale = dice.between(0.5, 1.3) * picture.rows / 600;
        const int thick = scale > 1 && dice.chance(0.5) ? 2 : 1;
        int below = 0;
        const cv::Size size = cv::getTextSize(text, font, scale, thick, &below);
        const cv::Point at(dice.chance(0.5) ? 6 : picture.cols - size.width - 8, dice.chance(0.5) ? size.height + 6 : picture.rows - below - 6);
        const cv::Rect box(at.x - 3, at.y - size.height - 3, size.width + 6, size.height + below + 6);
        // never on the glass
        const double nearX = std::clamp(fibre.x, double(box.x), double(box.br().x)), nearY = std::clamp(fibre.y, double(box.y), double(box.br().y));
        if (std::hypot(nearX - fibre.x, nearY - fibre.y) < radius * 1.06) continue;
        const bool onBox = dice.chance(0.35);
        const double ink = dice.chance(0.7) ? 255 : 0;
        if (onBox) cv::rectangle(picture, box, cv::Scalar::all(255 - ink), cv::FILLED);
        cv::putText(picture, text, at, font, scale, cv::Scalar::all(ink), thick, dice.chance(0.5) ? cv::LINE_AA : cv::LINE_8);
    }
}

}  // namespace

double Camera::noise() const { return std::hypot(read, 255 * std::sqrt(grey / 255 / full)); }

cv::Mat Camera::expose(const cv::Mat1f& light, cv::Point2d fibre, double radius, double keep, Dice& dice) const
{
    const cv::Mat1f share = passed(light.size(), *this, fibre, keep, dice);
    const std::array<double, 3> tint{dice.between(0.75, 1.05), 1, dice.between(0.75, 1.05)};
    cv::Mat1f raw(light.size());
    const double dark = dice.between(0, 12);
    std::vector<double> column(static_cast<std::size_t>(light.cols));
    for (double& c : column) c = dice.normal(columns);
    for (int y = 0; y < light.rows; ++y)
        for (int x = 0; x < light.cols; ++x) {
            const std::size_t colour = (y % 2 == 0 && x % 2 == 0) ? 0 : (y % 2 == 1 && x % 2 == 1) ? 2 : 1;
            const double level = grey * double(light(y, x)) * double(share(y, x)) * (mosaic ? tint[colour] : 1);
            const double electrons = level / 255 * full;
            raw(y, x) = static_cast<float>(255 * (electrons + dice.normal(std::sqrt(electrons + 1))) / full + dice.normal(read) +
                                           column[static_cast<std::size_t>(x)] + dark);
        }
    for (int n = hot; n > 0; --n) raw(dice.below(raw.rows), dice.below(raw.cols)) += static_cast<float>(dice.between(25, 130));
    cv::Mat picture = raw;
    if (mosaic) {
        cv::Mat1w bits;
        cv::Mat colours;
        raw.convertTo(bits, CV_16U, 100);
        cv::demosaicing(bits, colours, cv::COLOR_BayerBG2BGR);
        colours.convertTo(picture, CV_32FC3, 0.01);
    }
    if (enlarged > 1) cv::resize(picture, picture, {}, enlarged, enlarged, cv::INTER_CUBIC);
    for (auto* v = picture.ptr<float>(); v != picture.ptr<float>() + picture.total() * std::size_t(picture.channels()); ++v)
        *v = static_cast<float>(curved(double(*v), curve, gamma));
    if (sharpen > 0) {
        cv::Mat smooth;
        cv::GaussianBlur(picture, smooth, {}, sharpenOver);
        cv::addWeighted(picture, 1 + sharpen, smooth, -sharpen, 0, picture);
    }
    if (stretch) {
        std::vector<float> v(picture.ptr<float>(), picture.ptr<float>() + picture.total() * std::size_t(picture.channels()));
        std::sort(v.begin(), v.end());
        const double low = double(v[v.size() / 200]), high = double(v[v.size() - v.size() / 500]);
        picture.convertTo(picture, CV_32F, 252 / std::max(1.0, high - low), -low * 252 / std::max(1.0, high - low));
    }
    cv::Mat out;
    picture.convertTo(out, CV_8U);
    if (stamp) stampOn(out, fibre * enlarged, radius * enlarged, dice);
    return out;
}

Camera someCamera(Dice& dice)
{
    Camera c;
    c.grey = dice.between(105, 190);
    c.tilt = dice.between(0, 0.25);
    c.tiltTo = dice.angle();
    c.corners = dice.between(0.55, 1);
    c.full = dice.decades(2500, 40000);
    c.read = dice.between(0.4, 2);
    if (dice.chance(0.3)) c.columns = dice.between(0.1, 0.6);
    c.curve = dice.chance(0.4) ? dice.between(-0.3, 0.5) : 0;
    c.gamma = dice.between(0.75, 1.2);
    if (dice.chance(0.25)) {
        c.sharpen = dice.between(0.2, 0.9);
        c.sharpenOver = dice.between(0.7, 1.6);
    }
    return c;
}

}  // namespace clendo::drawn
