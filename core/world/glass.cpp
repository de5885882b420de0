// Fibre, faces and what they do to light when they touch.
#include "world/glass.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <complex>
#include <nlohmann/json.hpp>
#include <numbers>

#include "files/json_reading.h"

namespace clendo::world {
namespace {

constexpr int rings = 24, sectors = 36;
constexpr double fresnel = 0.0344;                 // share that one face of glass reflects in air: ((1.456 - 1) / (1.456 + 1))²
constexpr double domeRadius = 15000;               // um: of a polished ferrule, IEC 61755-3-1 has 5 to 30 mm
constexpr double raisedShare = 0.08;               // of its size by which a piece of dirt is left standing when springs press it
constexpr Decibel openAngled{-60}, wrongAngle{4};  // an open angled face; angled against flat
constexpr Decibel noLight{60};

struct Blocked {
    std::complex<double> field{1, 0};  ///< that is left of a single-mode field
    double power = 1;                  ///< that is left of the power
};

/// What is left of the light behind the marks of a face.
Blocked behind(const TrueFace& face, const GlassAt& glass)
{
    const bool single = glass.modeField > Micrometre(0);
    const double waist = glass.modeField.value() / 2, radius = single ? 2.2 * waist : face.core.value() / 2;
    std::vector<const Mark*> near;
    for (const auto& mark : face.marks)
        if (mark.at.radius().value() < radius + mark.size.value() + mark.length.value()) near.push_back(&mark);
    if (near.empty()) return {};
    std::complex<double> field{0, 0};
    double power = 0, all = 0;
    for (int i = 0; i < rings; ++i) {
        const double r = (i + 0.5) * radius / rings;
        const double weight = r * (single ? std::exp(-2 * r * r / (waist * waist)) : 1 - r * r / (radius * radius));
        for (int k = 0; k < sectors; ++k) {
            const double angle = 2 * std::numbers::pi * k / sectors;
            const FacePoint place{Micrometre(r * std::cos(angle)), Micrometre(r * std::sin(angle))};
            double amplitude = 1, phase = 0;
            for (const Mark* mark : near) {
                const double covered = cover(*mark, place, Micrometre(0.3));
                // coaxial light passed it twice, the light of the link once; it is slowed too, by more where it is thicker
                amplitude *= std::sqrt(std::max(0.0, 1 - covered * std::min(1.0, std::abs(mark->contrast))));
                phase += covered * std::min(mark->size.value(), 8.0) * 0.25;
            }
            all += weight;
            field += weight * std::polar(amplitude, phase);
            power += weight * amplitude * amplitude;
        }
    }
    return {field / all, power / all};
}

/// How far the raised dirt of a face holds it off another one, on domes that touch in the middle.
double standOff(const TrueFace& face)
{
    double most = 0;
    for (const auto& mark : face.marks) {
        if (mark.damage || mark.shape == Mark::Shape::Ring || mark.shape == Mark::Shape::Dried) continue;
        const double r = mark.at.radius().value();
        if (r < 125) most = std::max(most, raisedShare * mark.size.value() - r * r / domeRadius);
    }
    return most;
}

double decibels(double share) { return share > 1e-6 ? -10 * std::log10(share) : noLight.value(); }

}  // namespace

Result<Glass> Glass::named(const std::string& fibre, const RuleFiles& rules)
{
    const auto text = rules.shipped("fibres/fibres.json");
    if (!text) return tl::unexpected(text.error());
    const auto file = nlohmann::json::parse(*text, nullptr, false);
    const auto unknown = [&] { return failure(Error::Code::LimitsUnknown, fmt::format("data/fibres/fibres.json knows no fibre “{}”.", fibre)); };
    const auto* kinds = memberOf(file, "kinds");
    if (!kinds || !kinds->is_object()) return unknown();
    for (const auto& kind : *kinds) {
        const auto* names = memberOf(kind, "fibres");
        const auto* wavelengths = memberOf(kind, "wavelengths");
        if (!names || !wavelengths || !wavelengths->is_object() || std::find(names->begin(), names->end(), fibre) == names->end()) continue;
        Glass out;
        JsonReading reading(kind, "fibres.json");
        out.core_ = Micrometre(reading.number("core_um", 3, 200));
        const auto* fields = memberOf(kind, "mode_field_um");
        out.multimode_ = fields == nullptr;
        for (const auto& [nm, values] : wavelengths->items()) {
            JsonReading one(values, nm);
            GlassAt at{DecibelPerKilometre(one.number("typical_db_per_km", 0, 20)),
                       one.number("group_index", 1, 2),
                       Decibel(one.number("backscatter_db_1ns", -120, -20)),
                       {}};
            const double wavelength = std::atof(nm.c_str());
            // the mode widens with the wavelength, by 1.2 um from 1310 to 1550 nm
            if (fields) {
                JsonReading widths(*fields, "mode_field_um");
                const double narrow = widths.number("1310", 3, 30), wide = widths.number("1550", 3, 30);
                at.modeField = Micrometre(narrow + (wide - narrow) * (wavelength - 1310) / 240);
            }
            if (!one.problem()) out.known_.emplace(wavelength, at);
        }
        if (out.known_.empty() || reading.problem()) return unknown();
        return out;
    }
    return unknown();
}

GlassAt Glass::at(Nanometre wavelength) const
{
    const auto above = known_.lower_bound(wavelength.value());
    if (above == known_.begin()) return above->second;
    if (above == known_.end()) return std::prev(above)->second;
    const auto below = std::prev(above);
    const double share = (wavelength.value() - below->first) / (above->first - below->first);
    const auto between = [&](auto a, auto b) { return a * (1 - share) + b * share; };
    const GlassAt &low = below->second, &high = above->second;
    return {between(low.attenuation, high.attenuation), between(low.groupIndex, high.groupIndex), between(low.backscatter, high.backscatter),
            between(low.modeField, high.modeField)};
}

JointTruth joint(const TrueFace& from, const TrueFace& to, FacePoint seat, const GlassAt& glass, Nanometre wavelength)
{
    JointTruth out;
    const bool single = glass.modeField > Micrometre(0);
    const Blocked a = behind(from, glass), b = behind(to, glass);
    double share = single ? std::norm(a.field) * std::norm(b.field) : a.power * b.power;
    // ferrules look at each other: the other core's offset is mirrored
    const double dx = (from.offset.x + to.offset.x + seat.x).value(), dy = (from.offset.y - to.offset.y + seat.y).value(), d = std::hypot(dx, dy);
    if (single) {
        const double waist = glass.modeField.value() / 2;
        share *= std::exp(-d * d / (waist * waist));
    } else {
        const double radius = from.core.value() / 2;
        share *= std::max(0.0, 1 - 8 * d / (3 * std::numbers::pi * radius));
    }
    // a larger core into a smaller one, and modes that a small core does not carry
    if (from.multimode && !to.multimode)
        share *= 0.02;
    else if (from.core > to.core && from.multimode)
        share *= std::pow(to.core / from.core, 2);
    out.gap = Micrometre(std::max(0.0, std::max(standOff(from), standOff(to))));
    double reflected = std::pow(10, from.polish.value() / 20) + std::pow(10, to.polish.value() / 20);
    reflected = reflected * reflected / 4;
    if (out.gap > Micrometre(0) && !(from.angled && to.angled)) {
        // two faces of glass with air between: what they reflect adds up or cancels
        const double phase = 2 * std::numbers::pi * out.gap.value() * 1000 / wavelength.value();
        const double both = 4 * fresnel * std::pow(std::sin(phase), 2);
        reflected += both;
        share *= 1 - both;
    }
    out.loss = Decibel(decibels(share));
    if (from.angled != to.angled) {
        out.loss += wrongAngle;
        reflected += fresnel;
    }
    reflected += (1 - a.power + 1 - b.power) * fresnel * (from.angled ? 1e-3 : 0.1);
    out.reflectance = Decibel(10 * std::log10(std::clamp(reflected, 1e-8, 1.0)));
    return out;
}

JointTruth open(const TrueFace& face, const GlassAt& glass)
{
    JointTruth out;
    out.loss = noLight;
    const double back = behind(face, glass).power;
    out.reflectance = face.angled ? openAngled : Decibel(10 * std::log10(std::max(1e-6, fresnel * back * back)));
    return out;
}

Decibel shadow(const TrueFace& face, const GlassAt& glass) { return Decibel(decibels(behind(face, glass).power)); }

}  // namespace clendo::world
