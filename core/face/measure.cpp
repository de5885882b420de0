#include <algorithm>
#include <array>
#include <atomic>
#include <cmath>
#include <exception>
#include <mutex>
#include <opencv2/imgproc.hpp>
#include <span>
#include <thread>

#include "face/even/core_kind.h"
#include "face/even/flatten.h"
#include "face/face_report.h"
#include "face/find/field_of_view.h"
#include "face/find/locate.h"
#include "face/find/row.h"
#include "face/median.h"
#include "face/segment/segment.h"
#include "face/size/describe.h"
#include "face/surroundings/guides.h"
#include "face/surroundings/making.h"

namespace clendo::face {
namespace {

constexpr double sharpBlurUm = 0.5;     // what a good microscope shows of a sharp edge
constexpr double blurAcceptedUm = 1.4;  // beyond this defects of 2 um cannot be excluded
constexpr double leastCoverage = 0.45;  // share of the cladding's edge that must be seen
constexpr double leastSupport = 0.16;
constexpr double leastEven = 0.42;  // darkest part of the glass over the brightest: dirt in the dark one may not show
constexpr int leastFull = 150;      // grey: no scale of grey ends below it
constexpr double softEdgeUm = 0.8;  // blur from which what was found may be a core
constexpr double coreOff = 0.05;    // share of the cladding's radius by which a core may lie beside its middle
constexpr double rowShape = 2.5;    // width over height of a picture that shows one
constexpr int fewInARow = 4;
constexpr double surelyRound = 0.85;  // of the edge: only a fibre has so much of a circle

std::optional<RetakeReason> exposure(const cv::Mat1b& picture)
{
    cv::Mat1b sample;
    cv::resize(picture, sample, {}, 0.25, 0.25, cv::INTER_NEAREST);
    std::vector<std::uint8_t> v(sample.begin(), sample.end());
    if (v.empty()) return std::nullopt;
    // a camera or its driver may cut light off below white: then many pixels are as bright as the brightest
    const auto top = v.begin() + static_cast<std::ptrdiff_t>(double(v.size()) * 0.999);
    std::nth_element(v.begin(), top, v.end());
    const int full = *top >= leastFull ? std::min(*top - 1, 250) : 250;
    const auto white = std::count_if(v.begin(), v.end(), [&](std::uint8_t g) { return g >= full; });
    if (double(white) > 0.25 * double(v.size())) return RetakeReason::TooBright;
    const auto high = v.begin() + static_cast<std::ptrdiff_t>(double(v.size()) * 0.95);
    std::nth_element(v.begin(), high, v.end());
    if (*high < 32) return RetakeReason::TooDark;
    return std::nullopt;
}

double focusOf(Micrometre blur) { return std::clamp(sharpBlurUm / std::max(0.1, blur.value()), 0.0, 1.0); }

FaceMeasurement unusable(RetakeReason reason)
{
    FaceMeasurement m;
    m.retake.push_back(reason);
    return m;
}

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
    double least = 255, most = 0;
    for (auto& sector : levels) {
        if (sector.empty()) continue;
        const double level = medianOf(std::span(sector));
        least = std::min(least, level);
        most = std::max(most, level);
    }
    return most > 0 ? least / most : 1;
}

/// A picture with what of it can be seen.
struct Looked {
    const cv::Mat1b& original;
    const cv::Mat1b& picture;  ///< going on beyond the field of view
    const FieldOfView& field;
};

FaceMeasurement measureOne(const Looked& looked, const Circle& coarse, const MeasureOptions& options, bool judgeFerrule)
{
    const cv::Mat1b& picture = looked.picture;
    auto edge = refine(picture, coarse);
    if (!edge) return unusable(RetakeReason::NoFibre);
    if (!options.scale) edge = claddingOutside(picture, *edge, options.cladding);
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
        if (coarse.support < leastSupport && !whole && (step < 4 || edge->coverage < leastCoverage)) return RetakeReason::NoFibre;
        if (cut) return RetakeReason::CutOff;
        if (m.blur > Micrometre(blurAcceptedUm)) return RetakeReason::OutOfFocus;
        if (edge->coverage < leastCoverage) return RetakeReason::NoFibre;
        if (evenness(looked.original, edge->circle) < leastEven) return RetakeReason::TooDark;
        return std::nullopt;
    }();
    if (reason) m.retake.push_back(*reason);
    if (!m.usable()) return m;

    const Flattened glass = flattenGlass(picture, *edge, ppu);
    constexpr double white = 255;
    m.light = glass.light / white;
    m.lonePixels = glass.lonePixels;
    m.core = glass.core;
    m.coreInferred = glass.coreInferred;
    if (m.core && !m.coreInferred) m.coreDiameter = nominalDiameter(*m.core);
    const auto ferrule = [&] { return flattenFerrule(picture, *edge, ppu, looked.field.seen()); };
    const auto pieces = segment(glass, ferrule, {ppu, edge->blur, unjudgedBand(*edge, ppu), edge->circle, judgeFerrule});
    if (judgeFerrule) m.ferruleSeen = looked.field.shareOfRing({edge->circle.x, edge->circle.y}, r, ferruleReach * r, picture.size());
    m.findings = describe(pieces, *edge, ppu, &glass);
    std::erase_if(m.findings, [&](const Finding& f) { return f.nearest > options.cladding * (ferruleReach / 2); });  // beyond every zone
    if (const auto sharpest = sharpestSeen(pieces, ppu)) m.blur = std::min(m.blur, Micrometre(*sharpest));
    m.focus = focusOf(m.blur);
    auto making = makingFaults(picture, *edge, ppu, m.findings, judgeFerrule);
    m.making = std::move(making.faults);
    m.offset = making.offset;
    return m;
}

/// The fibres of a row have nothing to do with each other: they are measured side by side.
std::vector<FaceMeasurement> measureEach(const Looked& picture, const std::vector<Circle>& circles, const MeasureOptions& options)
{
    std::vector<FaceMeasurement> out(circles.size(), unusable(RetakeReason::NoFibre));
    std::atomic<std::size_t> next{0};
    std::mutex failing;
    std::exception_ptr failed;  // on whatever thread: it belongs to who asked
    const bool several = !options.fibres || *options.fibres > 1;
    const auto work = [&] {
        try {
            for (std::size_t i = next++; i < circles.size(); i = next++) out[i] = measureOne(picture, circles[i], options, !several);
        } catch (...) {
            const std::lock_guard lock(failing);
            failed = std::current_exception();
            next = circles.size();
        }
    };
    const unsigned cores = options.cores > 0 ? options.cores : std::max(1U, std::thread::hardware_concurrency());
    std::vector<std::jthread> others;
    for (std::size_t i = 1; i < std::min<std::size_t>(cores, circles.size()); ++i) others.emplace_back(work);
    work();
    others.clear();  // waits for them
    if (failed) std::rethrow_exception(failed);
    return out;
}

std::vector<FaceMeasurement> measureLocated(const Looked& looked, const MeasureOptions& options, std::vector<Circle> circles)
{
    const bool several = !options.fibres || *options.fibres > 1;
    if (circles.empty()) return {unusable(RetakeReason::NoFibre)};
    std::vector<FaceMeasurement> out;
    for (std::size_t n = 0; const auto& found : fibresInRows(std::move(circles), options.fibres)) {
        ++n;
        auto row = found;
        if (!options.fibres) fillRow(row, looked.picture.size());
        for (FaceMeasurement& one : measureEach(looked, row, options)) {
            if (several && !options.fibres && one.retake == std::vector{RetakeReason::NoFibre}) continue;
            one.fibre = static_cast<int>(out.size()) + 1;
            one.row = static_cast<int>(n);
            out.push_back(std::move(one));
        }
    }
    if (out.empty()) out.push_back(unusable(RetakeReason::NoFibre));
    return out;
}

std::ptrdiff_t usable(const std::vector<FaceMeasurement>& faces)
{
    return std::count_if(faces.begin(), faces.end(), [](const FaceMeasurement& m) { return m.usable(); });
}

std::vector<FaceMeasurement> measureSeen(const Looked& looked, const MeasureOptions& options)
{
    const cv::Mat1b& grey = looked.picture;
    std::optional<double> radius;
    if (options.scale) radius = (options.cladding / *options.scale).value() / 2;
    const int most = options.fibres.value_or(mostFibres);
    std::vector<FaceMeasurement> out = measureLocated(looked, options, locate(grey, radius, most));
    if (most > 1 && grey.cols > rowShape * grey.rows && usable(out) < fewInARow) {
        auto byCores = measureLocated(looked, options, locateByCores(grey, most));
        if (usable(byCores) > usable(out)) out = std::move(byCores);
    }
    findGuides(grey, out);
    return out;
}

}  // namespace

std::vector<FaceMeasurement> measure(const Picture& picture, const MeasureOptions& options)
{
    if (!picture.sound()) return {unusable(RetakeReason::NoFibre)};
    if (picture.width < 160 || picture.height < 120) return {unusable(RetakeReason::TooSmall)};
    const cv::Mat1b grey(picture.height, picture.width, const_cast<std::uint8_t*>(picture.pixels.data()));  // cv::Mat has no view of const
    if (const auto bad = exposure(grey)) return {unusable(*bad)};
    // a row fills its picture from side to side: what is dark at its ends is ferrule
    const FieldOfView field = options.fibres == 1 ? FieldOfView(grey) : FieldOfView();
    auto out = measureSeen({grey, field.goingOn(grey), field}, options);
    const auto takenForAWindow = [](RetakeReason r) { return r == RetakeReason::CutOff || r == RetakeReason::NoFibre; };
    const auto& reasons = out.front().retake;
    if (!field.hides() || std::none_of(reasons.begin(), reasons.end(), takenForAWindow)) return out;
    // a ferrule may be as black as no light at all: then what looks like a window is the glass, and its core says so
    const FieldOfView everything;
    auto black = measureSeen({grey, grey, everything}, options);
    const bool coreShows = black.front().core == CoreKind::SingleMode && !black.front().coreInferred;  // no lit glass in a window is so small
    return black.front().usable() && coreShows ? std::move(black) : std::move(out);
}

}  // namespace clendo::face
