#pragma once
#include <opencv2/core.hpp>
#include <optional>
#include <vector>

#include "face/memory/fingerprint.h"

namespace clendo::face {

/// Marks of one face laid over the relief of another, at one resolution.
class LaidMarks {
public:
    /// `step`: pixels of the reliefs per pixel.
    LaidMarks(const Fingerprint& face, const Relief& other, int step);

    [[nodiscard]] std::size_t count() const { return marks_.size(); }

    /// A mark laid on the other face: pixels of its map.
    using Places = std::vector<int>;
    /// Turned clockwise by so much about the fibre's centre.
    [[nodiscard]] Places turned(std::size_t mark, double degrees) const;
    /// Middle of a mark, um from the fibre's centre, turned so.
    [[nodiscard]] cv::Point2d middle(std::size_t mark, double degrees = 0) const;
    /// Direction of a line, of length 1, turned so; nothing of what is none.
    [[nodiscard]] std::optional<cv::Point2d> along(std::size_t mark, double degrees) const;
    /// Whether another of the marks runs along with this one.
    [[nodiscard]] bool hasParallel(std::size_t mark) const;

    /// By how much a face may be pushed aside, um along x and along y.
    static constexpr double farthestAside = 40;
    /// Correlation of a mark with what lies there on the other face, pushed aside (um), at the best of small shifts where it is any good.
    [[nodiscard]] double likeness(std::size_t mark, const Places& places, cv::Point2d aside = {}) const;

private:
    struct Mark {
        std::vector<cv::Point2f> from;  ///< the fibre's centre
        std::vector<float> values;      ///< less their mean, of length 1
        cv::Point2d middle;             ///< um
        std::optional<cv::Point2d> along{};
    };

    [[nodiscard]] cv::Mat1f reduced(const cv::Mat1f& map) const;
    [[nodiscard]] Mark markOf(const FaceMark& mark, const cv::Mat1f& map) const;
    [[nodiscard]] double correlation(const Mark& mark, const Places& places, cv::Point by) const;

    int step_, margin_, middle_;
    cv::Mat1f other_;
    std::vector<Mark> marks_;
};

}  // namespace clendo::face
