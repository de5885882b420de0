#include <algorithm>
#include <atomic>
#include <cmath>
#include <exception>
#include <functional>
#include <mutex>
#include <opencv2/imgproc.hpp>
#include <thread>

#include "face/find/field_of_view.h"
#include "face/find/locate.h"
#include "face/find/row.h"
#include "face/find/row_edge.h"
#include "face/live_frames.h"
#include "face/measure_one.h"
#include "face/surroundings/guides.h"

namespace clendo::face {

struct FrameBefore {
    cv::Size size;              ///< of the picture
    std::optional<int> fibres;  ///< that were asked for
    FieldOfView field;
    std::vector<std::vector<FibrePlace>> rows;  ///< of its fibres, all of which could be judged
    int age = 0;                                ///< frames since one was looked at afresh
};

namespace {

constexpr int leastFull = 150;    // grey: no scale of grey ends below it
constexpr double rowShape = 2.5;  // width over height of a picture that shows one
constexpr int fewInARow = 4;
constexpr int oldest = 11;         // frames: a stamped text may change, a fibre come into the picture beside the others
constexpr double sameSize = 0.02;  // share by which the cladding of one fibre differs from frame to frame, at most

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

/// Does `work` for each of so many, side by side.
void forEach(std::size_t count, unsigned cores, const std::function<void(std::size_t)>& work)
{
    std::atomic<std::size_t> next{0};
    std::mutex failing;
    std::exception_ptr failed;  // on whatever thread: it belongs to who asked
    const auto some = [&] {
        try {
            for (std::size_t i = next++; i < count; i = next++) work(i);
        } catch (...) {
            const std::lock_guard lock(failing);
            failed = std::current_exception();
            next = count;
        }
    };
    if (cores == 0) cores = std::max(1U, std::thread::hardware_concurrency());
    std::vector<std::jthread> others;
    for (std::size_t i = 1; i < std::min<std::size_t>(cores, count); ++i) others.emplace_back(some);
    some();
    others.clear();  // waits for them
    if (failed) std::rethrow_exception(failed);
}

std::vector<FibreMeasured> measureEach(const Looked& picture, const std::vector<FibrePlace>& places, const MeasureOptions& options)
{
    const bool several = !options.fibres || *options.fibres > 1;
    std::vector<std::optional<CladdingEdge>> edges(places.size());
    forEach(places.size(), options.cores, [&](std::size_t i) { edges[i] = edgeOf(picture, places[i], options); });
    if (several) shareEdge(edges);
    std::vector<FibreMeasured> out(places.size());
    forEach(places.size(), options.cores, [&](std::size_t i) { out[i] = measureOne(picture, places[i], edges[i], options, !several); });
    return out;
}

bool isUsable(const FibreMeasured& m) { return m.face.usable(); }

/// The circle that a fibre was found to have; its support is for whoever looks again to say.
Circle circleOf(const FaceMeasurement& m) { return {m.centre.x.value(), m.centre.y.value(), m.claddingDiameter.value() / 2, 0}; }

/// A fibre whose edge is hidden, or that was taken for something beside it, lies where the others of its row tell.
void measureAgain(std::vector<FibreMeasured>& row, const Looked& looked, const std::vector<FibrePlace>& known, const MeasureOptions& options)
{
    const auto doubtful = [](const FibreMeasured& m) {
        return m.face.retake == std::vector{RetakeReason::NoFibre} || m.face.retake == std::vector{RetakeReason::OutOfFocus};
    };
    if (std::none_of(row.begin(), row.end(), doubtful)) return;
    std::vector<Circle> circles, sure;
    for (const FibrePlace& place : known) circles.push_back(place.circle);
    for (const FibreMeasured& m : row)
        if (isUsable(m)) sure.push_back(circleOf(m.face));
    const auto places = evenPlaces(circles, sure);
    for (std::size_t i = 0; i < places.size(); ++i) {
        const bool beyond = circles[i].x < sure.front().x || circles[i].x > sure.back().x;
        const bool mayBeEmpty = !options.fibres && circles[i].support <= 0 && beyond;
        if (!doubtful(row[i]) || mayBeEmpty) continue;
        const FibrePlace place{places[i], {}, true};
        FibreMeasured again = measureOne(looked, place, edgeOf(looked, place, options), options, false);
        if (isUsable(again)) row[i] = std::move(again);
    }
}

/// Rows of fibres, the upper one first, counted as they are found.
std::vector<FibreMeasured> measureRows(const Looked& looked, const MeasureOptions& options, const std::vector<std::vector<FibrePlace>>& rows)
{
    const bool several = !options.fibres || *options.fibres > 1;
    std::vector<FibreMeasured> out;
    for (std::size_t n = 0; const auto& row : rows) {
        ++n;
        auto measured = measureEach(looked, row, options);
        if (several) measureAgain(measured, looked, row, options);
        for (FibreMeasured& one : measured) {
            if (several && !options.fibres && one.face.retake == std::vector{RetakeReason::NoFibre}) continue;
            one.face.fibre = static_cast<int>(out.size()) + 1;
            one.face.row = static_cast<int>(n);
            out.push_back(std::move(one));
        }
    }
    if (out.empty()) out.push_back({unusable(RetakeReason::NoFibre)});
    return out;
}

std::vector<FibreMeasured> measureLocated(const Looked& looked, const MeasureOptions& options, std::vector<Circle> circles)
{
    if (circles.empty()) return {{unusable(RetakeReason::NoFibre)}};
    std::vector<std::vector<FibrePlace>> rows;
    for (auto& row : fibresInRows(std::move(circles), options.fibres)) {
        if (!options.fibres) fillRow(row, looked.picture.size());
        auto& places = rows.emplace_back();
        for (const Circle& circle : row) places.push_back({circle});
    }
    return measureRows(looked, options, rows);
}

std::ptrdiff_t usable(const std::vector<FibreMeasured>& faces) { return std::count_if(faces.begin(), faces.end(), isUsable); }

std::vector<FaceMeasurement> facesOf(std::vector<FibreMeasured> fibres, const cv::Mat1b& picture)
{
    std::vector<FaceMeasurement> faces;
    for (FibreMeasured& one : fibres) faces.push_back(std::move(one.face));
    findGuides(picture, faces);
    return faces;
}

std::vector<FibreMeasured> measureSeen(const Looked& looked, const MeasureOptions& options)
{
    const cv::Mat1b& grey = looked.picture;
    std::optional<double> radius;
    if (options.scale) radius = (options.cladding / *options.scale).value() / 2;
    const int most = options.fibres.value_or(mostFibres);
    auto out = measureLocated(looked, options, locate(grey, radius, most));
    if (most > 1 && grey.cols > rowShape * grey.rows && usable(out) < fewInARow) {
        auto byCores = measureLocated(looked, options, locateByCores(grey, most));
        if (usable(byCores) > usable(out)) out = std::move(byCores);
    }
    return out;
}

bool allUsable(const std::vector<FibreMeasured>& faces) { return usable(faces) == std::ssize(faces); }

std::vector<std::vector<FibrePlace>> rowsOf(const std::vector<FibreMeasured>& fibres)
{
    std::vector<std::vector<FibrePlace>> rows;
    for (const auto& [face, shown] : fibres) {
        rows.resize(std::max(rows.size(), static_cast<std::size_t>(face.row)));
        rows.back().push_back({circleOf(face), shown});
    }
    return rows;
}

/// As many circles, each as large.
bool sameRow(const std::vector<FibrePlace>& a, const std::vector<FibrePlace>& b)
{
    return std::equal(a.begin(), a.end(), b.begin(), b.end(),
                      [](const FibrePlace& x, const FibrePlace& y) { return std::abs(x.circle.radius / y.circle.radius - 1) < sameSize; });
}

/// The fibres of a live picture's next frame near their places in the last one; nothing where one of them is not found there as it was.
std::optional<FrameMeasured> measureNear(const cv::Mat1b& grey, const MeasureOptions& options, const FrameBefore& before)
{
    const cv::Mat1b goingOn = before.field.goingOn(grey);
    auto out = measureRows({grey, goingOn, before.field}, options, before.rows);
    auto rows = rowsOf(out);
    if (!allUsable(out) || !std::equal(rows.begin(), rows.end(), before.rows.begin(), before.rows.end(), sameRow)) return std::nullopt;
    auto next = std::make_shared<const FrameBefore>(FrameBefore{grey.size(), options.fibres, before.field, std::move(rows), before.age + 1});
    return FrameMeasured{facesOf(std::move(out), goingOn), std::move(next)};
}

FrameMeasured measureAfresh(const cv::Mat1b& grey, const MeasureOptions& options)
{
    const auto as = [&](std::vector<FibreMeasured> fibres, const cv::Mat1b& picture, FieldOfView field) {
        std::shared_ptr<const FrameBefore> next;
        if (allUsable(fibres))
            next = std::make_shared<const FrameBefore>(FrameBefore{grey.size(), options.fibres, std::move(field), rowsOf(fibres), 0});
        return FrameMeasured{facesOf(std::move(fibres), picture), std::move(next)};
    };
    // a row fills its picture from side to side: what is dark at its ends is ferrule
    FieldOfView field = options.fibres == 1 ? FieldOfView(grey) : FieldOfView();
    const cv::Mat1b goingOn = field.goingOn(grey);
    auto out = measureSeen({grey, goingOn, field}, options);
    const auto takenForAWindow = [](RetakeReason r) { return r == RetakeReason::CutOff || r == RetakeReason::NoFibre; };
    const auto& reasons = out.front().face.retake;
    if (!field.hides() || std::none_of(reasons.begin(), reasons.end(), takenForAWindow)) return as(std::move(out), goingOn, std::move(field));
    // a ferrule may be as black as no light at all: then what looks like a window is the glass, and its core says so
    FieldOfView everything;
    auto black = measureSeen({grey, grey, everything}, options);
    const FaceMeasurement& first = black.front().face;
    const bool coreShows = first.core == CoreKind::SingleMode && !first.coreInferred;  // no lit glass in a window is so small
    if (first.usable() && coreShows) return as(std::move(black), grey, std::move(everything));
    return as(std::move(out), goingOn, std::move(field));
}

}  // namespace

FrameMeasured measureFrame(const Picture& picture, const MeasureOptions& options, const std::shared_ptr<const FrameBefore>& before)
{
    const auto nothing = [](RetakeReason reason) { return FrameMeasured{{unusable(reason)}, nullptr}; };
    if (!picture.sound()) return nothing(RetakeReason::NoFibre);
    if (picture.width < 160 || picture.height < 120) return nothing(RetakeReason::TooSmall);
    const cv::Mat1b grey(picture.height, picture.width, const_cast<std::uint8_t*>(picture.pixels.data()));  // cv::Mat has no view of const
    if (const auto bad = exposure(grey)) return nothing(*bad);
    if (before && before->size == grey.size() && before->fibres == options.fibres && before->age < oldest)
        if (auto near = measureNear(grey, options, *before)) return std::move(*near);
    return measureAfresh(grey, options);
}

std::vector<FaceMeasurement> measure(const Picture& picture, const MeasureOptions& options) { return measureFrame(picture, options, nullptr).faces; }

}  // namespace clendo::face
