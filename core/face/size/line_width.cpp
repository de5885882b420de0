#include "face/size/line_width.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <opencv2/imgproc.hpp>
#include <vector>

#include "face/size/falls_to.h"
#include "face/size/line_grid.h"

namespace clendo::face {
namespace {

constexpr double step = 0.25;                   // pixels between the points of a profile
constexpr std::size_t fewestStations = 8;       // profiles of one
constexpr double leftOut = 0.2;                 // share of the profiles left out at either end: what crosses it, gaps
constexpr double mostOff = 1, mostOffUm = 0.4;  // of its middle from an arc, pixels or um
constexpr double clear = 5;                     // times what is left of the noise
constexpr double widestGroove = 5.5;            // um: wider ones are two lines; where it is open the wider is the stricter
constexpr double mostSoft = 0.75;               // of its width at half its height, from there to where the other flank begins
constexpr double leastFlank = 0.12;             // of the stronger one
constexpr double oneSided = 2.5;                // times what the other side shows: halos of sharpening lie on both

/// The mean without the largest and smallest; nothing of too few.
std::optional<double> middleOf(std::vector<double>& values)
{
    if (values.size() < fewestStations) return std::nullopt;
    std::sort(values.begin(), values.end());
    const auto drop = static_cast<std::size_t>(leftOut * double(values.size()));
    double sum = 0;
    for (std::size_t i = drop; i + drop < values.size(); ++i) sum += values[i];
    return sum / double(values.size() - 2 * drop);
}

/// Mean profile across a line, `step` apart.
struct Profile {
    std::vector<double> values;  ///< positive where it differs from its surroundings as the line does
    std::size_t middle = 0;      ///< where in them the line's middle lies
};

/// Of `reach` points and the middle, as far as enough of them is judged: beside the rim one side is short. Empty where the middle is not.
Profile profileOf(const Flattened& glass, const Piece& piece, const Shape& shape, const Course& course, double ppu, int reach)
{
    const double end = shape.meanWidth + 1 / ppu;  // its ends are narrower
    const int stations = static_cast<int>((shape.longer - 2 * end) * ppu);
    if (stations < static_cast<int>(fewestStations)) return {};
    const cv::Point2d along = shape.along, across(-along.y, along.x), from = cv::Point2d(piece.centre) - glass.origin;
    const LineGrid grid(stations, reach, [&](int n, int i) {
        const double t = end + n / ppu;
        return from + (course.first + t) * ppu * along + (course.aside(t, shape) * ppu + i * step) * across;
    });
    const cv::Mat1f values = grid.read(glass.contrast);
    cv::Mat1b judged;
    cv::remap(glass.judged, judged, grid.x, grid.y, cv::INTER_NEAREST, cv::BORDER_CONSTANT, cv::Scalar(0));
    Profile profile;
    std::vector<double> column;
    for (int i = 0; i < values.cols; ++i) {
        column.clear();
        for (int n = 0; n < stations; ++n)
            if (judged(n, i)) column.push_back(double(values(n, i)));
        const auto mean = middleOf(column);
        if (!mean) {
            if (i > reach) break;
            profile.values.clear();
            continue;
        }
        if (i == reach) profile.middle = profile.values.size();
        profile.values.push_back(piece.contrast < 0 ? -*mean : *mean);
    }
    return profile;
}

/// What lies beside a line and differs the other way from its surroundings.
struct Flank {
    double height = 0, end = 0;  ///< where it has fallen to half of that, on its far side
};

/// The flank that begins where the line ends (`from`, at half its height); of what begins farther off than `softest` none.
Flank flankFrom(const std::vector<double>& profile, double from, int way, double softest)
{
    Flank out;
    const auto zero = fallsTo(profile, static_cast<std::size_t>(way < 0 ? std::floor(from) : std::ceil(from)), way, 0);
    if (!zero || std::abs(*zero - from) > softest) return out;
    const auto size = static_cast<long>(profile.size());
    for (long k = std::lround(*zero); k >= 0 && k < size; k += way) {
        const double v = -profile[static_cast<std::size_t>(k)];
        if (v > out.height) out.height = v;
        if (out.height > 0 && v < out.height / 2) {
            const double last = -profile[static_cast<std::size_t>(k - way)];
            out.end = double(k) - way * (out.height / 2 - v) / std::max(1e-12, last - v);
            return out;
        }
    }
    return {};
}

/// How far apart the outer sides of a blurred groove are seen, in sigmas, `width` sigmas wide.
double grooveSeen(double width)
{
    const auto height = [&](double x) {  // of the flank on the right
        const auto below = [](double v) { return 0.5 * std::erfc(-v / std::numbers::sqrt2); };
        return 2 * below(x) - below(x - width / 2) - below(x + width / 2);
    };
    double peak = 0, at = 0;
    for (double x = 0; x < width / 2 + 3; x += 0.05)
        if (height(x) > peak) peak = height(at = x);
    double x = at;
    while (height(x) > peak / 2) x += 0.02;
    return 2 * x;
}

}  // namespace

double widthBeforeBlur(double seen, double sigma)
{
    if (sigma <= 0) return seen;
    const auto height = [&](double x, double w) {
        return std::erf((x + w / 2) / (std::numbers::sqrt2 * sigma)) - std::erf((x - w / 2) / (std::numbers::sqrt2 * sigma));
    };
    // at half the seen width a blurred bar stands at half its height: above it for wider bars
    double low = 0, high = seen + sigma;
    for (int i = 0; i < 40; ++i) {
        const double w = (low + high) / 2;
        (2 * height(seen / 2, w) < height(0, w) ? low : high) = w;
    }
    return (low + high) / 2;
}

double grooveBeforeBlur(double seen, double sigma)
{
    if (sigma <= 0) return seen;
    double low = 0.05, high = seen / sigma + 1;
    for (int i = 0; i < 20; ++i) {
        const double w = (low + high) / 2;
        (grooveSeen(w) < seen / sigma ? low : high) = w;
    }
    return sigma * (low + high) / 2;
}

std::optional<double> lineWidth(const Flattened& glass, const Piece& piece, const Shape& shape, const Course& course, double ppu, double sigma)
{
    if (!course.known || course.off > std::max(mostOff / ppu, mostOffUm)) return std::nullopt;
    const double side = shape.meanWidth / 2 + std::max(3 * sigma, widestGroove);
    const int reach = cvCeil(side * ppu / step);
    auto [profile, middle] = profileOf(glass, piece, shape, course, ppu, reach);
    const auto within = static_cast<std::size_t>((shape.meanWidth / 2 + sigma) * ppu / step);
    if (middle < within || middle + within >= profile.size()) return std::nullopt;

    // its surroundings: what lies outside on both sides
    const auto inside = static_cast<std::size_t>((shape.meanWidth / 2 + 2.5 * sigma) * ppu / step);
    std::vector<double> outside;
    for (std::size_t i = 0; i < profile.size(); ++i)
        if (i + inside < middle || i > middle + inside) outside.push_back(profile[i]);
    if (outside.size() < 6) return std::nullopt;
    std::sort(outside.begin(), outside.end());
    const double ground = outside[outside.size() / 2];
    for (double& v : outside) v = std::abs(v - ground);
    std::sort(outside.begin(), outside.end());
    const double noise = std::max(1e-4, outside[outside.size() * 2 / 5] / 0.52);  // of the calmer part: other lines lie beside it
    for (double& v : profile) v -= ground;

    const auto top = std::max_element(profile.begin() + static_cast<long>(middle - within), profile.begin() + static_cast<long>(middle + within + 1));
    if (*top < clear * noise) return std::nullopt;
    const auto at = static_cast<std::size_t>(top - profile.begin());
    const auto left = fallsTo(profile, at, -1, *top / 2), right = fallsTo(profile, at, 1, *top / 2);
    if (!left || !right) return std::nullopt;

    const double toUm = step / ppu, softest = mostSoft * (*right - *left);
    const Flank before = flankFrom(profile, *left, -1, softest), after = flankFrom(profile, *right, 1, softest);
    const Flank &flank = before.height > after.height ? before : after, &other = before.height > after.height ? after : before;
    if (flank.height > std::max(leastFlank * *top, clear * noise) && flank.height > oneSided * other.height) {
        const double groove = grooveBeforeBlur(std::abs(flank.end - (&flank == &before ? *right : *left)) * toUm, sigma);
        if (groove < widestGroove) return groove;
    }
    return widthBeforeBlur((*right - *left) * toUm, sigma);
}

}  // namespace clendo::face
