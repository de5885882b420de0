#include <QBuffer>
#include <QImage>
#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>

#include "alterations.h"
#include "pictures/decode.h"

namespace clendo::framed {
namespace {

void toned(cv::Mat1b& p, double power)
{
    cv::Mat1b table(1, 256);
    for (int i = 0; i < 256; ++i) table(i) = cv::saturate_cast<std::uint8_t>(255 * std::pow(i / 255.0, power));
    cv::LUT(p, table, p);
}
void darkTones(cv::Mat1b& p, cv::Point2d, double, std::mt19937& dice) { toned(p, between(dice, 1.15, 1.4)); }
void lightTones(cv::Mat1b& p, cv::Point2d, double, std::mt19937& dice) { toned(p, between(dice, 0.7, 0.85)); }

void sharpened(cv::Mat1b& p, cv::Point2d, double, std::mt19937& dice)
{
    const double amount = between(dice, 0.4, 1.0);
    cv::Mat1b blurred;
    cv::GaussianBlur(p, blurred, {}, between(dice, 0.9, 1.7));
    cv::addWeighted(p, 1 + amount, blurred, -amount, 0, p);
}

void noisy(cv::Mat1b& p, cv::Point2d, double, std::mt19937& dice)
{
    std::normal_distribution noise(0.0, between(dice, 2, 5));
    for (auto& grey : p) grey = cv::saturate_cast<std::uint8_t>(grey + noise(dice));
}

void softened(cv::Mat1b& p, cv::Point2d, double, std::mt19937& dice) { cv::GaussianBlur(p, p, {}, between(dice, 0.5, 0.8)); }

void slanting(cv::Mat1b& p, cv::Point2d, double, std::mt19937& dice)
{
    const double from = between(dice, 0.7, 0.9), to = between(dice, 0.95, 1.05);
    for (int y = 0; y < p.rows; ++y)
        for (int x = 0; x < p.cols; ++x) p(y, x) = cv::saturate_cast<std::uint8_t>(p(y, x) * (from + (to - from) * x / p.cols));
}

void fewLevels(cv::Mat1b& p, cv::Point2d, double, std::mt19937& dice)
{
    const int step = 3 + static_cast<int>(dice() % 4);
    for (auto& grey : p) grey = static_cast<std::uint8_t>(grey - grey % step);
}

void compressed(cv::Mat1b& p, cv::Point2d, double, std::mt19937& dice)
{
    QBuffer bytes;
    bytes.open(QIODevice::WriteOnly);
    QImage(p.data, p.cols, p.rows, int(p.step), QImage::Format_Grayscale8).save(&bytes, "JPG", 50 + static_cast<int>(dice() % 40));
    if (auto again = decodePicture(bytes.data().toStdString(), "compressed")) cv::Mat1b(again->height, again->width, again->pixels.data()).copyTo(p);
}

constexpr Alteration all[] = {{"dark tones", darkTones}, {"light tones", lightTones}, {"sharpened", sharpened},  {"noisy", noisy},
                              {"softened", softened},    {"slanting", slanting},      {"few levels", fewLevels}, {"compressed", compressed}};

}  // namespace

std::span<const Alteration> cameras() { return all; }

}  // namespace clendo::framed
