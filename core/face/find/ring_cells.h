#pragma once
#include <Eigen/Core>
#include <opencv2/core.hpp>
#include <vector>

namespace clendo::face {

/// Means over small pieces of rings around a fibre: what a model of the whole glass is fitted to. Each kind of value is an array of one
/// entry per cell, from the middle outwards.
struct RingCells {
    static constexpr int sectors = 16;
    static constexpr double reachUm = 58;    ///< just inside of every cladding's edge
    static constexpr float mostPixels = 12;  ///< in a cell's weight: beyond it, what a model lacks is more than noise

    Eigen::ArrayXf r;         ///< um from the centre
    Eigen::ArrayXf level;     ///< mean
    Eigen::ArrayXf weight;    ///< pixels, at most `mostPixels`
    std::vector<int> sector;  ///< 0 to 15, all round; 0 near the middle, where cells are squares

    /// `even`: levels, with 0 and less where there are none; `ppu`: pixels per um.
    RingCells(const cv::Mat1f& even, cv::Point2d centre, double ppu);

    [[nodiscard]] Eigen::Index size() const { return r.size(); }
};

}  // namespace clendo::face
