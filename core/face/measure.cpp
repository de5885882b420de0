#include <algorithm>
#include <cmath>
#include <numbers>
#include <opencv2/imgproc.hpp>

#include "face/face_report.h"
#include "face/flatten.h"
#include "face/locate.h"
#include "face/segment.h"

namespace clendo::face {
namespace {

constexpr double sharpBlurUm = 0.5;     // what a good microscope shows of a sharp edge
constexpr double blurAcceptedUm = 2.0;  // beyond this defects of 2 um cannot be excluded
constexpr double leastCoverage = 0.45;  // share of the cladding's edge that must be seen
constexpr double leastSupport = 0.16;

std::optional<RetakeReason> exposure(const cv::Mat1b& picture)
{
    cv::Mat1b sample;
    cv::resize(picture, sample, {}, 0.25, 0.25, cv::INTER_NEAREST);
    std::vector<std::uint8_t> v(sample.begin(), sample.end());
    if (v.empty()) return std::nullopt;
    const auto white = std::count_if(v.begin(), v.end(), [](std::uint8_t g) { return g >= 250; });
    if (double(white) > 0.25 * double(v.size())) return RetakeReason::TooBright;
    const auto high = v.begin() + static_cast<std::ptrdiff_t>(double(v.size()) * 0.95);
    std::nth_element(v.begin(), high, v.end());
    if (*high < 32) return RetakeReason::TooDark;
    return std::nullopt;
}

FaceMeasurement unusable(RetakeReason reason)
{
    FaceMeasurement m;
    m.retake.push_back(reason);
    return m;
}

/// A half-contrast width in a blurred picture is wider than the thing: a box of that width, blurred, read at half height.
double unblurred(double width, double blur)
{
    const double spread = 2.355 * blur;
    return width > 2 * spread ? width : std::sqrt(std::max(0.16 * width * width, width * width - 0.75 * spread * spread));
}

/// Turns an outline into a finding: enclosing circle, extent, kind.
Finding describe(const Piece& piece, const CladdingEdge& edge, double ppu)
{
    Finding f;
    const cv::RotatedRect box = cv::minAreaRect(piece.outline);
    const double longer = std::max(box.size.width, box.size.height) + 0.25, shorter = std::min(box.size.width, box.size.height) + 0.25;
    const double meanWidth = piece.area / longer;
    const double lengthUm = longer / ppu, widthUm = meanWidth / ppu;
    const bool straight = shorter < 1.7 * meanWidth + 0.8 * ppu;
    const bool line = longer > 3.2 * meanWidth && lengthUm > 4 && straight && !piece.hollow;
    const double originX = edge.circle.x, originY = edge.circle.y;
    f.kind = line ? FindingKind::Scratch : FindingKind::Defect;
    f.centre = {Micrometre((double(piece.centre.x) - originX) / ppu), Micrometre((double(piece.centre.y) - originY) / ppu)};
    f.size = Micrometre((2 * piece.radius + 0.25) / ppu);
    f.length = Micrometre(lengthUm);
    f.width = Micrometre(line ? unblurred(widthUm, edge.blur / ppu) : shorter / ppu);
    f.contrast = piece.contrast;
    double nearest = 1e9, farthest = 0;
    for (const auto& p : piece.outline) {
        const double d = std::hypot(double(p.x) - originX, double(p.y) - originY) / ppu;
        nearest = std::min(nearest, d);
        farthest = std::max(farthest, d);
    }
    if (cv::pointPolygonTest(piece.outline, cv::Point2f(static_cast<float>(originX), static_cast<float>(originY)), false) >= 0) nearest = 0;
    f.nearest = Micrometre(nearest);
    f.farthest = Micrometre(farthest);
    if (line)
        f.appearance = Appearance::Scratch;
    else if (piece.hollow)
        f.appearance = Appearance::Droplet;
    else if (longer > 4 * meanWidth && lengthUm > 15)
        f.appearance = Appearance::Lint;
    else if (piece.atRim && piece.region == Region::Glass)
        f.appearance = Appearance::Chip;
    else if (std::abs(piece.contrast) < 0.12 && lengthUm > 8)
        f.appearance = Appearance::Film;
    else if (longer < 1.25 * shorter && lengthUm < 8)
        f.appearance = Appearance::Pit;
    else
        f.appearance = Appearance::Particle;
    return f;
}

/// A crescent beside the cladding: the hole is larger than the fibre. Not something that lies on the face.
bool belongsToTheHole(const Piece& piece, const CladdingEdge& edge)
{
    if (piece.region != Region::Ferrule || !piece.atRim) return false;
    double low = 1e9, high = 0;
    std::vector<char> sectors(72, 0);
    for (const auto& p : piece.outline) {
        const double dx = double(p.x) - edge.circle.x, dy = double(p.y) - edge.circle.y, r = std::hypot(dx, dy);
        low = std::min(low, r);
        high = std::max(high, r);
        sectors[static_cast<std::size_t>((std::atan2(dy, dx) + std::numbers::pi) / (2 * std::numbers::pi) * 71.99)] = 1;
    }
    const auto wide = std::count(sectors.begin(), sectors.end(), 1);
    return wide >= 6 && high - low < double(wide) * 5 * std::numbers::pi / 180 * edge.circle.radius * 0.6;
}

FaceMeasurement measureOne(const cv::Mat1b& picture, const Circle& coarse, const MeasureOptions& options, bool judgeFerrule)
{
    const auto edge = refine(picture, coarse);
    if (!edge) return unusable(RetakeReason::NoFibre);
    FaceMeasurement m;
    m.centre = {Pixel(edge->circle.x), Pixel(edge->circle.y)};
    m.claddingDiameter = Pixel(2 * edge->circle.radius);
    m.scale = options.scale.value_or(Scale(options.cladding.value() / m.claddingDiameter.value()));
    m.scaleSource = options.scale ? ScaleSource::Calibration : ScaleSource::Cladding;
    const double ppu = 1 / m.scale.micrometresPerPixel();
    m.blur = Micrometre(edge->blur / ppu);
    m.focus = std::clamp(sharpBlurUm / std::max(0.1, m.blur.value()), 0.0, 1.0);
    const double r = edge->circle.radius;
    const bool cut =
        edge->circle.x - r < 0 || edge->circle.y - r < 0 || edge->circle.x + r > picture.cols - 1 || edge->circle.y + r > picture.rows - 1;
    const double step = std::abs(edge->insideLevel - edge->outsideLevel);
    if (cut)
        m.retake.push_back(RetakeReason::CutOff);
    else if (m.blur > Micrometre(blurAcceptedUm))
        m.retake.push_back(RetakeReason::OutOfFocus);
    else if (edge->coverage < leastCoverage || (coarse.support < leastSupport && step < 4))
        m.retake.push_back(RetakeReason::NoFibre);
    if (!m.usable()) return m;

    const Flattened glass = flattenGlass(picture, *edge, ppu), ferrule = judgeFerrule ? flattenFerrule(picture, *edge, ppu) : Flattened();
    m.core = glass.core;
    if (m.core) m.coreDiameter = Micrometre(*m.core == CoreKind::SingleMode ? 9 : *m.core == CoreKind::Multimode50 ? 50 : 62.5);
    for (const auto& piece : segment(glass, ferrule, {ppu, edge->blur}))
        if (!belongsToTheHole(piece, *edge)) m.findings.push_back(describe(piece, *edge, ppu));
    std::sort(m.findings.begin(), m.findings.end(), [](const Finding& a, const Finding& b) { return a.nearest < b.nearest; });
    for (std::size_t i = 0; i < m.findings.size(); ++i) m.findings[i].id = static_cast<int>(i) + 1;
    return m;
}

}  // namespace

std::vector<FaceMeasurement> measure(const Picture& picture, const MeasureOptions& options)
{
    if (!picture.sound()) return {unusable(RetakeReason::NoFibre)};
    if (picture.width < 160 || picture.height < 120) return {unusable(RetakeReason::TooSmall)};
    const cv::Mat1b grey(picture.height, picture.width, const_cast<std::uint8_t*>(picture.pixels.data()));  // cv::Mat has no view of const
    if (const auto bad = exposure(grey)) return {unusable(*bad)};
    std::optional<double> radius;
    if (options.scale) radius = (options.cladding / *options.scale).value() / 2;
    const bool several = !options.fibres || *options.fibres > 1;
    std::vector<Circle> circles = locate(grey, radius, options.fibres.value_or(12));
    if (circles.empty()) return {unusable(RetakeReason::NoFibre)};
    if (!options.fibres) {
        const double least = 0.45 * circles.front().support;
        std::erase_if(circles, [&](const Circle& c) { return c.support < least || std::abs(c.y - circles.front().y) > 1.2 * c.radius; });
    }
    std::sort(circles.begin(), circles.end(), [](const Circle& a, const Circle& b) { return a.x < b.x; });
    std::vector<FaceMeasurement> out;
    for (const auto& circle : circles) {
        FaceMeasurement one = measureOne(grey, circle, options, !several);
        if (several && !options.fibres && one.retake == std::vector{RetakeReason::NoFibre}) continue;
        one.fibre = static_cast<int>(out.size()) + 1;
        out.push_back(std::move(one));
    }
    if (out.empty()) out.push_back(unusable(RetakeReason::NoFibre));
    return out;
}

}  // namespace clendo::face
