// What is seen of the world. Nothing here changes it: noise comes from its seed and its clock.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>
#include <numbers>

#include "world/trace_world.h"
#include "world/world.h"

namespace clendo::world {
namespace {

constexpr double bendWidening = 80;  // nm by which the wavelength grows until a bend loses e times as much
constexpr Decibel darkness{70};      // a way that loses more is none

std::uint32_t hashed(std::string_view text, std::uint32_t h)
{
    for (const char c : text) h = (h ^ static_cast<unsigned char>(c)) * 16777619U;
    return h;
}

Decibel pointLoss(const Strand::Point& point, Nanometre wavelength)
{
    return point.bend ? point.loss * std::exp((wavelength.value() - 1550) / bendWidening) : point.loss;
}

/// How a detector of indium gallium arsenide answers to light, against 1310 nm; what a meter set to another wavelength gets wrong.
Decibel response(Nanometre wavelength)
{
    static constexpr std::pair<double, double> curve[] = {{850, -6}, {980, -1.6}, {1300, 0}, {1310, 0.02}, {1490, 0.25}, {1550, 0.34}, {1625, 0.1}};
    const auto* above = std::find_if(std::begin(curve), std::end(curve), [&](const auto& p) { return p.first >= wavelength.value(); });
    if (above == std::begin(curve)) return Decibel(above->second);
    if (above == std::end(curve)) return Decibel(std::prev(above)->second);
    const auto* below = std::prev(above);
    const double share = (wavelength.value() - below->first) / (above->first - below->first);
    return Decibel(below->second + share * (above->second - below->second));
}

}  // namespace

World::Way World::follow(std::size_t from, Nanometre wavelength) const
{
    Way way;
    std::size_t face = from;
    for (std::size_t steps = 0; steps <= strands_.size(); ++steps) {
        const auto joined = joined_.find(face);
        const Strand* behind = strandAt(face);
        const GlassAt glass = behind ? behind->glass->at(wavelength) : GlassAt{};
        if (joined == joined_.end()) {
            if (behind) way.joints.push_back(open(faces_[face], glass));
            return way;
        }
        const std::size_t other = joined->second.with;
        const Strand* next = strandAt(other);
        if (!next) {  // a port: all that comes out of the fibre is taken
            way.joints.push_back({shadow(faces_[face], glass), Decibel(-60), {}});
            way.ends = other;
            return way;
        }
        if (behind)
            way.joints.push_back(joint(faces_[face], faces_[other], joined->second.seat, glass, wavelength));
        else
            way.joints.push_back(
                {shadow(faces_[other], next->glass->at(wavelength)) + shadow(faces_[face], next->glass->at(wavelength)), Decibel(-46), {}});
        const std::size_t left = next->a == other ? next->b : next->a;
        way.legs.push_back({other, left, next});
        face = left;
    }
    return way;
}

std::optional<Decibel> World::lossOf(const Way& way, Nanometre wavelength) const
{
    Decibel loss{0};
    for (const auto& leg : way.legs) {
        loss += leg.strand->glass->at(wavelength).attenuation * leg.strand->length;
        for (const auto& point : leg.strand->points) loss += pointLoss(point, wavelength);
    }
    for (const auto& joint : way.joints) loss += joint.loss;
    return loss < darkness ? std::optional(loss) : std::nullopt;
}

DecibelMilliwatt World::levelOf(const Source& source) const
{
    const auto light = source.lights.find(source.wavelength.value());
    const double on = std::max(0.0, (now_ - source.onSince).value()), tau = std::max(1.0, source.warmUp.value() / 4);
    const Decibel cold = source.coldShift * std::exp(-on / tau);
    const Decibel wandering =
        source.wander * std::sin(2 * std::numbers::pi * (now_.value() / 1800 + seed_ % 7 * 0.1)) + Decibel(0.004 * (20 - celsius_));
    const Decibel tone{source.toneHz > 0 ? 3.01 : 0};  // half of the time dark
    return (light == source.lights.end() ? DecibelMilliwatt(-90) : light->second) + source.launch + wandering - cold - tone;
}

Result<PowerSeen> World::power(std::string_view name) const
{
    const Instrument* unit = instrument(name);
    const auto* meter = unit ? std::get_if<Meter>(&unit->unit) : nullptr;
    if (!meter) return failure(Error::Code::NotThere, fmt::format("There is no meter “{}” in this world.", name));
    double milliwatts = 0;
    PowerSeen seen;
    for (const auto& other : instruments_) {
        const auto* source = std::get_if<Source>(&other.unit);
        if (!source || !source->on) continue;
        const Way way = follow(other.port, source->wavelength);
        const auto loss = way.ends == unit->port ? lossOf(way, source->wavelength) : std::nullopt;
        if (!loss) continue;
        const DecibelMilliwatt arriving = levelOf(*source) - *loss + response(source->wavelength) - response(meter->wavelength);
        milliwatts += std::pow(10, arriving.value() / 10);
        seen.toneHz = std::max(seen.toneHz, source->toneHz);
    }
    std::mt19937 random(hashed(name, seed_ * 31 + static_cast<std::uint32_t>(std::llround(now_.value() * 1000))));
    milliwatts += std::pow(10, (meter->floor.value() - 3) / 10) * (1 + normal(random, 0.3));
    if (milliwatts <= std::pow(10, meter->floor.value() / 10)) return seen;
    const double level = 10 * std::log10(milliwatts) + meter->error.value() + normal(random, meter->noise.value());
    if (level >= meter->overload.value()) {
        seen.kind = PowerSeen::Kind::Overload;
        return seen;
    }
    seen.kind = PowerSeen::Kind::Level;
    seen.level = DecibelMilliwatt(std::round(level / meter->resolution.value()) * meter->resolution.value());
    return seen;
}

std::optional<Decibel> World::lossBetween(std::string_view from, std::string_view to, Nanometre wavelength) const
{
    const auto a = find(from), b = find(to);
    if (!a || !b) return std::nullopt;
    const Strand* begins = strandAt(*a);
    if (!begins) return std::nullopt;
    Way way = follow(begins->a == *a ? begins->b : begins->a, wavelength);
    way.legs.insert(way.legs.begin(), {*a, begins->a == *a ? begins->b : begins->a, begins});
    const auto last = std::find_if(way.legs.begin(), way.legs.end(), [&](const Leg& leg) { return leg.left == *b; });
    if (last == way.legs.end()) return std::nullopt;
    const auto legs = static_cast<std::size_t>(last - way.legs.begin()) + 1;
    way.legs.resize(legs);
    way.joints.resize(legs - 1);
    return lossOf(way, wavelength);
}

Result<otdr::Trace> World::trace(std::string_view name) const
{
    const Instrument* unit = instrument(name);
    const auto* set = unit ? std::get_if<Otdr>(&unit->unit) : nullptr;
    if (!set) return failure(Error::Code::NotThere, fmt::format("There is no OTDR “{}” in this world.", name));
    const Way way = follow(unit->port, set->wavelength);
    Shot shot;
    shot.wavelength = set->wavelength;
    shot.pulse = set->pulse;
    shot.range = set->range;
    shot.seed = hashed(name, seed_ + static_cast<std::uint32_t>(std::llround(now_.value())));
    shot.dynamicRange = Decibel(22 + 5 * std::log10(set->pulse.value() / 30) + 2.5 * std::log10(std::max(1.0, set->averaging.value()) / 10));
    if (!way.joints.empty()) shot.portLoss = way.joints.front().loss;
    std::vector<Stretch> line;
    for (std::size_t i = 0; i < way.legs.size(); ++i) {
        const Strand& strand = *way.legs[i].strand;
        const GlassAt glass = strand.glass->at(set->wavelength);
        if (i == 0) {
            shot.groupIndex = glass.groupIndex;
            shot.backscatter = glass.backscatter;
        }
        auto points = strand.points;
        if (way.legs[i].entered == strand.b) {
            std::reverse(points.begin(), points.end());
            for (auto& point : points) point.at = strand.length - point.at;
        }
        Metre at{0};
        for (const auto& point : points) {
            line.push_back({point.at - at, glass.attenuation, pointLoss(point, set->wavelength), {}});
            at = point.at;
        }
        const JointTruth end = i + 1 < way.joints.size() ? way.joints[i + 1] : JointTruth{Decibel(60), Decibel(-60), {}};
        line.push_back({strand.length - at, glass.attenuation, end.loss, end.reflectance});
    }
    otdr::Trace out = shoot(line, shot);
    out.instrument = unit->name;
    out.serial = unit->serial;
    out.averages = static_cast<std::uint32_t>(std::max(1.0, set->averaging.value() * 3000));
    return out;
}

Result<face::Picture> World::picture(std::string_view name, const Handling& hand) const
{
    return microscope(name).map([&](const Microscope& scope) { return scope.frame(hand); });
}

Result<Microscope> World::microscope(std::string_view name) const
{
    const auto index = find(name);
    if (!index) return tl::unexpected(index.error());
    const auto ferrule = ferruleOf(*index);
    Row row;
    row.multimode = faces_[*index].multimode;
    for (const auto face : ferrule) row.fibres.push_back({faces_[face].marks});
    Camera camera;
    camera.seed = hashed(names_[*index], seed_) % 100000;
    camera.offsetX = Micrometre(double(camera.seed % 17) - 8);
    camera.offsetY = Micrometre(double(camera.seed % 13) - 6);
    camera.surface = hashed(names_[*index], seed_ + 7);
    if (ferrule.size() > 1) {
        camera.width = 5400;
        camera.height = 400;
        camera.scale = Scale(0.85);
    }
    return Microscope(row, camera);
}

nlohmann::json World::state() const
{
    nlohmann::json out{
        {"time_s", now_.value()}, {"temperature_c", celsius_}, {"faces", nlohmann::json::array()}, {"instruments", nlohmann::json::array()}};
    for (std::size_t i = 0; i < faces_.size(); ++i) {
        const auto damage = std::count_if(faces_[i].marks.begin(), faces_[i].marks.end(), [](const Mark& m) { return m.damage; });
        const auto joined = joined_.find(i);
        out["faces"].push_back({{"face", names_[i]},
                                {"mated_with", joined == joined_.end() ? nlohmann::json(nullptr) : nlohmann::json(names_[joined->second.with])},
                                {"capped", faces_[i].capped},
                                {"dirt", static_cast<long>(faces_[i].marks.size()) - damage},
                                {"damage", damage}});
    }
    for (const auto& unit : instruments_) {
        nlohmann::json one{{"name", unit.name}, {"kind", kindOf(unit)}, {"serial", unit.serial}};
        if (const auto* source = std::get_if<Source>(&unit.unit)) {
            one["on"] = source->on;
            one["wavelength_nm"] = source->wavelength.value();
            one["tone_hz"] = source->toneHz;
            one["level_dbm"] = levelOf(*source).value();
        } else if (const auto* meter = std::get_if<Meter>(&unit.unit)) {
            one["wavelength_nm"] = meter->wavelength.value();
        } else if (const auto* scope = std::get_if<Scope>(&unit.unit)) {
            one["face"] = scope->face.empty() ? nlohmann::json(nullptr) : nlohmann::json(scope->face);
            one["focus_um"] = scope->focus.value();
        }
        out["instruments"].push_back(one);
    }
    return out;
}

}  // namespace clendo::world
