#include "face/judge/expected_loss.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "files/files.h"
#include "files/json_reading.h"

namespace clendo::face {
namespace {

constexpr int rings = 60, sectors = 90;
constexpr double reach = 2.2;          // mode field radii: 99.99 % of a Gaussian's power
constexpr double mostBlocked = 0.999;  // a loss is a number

/// Whether a point lies within a closed outline: it is crossed an odd number of times on the way out.
bool within(const std::vector<FacePoint>& outline, double x, double y)
{
    bool inside = false;
    for (std::size_t i = 0, j = outline.size() - 1; i < outline.size(); j = i++) {
        const double xi = outline[i].x.value(), yi = outline[i].y.value(), xj = outline[j].x.value(), yj = outline[j].y.value();
        if ((yi > y) != (yj > y) && x < (xj - xi) * (y - yi) / (yj - yi) + xi) inside = !inside;
    }
    return inside;
}

bool covers(const Finding& f, double x, double y)
{
    if (f.outline.size() > 2) return within(f.outline, x, y);
    if (f.kind == FindingKind::Scratch) {
        // a bar across the line from the middle to its nearest point; where it ends, its circle ends
        const double dx = x - f.centre.x.value(), dy = y - f.centre.y.value();
        if (std::hypot(dx, dy) > f.size.value() / 2) return false;
        const double r = f.centre.radius().value();
        const double nx = r > 1e-6 ? f.centre.x.value() / r : 1, ny = r > 1e-6 ? f.centre.y.value() / r : 0;
        const double across = x * nx + y * ny;  // on its own side of the middle only
        return across >= f.nearest.value() && across <= f.nearest.value() + f.width.value();
    }
    const double radius = 0.5 * std::sqrt(std::max(0.01, f.length.value() * f.width.value()));
    return std::hypot(x - f.centre.x.value(), y - f.centre.y.value()) < radius;
}

double power(const LightSpot& spot, double r)
{
    const double a = spot.diameter.value() / 2;
    if (spot.shape == LightSpot::Shape::Gaussian) return std::exp(-2 * r * r / (a * a));
    return r < a ? 1 - r * r / (a * a) : 0;
}

Decibel lossOf(double blocked, LightSpot::Shape shape)
{
    const double factor = shape == LightSpot::Shape::Gaussian ? 20 : 10;
    return Decibel(-factor * std::log10(1 - std::min(blocked, mostBlocked)));
}

/// Two equal Gaussians, one aside by d, overlap by exp(-d²/w²) of their power.
Decibel offsetLoss(Micrometre d, const LightSpot& spot)
{
    const double of = d / (spot.diameter / 2);
    return Decibel(10 * std::numbers::log10e * of * of);
}

}  // namespace

Result<LightSpot> loadLightSpot(CoreKind core, Nanometre wavelength, const RuleFiles& rules)
{
    const auto text = rules.shipped("fibres/fibres.json");
    if (!text) return tl::unexpected(text.error());
    const auto file = nlohmann::json::parse(*text, nullptr, false);
    const std::string kind = core == CoreKind::SingleMode ? "SM" : core == CoreKind::Multimode50 ? "MM50" : "MM62.5";
    const auto missing =
        failure(Error::Code::LimitsUnknown, "data/fibres/fibres.json says nothing of this fibre at this wavelength: no loss can be expected.");
    if (!file.is_object() || !file.contains("kinds") || !file["kinds"].is_object() || !file["kinds"].contains(kind)) return missing;
    const auto& known = file["kinds"][kind];
    if (!known.is_object()) return missing;
    JsonReading reading(known, kind);
    LightSpot spot;
    if (core == CoreKind::SingleMode) {
        if (!known.contains("mode_field_um") || !known["mode_field_um"].is_object()) return missing;
        JsonReading fields(known["mode_field_um"], "mode_field_um");
        spot.diameter = Micrometre(fields.number(std::to_string(std::lround(wavelength.value())), 3, 30));
        if (fields.problem()) return missing;
    } else {
        spot.shape = LightSpot::Shape::Parabolic;
        spot.diameter = Micrometre(reading.number("core_um", 20, 200));
        if (reading.problem()) return missing;
    }
    return spot;
}

ExpectedLoss expectedLoss(const std::vector<Finding>& findings, const LightSpot& spot, std::optional<Micrometre> offset)
{
    const double outer = spot.shape == LightSpot::Shape::Gaussian ? reach * spot.diameter.value() / 2 : spot.diameter.value() / 2;
    double all = 0, opaque = 0, seen = 0;
    for (int i = 0; i < rings; ++i) {
        const double r = (i + 0.5) * outer / rings, weight = r * power(spot, r);
        for (int k = 0; k < sectors; ++k) {
            const double angle = 2 * std::numbers::pi * k / sectors, x = r * std::cos(angle), y = r * std::sin(angle);
            double darkest = -1;
            for (const auto& f : findings)
                if (covers(f, x, y)) darkest = std::max(darkest, std::min(1.0, std::abs(f.contrast)));
            all += weight;
            if (darkest < 0) continue;
            opaque += weight;
            seen += weight * darkest / 2;  // coaxial light passed it twice; the light of the link passes it once
        }
    }
    if (!(all > 0)) return {};
    const double blocked = opaque / all;
    const bool gaussian = spot.shape == LightSpot::Shape::Gaussian;
    const Decibel aside = gaussian && offset ? offsetLoss(*offset, spot) : Decibel(0);
    return {lossOf(seen / all, spot.shape) + aside, lossOf(gaussian ? 2 * blocked : blocked, spot.shape) + aside, blocked};
}

}  // namespace clendo::face
