#include "face/memory/fingerprint.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <opencv2/imgproc.hpp>

namespace clendo::face {
namespace {

constexpr double strongFactor = 6, weakFactor = 3;  // standard deviations of noise: where a mark begins, and how far it goes
constexpr double leastStrong = 0.12;                // of the relief's strongest, where there is hardly any noise
constexpr double clearly = 1.5;                     // times as strong shows in another picture, too
constexpr double coreUm = 8, mostlyCore = 0.6;      // from the fibre's centre; share of a mark that lies there: what a core left is on every face
constexpr double aroundUm = 2;                      // that belong to the look of a mark
constexpr double slender = 4;                       // length over width of what is a line
constexpr double inLineUm = 1.6, inLineDegrees = 6;
constexpr double onLineUm = 5;
constexpr double sideBySideUm = 8;
constexpr std::size_t mostMarks = 24;  // the strongest: a crowded face has enough of them

/// A piece of the relief that stands out.
struct Patch {
    std::vector<cv::Point> pixels;
    double strength = 0;
    cv::Point2d middle, along;  ///< `along`: of the longest extent, of length 1
    double length = 0, width = 0;

    [[nodiscard]] bool line() const { return length > slender * width; }
};

void measureShape(Patch& p)
{
    const double n = double(p.pixels.size());
    cv::Point2d sum(0, 0);
    for (const auto& q : p.pixels) sum += cv::Point2d(q);
    p.middle = sum * (1 / n);
    double xx = 0, xy = 0, yy = 0;
    for (const auto& q : p.pixels) {
        const cv::Point2d d = cv::Point2d(q) - p.middle;
        xx += d.x * d.x;
        xy += d.x * d.y;
        yy += d.y * d.y;
    }
    const double angle = 0.5 * std::atan2(2 * xy, xx - yy), mean = (xx + yy) / 2 / n, spread = std::hypot((xx - yy) / 2, xy) / n;
    p.along = {std::cos(angle), std::sin(angle)};
    // of an even bar, extent is the root of 12 times the variance
    p.length = std::sqrt(12 * (mean + spread)) + 1;
    p.width = std::sqrt(12 * std::max(0.0, mean - spread)) + 1;
}

/// From where on a thing stands out.
double leastIn(const Relief& relief) { return std::max(leastStrong, strongFactor * relief.noise); }

bool isOfTheCore(const Patch& p)
{
    const cv::Point middle(Relief::middle, Relief::middle);
    const auto within =
        std::count_if(p.pixels.begin(), p.pixels.end(), [&](cv::Point q) { return cv::norm(q - middle) * Relief::umPerPixel < coreUm; });
    return double(within) > mostlyCore * double(p.pixels.size());
}

std::vector<Patch> patchesOf(const Relief& relief)
{
    const double strong = leastIn(relief), weak = strong * weakFactor / strongFactor;
    std::vector<Patch> out;
    for (const double sign : {-1.0, 1.0}) {
        cv::Mat1b above;
        cv::compare(relief.map, sign * weak, above, sign > 0 ? cv::CMP_GT : cv::CMP_LT);
        above &= relief.seen;
        cv::Mat1i labels;
        std::vector<Patch> found(static_cast<std::size_t>(cv::connectedComponents(above, labels, 8)));
        for (int y = 0; y < labels.rows; ++y)
            for (int x = 0; x < labels.cols; ++x)
                if (const int n = labels(y, x); n > 0) {
                    Patch& p = found[static_cast<std::size_t>(n)];
                    p.pixels.emplace_back(x, y);
                    p.strength = std::max(p.strength, sign * double(relief.map(y, x)));
                }
        for (Patch& p : found)
            if (p.strength > strong && !isOfTheCore(p)) {
                measureShape(p);
                out.push_back(std::move(p));
            }
    }
    return out;
}

/// Distance of a place from the line along a patch, um.
double aside(const Patch& of, cv::Point2d at)
{
    const cv::Point2d d = at - of.middle;
    return std::abs(of.along.x * d.y - of.along.y * d.x) * Relief::umPerPixel;
}

/// Whether a patch lies on a line: light beside a scratch, and what a core makes of it.
bool liesOn(const Patch& line, const Patch& other)
{
    if (!line.line() || other.length > line.length) return false;
    return aside(line, other.middle) < onLineUm &&
           std::abs(line.along.dot(other.middle - line.middle)) < line.length / 2 + onLineUm / Relief::umPerPixel;
}

bool belongTogether(const Patch& a, const Patch& b)
{
    if (liesOn(a, b) || liesOn(b, a)) return true;
    return a.line() && b.line() && std::abs(a.along.dot(b.along)) > std::cos(inLineDegrees * std::numbers::pi / 180) &&
           aside(a, b.middle) < inLineUm && aside(b, a.middle) < inLineUm;
}

/// Parts of one scratch are one mark: they lie in line on any face that has a scratch there.
void joinLines(std::vector<Patch>& patches)
{
    for (std::size_t i = 0; i < patches.size(); ++i)
        for (std::size_t j = i + 1; j < patches.size();)
            if (belongTogether(patches[i], patches[j])) {
                patches[i].pixels.insert(patches[i].pixels.end(), patches[j].pixels.begin(), patches[j].pixels.end());
                patches[i].strength = std::max(patches[i].strength, patches[j].strength);
                measureShape(patches[i]);
                patches.erase(patches.begin() + static_cast<std::ptrdiff_t>(j));
                j = i + 1;
            } else {
                ++j;
            }
}

/// What a mark covers, widened by its surroundings.
std::vector<cv::Point> widened(const std::vector<cv::Point>& pixels, const cv::Mat1b& seen)
{
    cv::Mat1b mask(seen.size(), std::uint8_t{0});
    for (const auto& p : pixels) mask(p) = 255;
    const int reach = static_cast<int>(std::lround(aroundUm / Relief::umPerPixel));
    cv::dilate(mask, mask, cv::getStructuringElement(cv::MORPH_ELLIPSE, {2 * reach + 1, 2 * reach + 1}));
    mask &= seen;
    std::vector<cv::Point> out;
    cv::findNonZero(mask, out);
    return out;
}

/// Marks whose middles lie side by side are of one thing, as the ring of a droplet and its middle are.
void group(std::vector<FaceMark>& marks, const std::vector<cv::Point2d>& middles)
{
    for (std::size_t i = 0; i < marks.size(); ++i) {
        marks[i].group = static_cast<int>(i);
        for (std::size_t j = 0; j < i; ++j)
            if (cv::norm(middles[i] - middles[j]) * Relief::umPerPixel < sideBySideUm) {
                marks[i].group = marks[j].group;
                break;
            }
    }
}

bool lasts(const Finding& f) { return f.kind == FindingKind::Scratch || f.appearance == Appearance::Chip || f.appearance == Appearance::Crack; }

}  // namespace

bool Fingerprint::shouldLast(const FaceMark& mark, const Relief& other) { return mark.lasting && mark.strength > clearly * leastIn(other); }

std::optional<Fingerprint> fingerprintOf(const Picture& picture, const FaceMeasurement& face)
{
    auto relief = reliefOf(picture, face);
    if (!relief) return std::nullopt;
    Fingerprint out{std::move(*relief), {}};
    std::vector<Patch> patches = patchesOf(out.relief);
    joinLines(patches);
    std::sort(patches.begin(), patches.end(),
              [](const Patch& a, const Patch& b) { return a.strength * double(a.pixels.size()) > b.strength * double(b.pixels.size()); });
    patches.resize(std::min(patches.size(), mostMarks));
    std::vector<cv::Point2d> middles;
    for (const Patch& p : patches) {
        middles.push_back(p.middle);
        const auto covers = [&](const Finding& f) {
            const cv::Point2d middle = Relief::at(f.centre);
            const double reach = 0.5 * f.size.value() / Relief::umPerPixel + 2;
            return std::any_of(p.pixels.begin(), p.pixels.end(),
                               [&](cv::Point q) { return cv::norm(cv::Point2d(q) - middle) < std::min(reach, 6.0); });
        };
        const bool lasting = std::any_of(face.findings.begin(), face.findings.end(), [&](const Finding& f) { return lasts(f) && covers(f); });
        out.marks.push_back({widened(p.pixels, out.relief.seen), p.strength, p.line() ? std::optional(p.along) : std::nullopt, lasting});
    }
    group(out.marks, middles);
    return out;
}

}  // namespace clendo::face
