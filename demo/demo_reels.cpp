// Reels for a new run along the sea wall, as they came to Tide Hall.
#include "demo/demo_reels.h"

#include <fmt/format.h>

#include <QDir>

#include "demo/demo_files.h"
#include "files/digest.h"
#include "files/files.h"
#include "otdr/analysis.h"
#include "otdr/sor_reader.h"
#include "otdr/sor_writer.h"
#include "record/journal/time_text.h"
#include "reel/sampling.h"
#include "world/trace_world.h"

namespace clendo {
namespace {

constexpr double excess = 0.012;
constexpr int fibres = 12;
constexpr double orderedLength = 1000;  // m

reel::Delivery delivered(const std::string& name, double outer, double inner, double papers, const std::string& date)
{
    reel::Delivery d;
    d.reel = name;
    d.ordered = Metre(orderedLength);
    d.fibres = fibres;
    d.type = "OS2";
    d.allowed = {{1310, DecibelPerKilometre(0.40)}, {1550, DecibelPerKilometre(0.30)}};
    d.marks = reel::SheathMarks{outer, inner, reel::MarkUnit::Feet, 5};
    d.excess = excess;
    d.pricePerMetre = 2.4;
    d.date = date;
    d.jacket = d.environment = "outdoor";
    d.supplierLength = Metre(papers);
    d.supplier = {{1310, DecibelPerKilometre(0.33)}, {1550, DecibelPerKilometre(0.19)}};
    return d;
}

/// What lies behind the launch cord.
struct Line {
    double cable = 0;      ///< m; 0: no light gets through the joint
    double joint = 0.25;   ///< dB
    double more = 0;       ///< dB/km beyond the usual
    double crushedAt = 0;  ///< m of the launch cord, where it ends; 0: it is whole
};

otdr::Trace shotOf(const std::string& reel, int fibre, int nm, const Line& line, std::int64_t takenAt)
{
    world::Shot shot;
    shot.wavelength = Nanometre(nm);
    shot.pulse = Nanosecond(30);
    shot.range = Metre(2500);
    shot.groupIndex = nm == 1310 ? 1.4677 : 1.4682;
    shot.backscatter = Decibel(nm == 1310 ? -79.5 : -81.9);
    shot.seed = static_cast<std::uint32_t>(fibre * 100 + nm) + static_cast<std::uint32_t>(std::hash<std::string>{}(reel) % 1000);
    const DecibelPerKilometre glass{(nm == 1310 ? 0.335 : 0.192) + 0.001 * (fibre % 5)}, own{glass.value() + line.more};
    std::vector<world::Stretch> stretches;
    const Decibel open{-30}, touching{-48};
    if (line.crushedAt > 0) {
        stretches.push_back({Metre(line.crushedAt), glass, Decibel(0), std::nullopt});
    } else if (line.cable <= 0) {
        stretches.push_back({demoLaunchCord, glass, Decibel(0), open});
    } else {
        stretches.push_back({demoLaunchCord, glass, Decibel(line.joint), touching});
        stretches.push_back({Metre(line.cable * (1 + excess)), own, Decibel(0), Decibel(-14.7)});
    }
    otdr::Trace trace = world::shoot(stretches, shot);
    trace.cable = reel;
    trace.fibre = std::to_string(fibre);
    trace.locationA = trace.locationB = "Tide Hall";
    trace.takenAt = takenAt;
    return trace;
}

QString nameOf(const std::string& reel, int fibre, int nm) { return QString::fromStdString(fmt::format("{}-{:02}-{}.sor", reel, fibre, nm)); }

}  // namespace

Result<std::vector<DemoFact>> demoDelivery(std::int64_t now)
{
    std::vector<DemoFact> out;
    const auto table = reel::SamplingTable::load(RuleFiles(dataFolder()));
    const auto plan = table ? table->plan(fibres, "II", 2.5) : tl::unexpected(table.error());
    if (!plan) return tl::unexpected(plan.error());
    const std::string date = timeText(now).substr(0, 10);
    // 1,003 m; 964 m with a counter that went past its highest number; 1,001 m
    out.push_back({ReelDelivered{delivered("SW-1", 41220, 44511, 1003, date)}});
    out.push_back({ReelDelivered{delivered("SW-2", 98012, 1175, 1001, date)}});
    out.push_back({ReelDelivered{delivered("SW-3", 52290, 49006, 1001, date)}});
    const std::uint32_t seed = 20;
    const reel::Sample sample{*plan, reel::draw(*plan, seed)};
    for (const char* reel : {"SW-1", "SW-2"}) out.push_back({ReelSampled{reel, "II", 2.5, seed, sample}});
    const std::vector<std::string> steps{"dark", "jacket", "gel", "shards", "strip", "clean", "cleave", "pigtail", "insert", "lock"};
    int joints = 0;
    for (const int fibre : sample.drawn) {
        const char* part = ++joints <= 3 ? "splice A" : "splice B";
        out.push_back({ReelJointMade{"SW-1", fibre, "mechanical splice and a pigtail", part, steps, {}}});
        for (const int nm : {1310, 1550}) {
            const std::string name = nameOf("SW-1", fibre, nm).toStdString();
            const std::string bytes = otdr::writeSor(shotOf("SW-1", fibre, nm, {1003}, now));
            const auto trace = otdr::readSor(bytes, name);
            if (!trace) return tl::unexpected(trace.error());
            out.push_back({ReelTraced{"SW-1", fibre, sha256(bytes), name, Nanometre(nm), demoLaunchCord, "launch 1", trace->spacing(),
                                      otdr::analyse(*trace, {demoLaunchCord, {}})},
                           Evidence{name, bytes}});
        }
    }
    out.push_back({ReelDecided{"SW-1", reel::ReelVerdict::Accept, reel::ReelVerdict::Accept, {}}});
    return out;
}

Result<void> writeReelTraces(const QString& folder, std::int64_t takenAt)
{
    const QDir to(folder);
    const auto save = [&](const QString& name, const otdr::Trace& trace) {
        return writeFile(to.filePath(name).toStdString(), otdr::writeSor(trace));
    };
    Result<void> out;
    for (int fibre = 1; fibre <= fibres && out; ++fibre)
        for (const int nm : {1310, 1550}) {
            if (!out) break;
            out = save(nameOf("SW-2", fibre, nm), shotOf("SW-2", fibre, nm, {964, 0.25, fibre == 7 ? 0.16 : 0.0, 0}, takenAt));
            if (out) out = save(nameOf("SW-3", fibre, nm), shotOf("SW-3", fibre, nm, {1001}, takenAt));
        }
    // the OTDR was not told which fibre it is: that which is asked for next
    const auto untold = [&](const char* name, const Line& line) {
        otdr::Trace trace = shotOf("SW-3", 1, 1550, line, takenAt);
        trace.fibre.clear();
        return save(QString::fromLatin1(name), trace);
    };
    if (out) out = untold("SW-3-first-joint.sor", {0});
    if (out) out = untold("SW-3-crushed-cord.sor", {1001, 0.25, 0, 83});
    return out;
}

}  // namespace clendo
