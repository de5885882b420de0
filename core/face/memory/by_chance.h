#pragma once
#include <array>
#include <optional>
#include <vector>

#include "face/memory/laid_marks.h"

namespace clendo::face {

/// How much alike a mark is: correlations fall in so many ranges.
constexpr std::array<double, 5> likenessFrom{0.6, 0.75, 0.85, 0.93, 0.97};
/// 0 below the first, and so on.
std::size_t likenessRange(double correlation);
/// One figure for each range.
using PerRange = std::array<double, likenessFrom.size() + 1>;

/// How often a mark that is laid anywhere on another face is so much alike what lies there: once, on itself, among all the places where it might
/// lie. What is like it elsewhere is counted as well.
class ByChance {
public:
    /// The marks are to live as long.
    explicit ByChance(const LaidMarks& marks) : marks_(marks), anywhere_(marks.count()) {}

    /// Shares of places, at any turn; where it lies near the middle or at the rim, those at any turn alone, if it is alike more often there: what a
    /// core or the edge leaves is there on every face.
    [[nodiscard]] const PerRange& anywhere(std::size_t mark);
    /// Of a line, at a turn at which it runs along with the lines there: pushed across and along itself alone. Once one line of a polish lies on
    /// another, the direction of all others is no chance.
    [[nodiscard]] PerRange beside(std::size_t mark, double turn) const;

private:
    const LaidMarks& marks_;
    std::vector<std::optional<PerRange>> anywhere_;
};

}  // namespace clendo::face
