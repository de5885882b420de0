#include "truth.h"

#include <algorithm>
#include <cmath>

namespace clendo::drawn {
namespace {

using nlohmann::json;

constexpr double counted = 1, sure = 1.75, hardlySeen = 0.3;  // visibility: least of contrast over 0.08 and of signal to noise over 6

/// What is plain enough to count, each larger by `larger` and nearer to the middle by `nearer` times what a measurement may be wrong.
std::vector<Finding> findingsOf(const std::vector<Seen>& things, double least, double larger, double nearer)
{
    std::vector<Finding> out;
    for (const Seen& s : things) {
        if (s.visibility < least) continue;
        Finding f = s.thing.truth;
        const double vague = 1 + (s.visibility < sure && (f.appearance == Appearance::Film || f.appearance == Appearance::Droplet));
        const Micrometre step = std::max(Micrometre(0.7), judgedSize(f) * 0.15) * vague * larger;
        f.size = std::max(Micrometre(0.05), f.size + step);
        f.width = std::max(Micrometre(0.05), f.width + step);
        f.nearest = std::max(Micrometre(0), f.nearest - Micrometre(1.0 * vague * nearer));
        f.id = static_cast<int>(out.size()) + 1;
        out.push_back(f);
    }
    return out;
}

/// Whether what nobody can measure better would turn the verdict.
bool nearLimit(const std::vector<Seen>& things, const FaceClass& faceClass, const Criteria& criteria)
{
    int fit = 0, all = 0;
    for (const double least : {hardlySeen, counted, sure})
        for (const double larger : {-1.0, 0.0, 1.0})
            for (const double nearer : {-1.0, 0.0, 1.0}) {
                fit += judge(findingsOf(things, least, larger, nearer), faceClass, criteria).fit ? 1 : 0;
                ++all;
            }
    return fit != 0 && fit != all;
}

/// Whether it reaches into the ring about the cladding's edge that is not judged, or goes across it: how large it is cannot be said there.
bool touchesEdge(const Finding& f, Micrometre radius)
{
    const Micrometre within(1), outside(3.5);
    return f.appearance == Appearance::Chip || (f.farthest > radius - within && f.nearest < radius + outside);
}

json truthOf(const Seen& s, Micrometre radius)
{
    const Finding& f = s.thing.truth;
    const auto two = [](double v) { return std::round(v * 100) / 100; };
    json out{{"kind", name(f.kind)},
             {"appearance", name(f.appearance)},
             {"zone", s.zone.empty() ? json() : json(s.zone)},
             {"center_um", {two(f.centre.x.value()), two(f.centre.y.value())}},
             {"size_um", two(f.size.value())},
             {"width_um", two(f.width.value())},
             {"length_um", two(f.length.value())},
             {"r_min_um", two(f.nearest.value())},
             {"r_max_um", two(f.farthest.value())},
             {"contrast", s.contrast},
             {"grey_step", s.step},
             {"snr", s.snr},
             {"visibility", two(s.visibility)},
             {"touches_cladding_edge", touchesEdge(f, radius)},
             {"cut_by_frame", false},
             {"members", 1},
             {"edge_tol", s.thing.soft},
             {"counted", s.visibility >= counted && !s.zone.empty()}};
    if (!s.thing.line.empty()) {
        out["line_um"] = json::array();
        for (const auto& p : s.thing.line) out["line_um"].push_back({two(p.x), two(p.y)});
    }
    return out;
}

}  // namespace

json faceTruth(int fibre, std::vector<Seen>& things, const Shot& shot, cv::Point2d at, const Criteria& criteria)
{
    const FaceClass faceClass = criteria.find(shot.faceClass).value();
    for (Seen& s : things) {
        const auto zone = zoneOf(s.thing.truth, faceClass);
        s.zone = zone ? std::string(name(*zone)) : "";
    }
    const Verdict verdict = judge(findingsOf(things, counted, 0, 0), faceClass, criteria);
    json rules = json::array(), objects = json::array();
    for (const auto& o : verdict.outcomes)
        if (o.counted > 0)
            rules.push_back({{"zone", name(o.rule.zone)},
                             {"kind", o.rule.kind == RuleKind::Scratch ? "scratch" : "defect"},
                             {"band", ""},
                             {"allowed", o.rule.allowed ? json(*o.rule.allowed) : json()},
                             {"counted", o.counted},
                             {"met", o.met}});
    for (const Seen& s : things) {
        objects.push_back(truthOf(s, Micrometre(shot.face.claddingRadius)));
        objects.back()["id"] = objects.size();
    }
    return {{"fiber", fibre},
            {"center_px", {at.x, at.y}},
            {"um_per_px", shot.scale},
            {"cladding_um", 2 * shot.face.claddingRadius},
            {"cladding_diameter_px", 2 * shot.face.claddingRadius / shot.scale},
            {"core",
             {{"kind", name(shot.face.core)},
              {"diameter_um", 2 * shot.face.coreRadius},
              {"contrast", shot.face.coreLight},
              {"lit", shot.face.coreLight > 0.3}}},
            {"verdict", verdict.fit ? "pass" : "fail"},
            {"near_limit", nearLimit(things, faceClass, criteria)},
            {"rules", rules},
            {"objects", objects},
            {"anomalies", json::array()}};
}

}  // namespace clendo::drawn
