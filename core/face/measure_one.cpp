#include "face/measure_one.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <opencv2/imgproc.hpp>
#include <span>

#include "face/even/core_kind.h"
#include "face/even/flatten.h"
#include "face/even/working.h"
#include "face/median.h"
#include "face/segment/segment.h"
#include "face/size/describe.h"
#include "face/surroundings/making.h"

namespace clendo::face {
namespace {

constexpr double sharpBlurUm = 0.5;                 // what a good microscope shows of a sharp edge
constexpr double blurAcceptedUm = 1.4;              // beyond this defects of 2 um cannot be excluded
constexpr double leastCoverage = 0.45;              // share of the cladding's edge that must be seen
constexpr double leastWhereKnown = 0.2;             // the same, where the fibres beside it tell where it lies
constexpr double nearPlace = 0.04;                  // share of the radius within which its edge is looked for then
constexpr double offPlace = 0.03, offSize = 0.025;  // share of the radius by which what shows of its edge may differ from that
constexpr double leastSupport = 0.16;
constexpr double leastEven = 0.42;    // darkest part of the glass over the brightest: dirt in the dark one may not show
constexpr double mostSudden = 0.5;    // of its neighbours' light: what takes more of one sector alone lies on the glass
constexpr double softEdgeUm = 0.8;    // blur from which what was found may be a core
constexpr double coreOff = 0.05;      // share of the cladding's radius by which a core may lie beside its middle
constexpr double surelyRound = 0.85;  // of the edge: only a fibre has so much of a circle

bool isAt(const Circle& found, const Circle& known)
{
    return std::hypot(found.x - known.x, found.y - known.y) < offPlace * known.radius &&
           std::abs(found.radius - known.radius) < offSize * known.radius;
}

double focusOf(Micrometre blur) { return std::clamp(sharpBlurUm / std::max(0.1, blur.value()), 0.0, 1.0); }

/// A lit multimode core outshines the cladding, and its edge, which is soft as a rule, is found in its stead: then the cladding lies around it.
CladdingEdge claddingOutside(const cv::Mat1b& picture, const CladdingEdge& edge, Micrometre cladding)
{
    const double radius = cladding.value() / 2;
    if (edge.blur * radius < softEdgeUm * edge.circle.radius) return edge;
    for (const CoreKind core : {CoreKind::Multimode62, CoreKind::Multimode50}) {
        const double r = edge.circle.radius * (cladding / nominalDiameter(core));
        const bool within = edge.circle.x > r && edge.circle.y > r && edge.circle.x + r < picture.cols && edge.circle.y + r < picture.rows;
        if (!within) continue;
        const auto around = refine(picture, {edge.circle.x, edge.circle.y, r, edge.circle.support});
        if (around && around->coverage > surelyRound && std::hypot(around->circle.x - edge.circle.x, around->circle.y - edge.circle.y) < coreOff * r)
            return *around;
    }
    return edge;
}

/// Light of the darkest part of the glass over that of the brightest: medians of sectors of its outer half.
double evenness(const cv::Mat1b& picture, const Circle& glass)
{
    constexpr int sectors = 12;
    std::array<std::vector<std::uint8_t>, sectors> levels;
    const cv::Rect box = cv::Rect(static_cast<int>(glass.x - glass.radius), static_cast<int>(glass.y - glass.radius),
                                  static_cast<int>(2 * glass.radius) + 1, static_cast<int>(2 * glass.radius) + 1) &
                         cv::Rect({}, picture.size());
    constexpr int every = 3;  // pixels, along and down
    for (int y = box.y; y < box.br().y; y += every)
        for (int x = box.x; x < box.br().x; x += every) {
            const double dx = x - glass.x, dy = y - glass.y, r2 = (dx * dx + dy * dy) / (glass.radius * glass.radius);
            if (r2 > 0.6 * 0.6 && r2 < 0.9 * 0.9)
                levels[static_cast<std::size_t>((std::atan2(dy, dx) / (2 * CV_PI) + 0.5) * (sectors - 1e-6))].push_back(picture(y, x));
        }
    std::vector<double> seen;
    for (auto& sector : levels)
        if (!sector.empty()) seen.push_back(medianOf(std::span(sector)));
    double least = 255, most = 0;
    for (std::size_t i = 0; i < seen.size(); ++i) {
        const double beside = std::min(seen[(i + 1) % seen.size()], seen[(i + seen.size() - 1) % seen.size()]);
        least = std::min(least, seen[i] < mostSudden * beside ? beside : seen[i]);
        most = std::max(most, seen[i]);
    }
    return most > 0 ? least / most : 1;
}

}  // namespace

FaceMeasurement unusable(RetakeReason reason)
{
    FaceMeasurement m;
    m.retake.push_back(reason);
    return m;
}

std::optional<CladdingEdge> edgeOf(const Looked& looked, const FibrePlace& place, const MeasureOptions& options)
{
    const Circle& circle = place.circle;
    if (place.before) return refineAsBefore(looked.picture, circle, place.before->edgeSign);
    if (place.knownByOthers) {
        auto edge = refine(looked.picture, circle, nearPlace);
        if (!edge || !isAt(edge->circle, circle)) return std::nullopt;
        edge->circle = circle;  // dirt that hides the most of its edge would push it aside
        return edge;
    }
    auto edge = refine(looked.picture, circle);
    if (edge && !options.scale) edge = claddingOutside(looked.picture, *edge, options.cladding);
    return edge;
}

FibreMeasured measureOne(const Looked& looked, const FibrePlace& place, const std::optional<CladdingEdge>& edge, const MeasureOptions& options,
                         bool judgeFerrule)
{
    if (!edge) return {unusable(RetakeReason::NoFibre)};
    const cv::Mat1b& picture = looked.picture;
    const bool known = place.knownByOthers;
    FaceMeasurement m;
    m.centre = {Pixel(edge->circle.x), Pixel(edge->circle.y)};
    m.claddingDiameter = Pixel(2 * edge->circle.radius);
    m.scale = options.scale.value_or(Scale(options.cladding.value() / m.claddingDiameter.value()));
    m.scaleSource = options.scale ? ScaleSource::Calibration : ScaleSource::Cladding;
    const double ppu = 1 / m.scale.micrometresPerPixel();
    m.blur = Micrometre(edge->mostBlur / ppu);
    m.focus = focusOf(m.blur);
    const double r = edge->circle.radius;
    const bool cut = !looked.field.holds({edge->circle.x, edge->circle.y}, r) || edge->circle.x - r < 0 || edge->circle.y - r < 0 ||
                     edge->circle.x + r > picture.cols - 1 || edge->circle.y + r > picture.rows - 1;
    const double step = std::abs(edge->insideLevel - edge->outsideLevel);
    const auto reason = [&]() -> std::optional<RetakeReason> {
        const bool whole = edge->coverage > surelyRound;  // whatever the votes said
        if (!known && place.circle.support < leastSupport && !whole && (step < 4 || edge->coverage < leastCoverage)) return RetakeReason::NoFibre;
        if (cut) return RetakeReason::CutOff;
        if (m.blur > Micrometre(blurAcceptedUm)) return RetakeReason::OutOfFocus;
        if (edge->coverage < (known ? leastWhereKnown : leastCoverage)) return RetakeReason::NoFibre;
        if (evenness(looked.original, edge->circle) < leastEven) return RetakeReason::TooDark;
        return std::nullopt;
    }();
    if (reason) m.retake.push_back(*reason);
    if (!m.usable()) return {std::move(m)};

    const Working on = workingOn(picture, looked.field.seen(), *edge, ppu);
    const double pxPerUm = on.pixelsPerMicrometre;
    const Flattened glass = flattenGlass(on, place.before ? &place.before->core : nullptr);
    constexpr double white = 255;
    m.light = glass.light / white;
    m.lonePixels = glass.lonePixels;
    m.core = glass.core.inferred ? std::optional(CoreKind::SingleMode) : glass.core.kind;
    m.coreInferred = glass.core.inferred;
    if (m.core && !m.coreInferred) m.coreDiameter = nominalDiameter(*m.core);
    const auto ferrule = [&] { return flattenFerrule(on); };
    const auto pieces = segment(glass, ferrule, {pxPerUm, on.edge.blur, unjudgedBand(on.edge, pxPerUm), on.edge.circle, judgeFerrule});
    if (judgeFerrule) m.ferruleSeen = looked.field.shareOfRing({edge->circle.x, edge->circle.y}, r, ferruleReach * r, picture.size());
    m.findings = describe(pieces, on.edge, pxPerUm, &glass);
    std::erase_if(m.findings, [&](const Finding& f) { return f.nearest > options.cladding * (ferruleReach / 2); });  // beyond every zone
    if (const auto sharpest = sharpestSeen(pieces, pxPerUm)) m.blur = std::min(m.blur, Micrometre(*sharpest));
    m.focus = focusOf(m.blur);
    auto making = makingFaults(picture, *edge, ppu, m.findings, judgeFerrule);
    m.making = std::move(making.faults);
    m.offset = making.offset;
    return {std::move(m), FibreShown{glass.core, edge->profile.sign}};
}

}  // namespace clendo::face
