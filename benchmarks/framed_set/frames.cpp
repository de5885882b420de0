#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>

#include "alterations.h"

namespace clendo::framed {
namespace {

/// Dark with a little noise, as a sensor that gets no light.
std::uint8_t noLight(std::mt19937& dice, double level) { return cv::saturate_cast<std::uint8_t>(level + std::normal_distribution(0.0, 1.5)(dice)); }

/// A window whose edge is soft over some pixels; it holds the cladding, and as much of the ferrule as there happens to be.
void roundWindow(cv::Mat1b& p, cv::Point2d fibre, double r, std::mt19937& dice)
{
    const double radius = between(dice, 1.25, 2.4) * r, soft = between(dice, 1.5, 9), level = between(dice, 0, 14), slack = radius - 1.12 * r;
    const double away = between(dice, 0, std::max(0.0, slack)), angle = between(dice, 0, 2 * CV_PI);
    const cv::Point2d middle(fibre.x + away * std::cos(angle), fibre.y + away * std::sin(angle));
    for (int y = 0; y < p.rows; ++y)
        for (int x = 0; x < p.cols; ++x) {
            const double share = 1 / (1 + std::exp((std::hypot(x - middle.x, y - middle.y) - radius) / soft));
            p(y, x) = cv::saturate_cast<std::uint8_t>(share * p(y, x) + (1 - share) * noLight(dice, level));
        }
}

void bars(cv::Mat1b& p, cv::Point2d fibre, double r, std::mt19937& dice)
{
    const double level = between(dice, 0, 20);
    const int left = static_cast<int>(between(dice, 0, std::max(0.0, fibre.x - 1.15 * r))),
              right = static_cast<int>(between(dice, std::min<double>(p.cols, fibre.x + 1.15 * r), p.cols));
    for (int y = 0; y < p.rows; ++y)
        for (int x = 0; x < p.cols; ++x)
            if (x < left || x >= right) p(y, x) = noLight(dice, level);
}

/// Light that falls to the corners as the fourth power of the cosine, and more.
void darkCorners(cv::Mat1b& p, cv::Point2d, double, std::mt19937& dice)
{
    const cv::Point2d middle(p.cols * between(dice, 0.42, 0.58), p.rows * between(dice, 0.42, 0.58));
    const double reach = between(dice, 0.55, 1.0) * std::hypot(p.cols, p.rows) / 2, power = between(dice, 2, 4);
    for (int y = 0; y < p.rows; ++y)
        for (int x = 0; x < p.cols; ++x) {
            const double d = std::hypot(x - middle.x, y - middle.y) / reach;
            p(y, x) = cv::saturate_cast<std::uint8_t>(p(y, x) / std::pow(1 + d * d, power / 2));
        }
}

void stamped(cv::Mat1b& p, cv::Point2d fibre, double r, std::mt19937& dice)
{
    const std::string words = fmt::format("2026-11-{:02} {:02}:{:02} {}X", 1 + dice() % 28, dice() % 24, dice() % 60, 100 * (1 + dice() % 4));
    const double scale = std::max(0.4, p.rows / 960.0);
    const bool top = fibre.y > p.rows / 2.0 && fibre.y - r > 30 * scale;
    const cv::Point at(static_cast<int>(8 * scale), top ? static_cast<int>(22 * scale) : p.rows - static_cast<int>(8 * scale));
    cv::putText(p, words, at, cv::FONT_HERSHEY_SIMPLEX, 0.7 * scale, dice() % 2 ? 255 : 0, std::max(1, cvRound(1.6 * scale)), cv::LINE_AA);
}

constexpr Alteration all[] = {{"round window", roundWindow}, {"bars", bars}, {"dark corners", darkCorners}, {"stamped", stamped}};

}  // namespace

double between(std::mt19937& dice, double low, double high) { return std::uniform_real_distribution(low, high)(dice); }

std::span<const Alteration> frames() { return all; }

}  // namespace clendo::framed
