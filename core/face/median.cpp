#include "face/median.h"

#include <Eigen/Core>
#include <array>
#include <cmath>
#include <cstdint>
#include <utility>

namespace clendo::face {
namespace {

constexpr std::ptrdiff_t many = 64, veryMany = 1000;  // below the first, counting takes longer than comparing
constexpr std::size_t someBuckets = 256, mostBuckets = 512;

}  // namespace

// Values are counted in buckets of their range, and only those in the bucket of the middle one are compared: comparing all of them to each other
// is slow, as no processor can tell how a comparison of noise comes out.
float medianOf(std::span<float> values)
{
    if (std::ssize(values) < many) return medianOf<float>(values);
    const std::size_t buckets = std::ssize(values) < veryMany ? someBuckets : mostBuckets;
    const Eigen::Map<const Eigen::ArrayXf> all(values.data(), std::ssize(values));
    const float least = all.minCoeff(), range = all.maxCoeff() - least, perUnit = static_cast<float>(buckets - 1) / range;
    if (!(range > 0) || !std::isfinite(range) || !std::isfinite(perUnit)) return medianOf<float>(values);
    const Eigen::ArrayXi bucket = ((all - least) * perUnit).cast<int>();
    const auto bucketOf = [&](std::ptrdiff_t i) { return static_cast<std::size_t>(bucket[i]) & (buckets - 1); };  // whatever no number became
    std::array<std::int32_t, mostBuckets> count;
    std::fill_n(count.begin(), buckets, 0);
    for (std::ptrdiff_t i = 0; i < bucket.size(); ++i) ++count[bucketOf(i)];
    std::ptrdiff_t middle = std::ssize(values) / 2;
    std::size_t n = 0;
    for (; count[n] <= middle; ++n) middle -= count[n];
    auto inside = values.begin();  // the bucket's go to the front
    for (std::ptrdiff_t i = 0; i < bucket.size(); ++i)
        if (bucketOf(i) == n) std::swap(*inside++, values[static_cast<std::size_t>(i)]);
    std::nth_element(values.begin(), values.begin() + middle, inside);
    return values[static_cast<std::size_t>(middle)];
}

}  // namespace clendo::face
