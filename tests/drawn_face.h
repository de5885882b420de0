#pragma once
#include <opencv2/imgproc.hpp>

#include "face/face_report.h"

/// A face drawn for the tests of what is seen in pictures.
namespace clendo::face {

/// What is drawn of a face before the optics, at four times the picture's resolution. Places in um from the fibre's middle, levels in grey.
class Drawn {
public:
    explicit Drawn(double glass, double ferrule = 140, double line = 40, double pixelsPerUm = 2)
        : ppu_(pixelsPerUm), size_(cvRound(260 * ppu_), cvRound(200 * ppu_)), fine_(size_ * 4, static_cast<float>(ferrule))
    {
        disc({0, 0}, 63.3, line);
        disc({0, 0}, 62.5, glass);
    }
    void disc(cv::Point2d um, double radius, double level) { cv::circle(fine_, at(um), cvRound(radius * ppu_ * 4), cv::Scalar(level), cv::FILLED); }
    /// Makes a disc of what is there so many times as bright.
    void film(cv::Point2d um, double radius, double factor)
    {
        cv::Mat1b mask(fine_.size(), std::uint8_t{0});
        cv::circle(mask, at(um), cvRound(radius * ppu_ * 4), 255, cv::FILLED);
        cv::Mat covered = fine_ * factor;
        covered.copyTo(fine_, mask);
    }
    /// A chain of places, so wide, over whatever is there.
    void line(const std::vector<cv::Point2d>& chain, double wide, double level)
    {
        for (std::size_t i = 0; i + 1 < chain.size(); ++i)
            cv::line(fine_, at(chain[i]), at(chain[i + 1]), cv::Scalar(level), cvRound(wide * ppu_ * 4));
    }
    /// Grain of the ferrule, about 3 um: standard deviation as a share of its level.
    void grain(double share)
    {
        cv::Mat1f grain(fine_.size());
        cv::RNG random(11);
        random.fill(grain, cv::RNG::NORMAL, 0, 1);
        const double sigma = 1.2 * ppu_ * 4;
        cv::GaussianBlur(grain, grain, {}, sigma);
        grain *= share * 2 * sigma * std::sqrt(CV_PI);  // what blurring left of it
        cv::circle(grain, at({0, 0}), cvRound(63.3 * ppu_ * 4), cv::Scalar(0), cv::FILLED);
        for (int y = 0; y < fine_.rows; ++y)
            for (int x = 0; x < fine_.cols; ++x) fine_(y, x) *= std::max(0.0F, 1 + grain(y, x));
    }
    /// Light in the core, brightest in the middle, as a Gaussian of that radius at 1/e^2.
    void light(double peak, double radius)
    {
        for (int y = 0; y < fine_.rows; ++y)
            for (int x = 0; x < fine_.cols; ++x) {
                const double r = std::hypot(x / 4.0 - middle().x, y / 4.0 - middle().y) / ppu_;
                if (r < 62) fine_(y, x) += static_cast<float>(peak * std::exp(-2 * r * r / (radius * radius)));
            }
    }
    [[nodiscard]] cv::Mat1b seen(double noise, int seed = 5) const
    {
        cv::Mat1f picture, grain(size_);
        cv::resize(fine_, picture, size_, 0, 0, cv::INTER_AREA);
        cv::GaussianBlur(picture, picture, {}, 0.45 * ppu_);
        cv::RNG random(static_cast<std::uint64_t>(seed));
        random.fill(grain, cv::RNG::NORMAL, 0, noise);
        cv::Mat1b out;
        cv::Mat(picture + grain).convertTo(out, CV_8U);
        return out;
    }
    /// The fibre's, pixels of the picture.
    [[nodiscard]] cv::Point2d middle() const { return {129.65 * ppu_, 100.2 * ppu_}; }

private:
    [[nodiscard]] cv::Point at(cv::Point2d um) const { return {cvRound((middle().x + um.x * ppu_) * 4), cvRound((middle().y + um.y * ppu_) * 4)}; }
    double ppu_;
    cv::Size size_;
    cv::Mat1f fine_;
};

inline Picture pictureOf(const cv::Mat1b& picture) { return {picture.cols, picture.rows, {picture.begin(), picture.end()}}; }
inline FaceMeasurement measured(const cv::Mat1b& picture) { return measure(pictureOf(picture), {}).front(); }

/// What lies well within the glass.
inline std::vector<Finding> inGlass(const FaceMeasurement& m)
{
    std::vector<Finding> out;
    std::copy_if(m.findings.begin(), m.findings.end(), std::back_inserter(out), [](const Finding& f) { return f.nearest < Micrometre(57); });
    return out;
}

}  // namespace clendo::face
