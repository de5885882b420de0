// What lies on simulated faces, and what deeds do to it.
#include "world/marks.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace clendo::world {
namespace {

constexpr double toolReach = 75;  // um from the middle: what a tape presses on
constexpr double burstsFrom = 5;  // um: larger pieces burst when faces meet
constexpr double copiedShare = 0.3;
constexpr double contactReach = 125;  // um from the middle: where ferrules touch

/// How much of the dirt one cleaning takes, and whether it moves what it leaves.
double takes(Cleaning how)
{
    switch (how) {
        case Cleaning::Dry: return 0.85;
        case Cleaning::Wet: return 0.9;
        case Cleaning::WetThenDry: return 0.94;
        case Cleaning::FreshTool: return 0.97;
    }
    return 0.85;
}

FacePoint around(double radius, double angle) { return {Micrometre(radius * std::cos(angle)), Micrometre(radius * std::sin(angle))}; }

Mark somewhere(std::mt19937& random, double from, double to, double small, double large)
{
    // as many on every square micrometre, not on every radius
    const double radius = std::sqrt(uniform(random, from * from, to * to));
    Mark out;
    out.at = around(radius, uniform(random, 0, 2 * std::numbers::pi));
    out.size = Micrometre(uniform(random, small, large));
    out.angle = uniform(random, 0, std::numbers::pi);
    out.contrast = -uniform(random, 0.4, 0.75);
    return out;
}

/// What of one face is found on the other after they met: mirrored, since they look at each other.
std::vector<Mark> copies(const std::vector<Mark>& from, std::mt19937& random)
{
    std::vector<Mark> out;
    for (const auto& mark : from)
        if (!mark.damage && mark.at.radius() < Micrometre(contactReach) && share(random) < copiedShare) {
            Mark copy = mark;
            copy.at.x = -copy.at.x + Micrometre(normal(random, 1));
            copy.at.y = copy.at.y + Micrometre(normal(random, 1));
            copy.size = copy.size * uniform(random, 0.5, 0.9);
            copy.angle = -copy.angle;
            out.push_back(copy);
        }
    return out;
}

void burst(std::vector<Mark>& marks, std::mt19937& random)
{
    std::vector<Mark> pieces;
    for (auto& mark : marks) {
        if (mark.damage || mark.shape != Mark::Shape::Speck || mark.size < Micrometre(burstsFrom) || mark.at.radius() > Micrometre(contactReach))
            continue;
        const int n = 2 + static_cast<int>(share(random) * 3);
        for (int i = 0; i < n; ++i) {
            Mark piece = mark;
            piece.size = mark.size * uniform(random, 0.2, 0.5);
            const FacePoint by = around(uniform(random, 0.5, 2) * mark.size.value(), uniform(random, 0, 2 * std::numbers::pi));
            piece.at = {mark.at.x + by.x, mark.at.y + by.y};
            pieces.push_back(piece);
        }
        mark.size = mark.size * 0.6;
    }
    marks.insert(marks.end(), pieces.begin(), pieces.end());
}

/// How far a place is from the middle of a strand of lint: an arc that bends by so much as its angle says, thinner towards its ends.
double offStrand(const Mark& mark, double u, double v)
{
    const double length = mark.length.value(), bend = 1.2 + 0.5 * std::sin(7 * mark.angle);  // radians from one end to the other
    const double radius = length / bend, along = std::atan2(u, v + radius), reach = bend / 2;
    const double inside = std::clamp(along, -reach, reach);
    const double taper = 0.25 * mark.size.value() * std::abs(inside) / reach;
    return std::hypot(u - radius * std::sin(inside), v + radius - radius * std::cos(inside)) + taper;
}

/// A drop dried from its edge inwards: most of what was in it lies on the rim, a part on a second one, a thin film between.
double dried(const Mark& mark, double u, double v, Micrometre soft)
{
    constexpr double wide = 0.5, second = 0.72, film = 0.3;
    const double r = std::hypot(u, v), angle = std::atan2(v, u);
    const double edge = mark.size.value() / 2 * (1 + 0.1 * std::sin(2 * angle + 3 * mark.angle) + 0.06 * std::sin(5 * angle - mark.angle));
    const auto rim = [&](double at, double half) { return std::clamp(0.5 - (std::abs(r - at) - half) / soft.value(), 0.0, 1.0); };
    const double within = std::clamp(0.5 - (r - edge) / soft.value(), 0.0, 1.0);
    return std::max({rim(edge, wide), 0.6 * rim(second * edge, wide / 2), film * within});
}

}  // namespace

double share(std::mt19937& random) { return double(random()) / double(std::mt19937::max()); }

double uniform(std::mt19937& random, double low, double high) { return low + (high - low) * share(random); }

double normal(std::mt19937& random, double sigma)
{
    const double u = std::max(1e-12, share(random));
    return sigma * std::sqrt(-2 * std::log(u)) * std::cos(2 * std::numbers::pi * share(random));
}

double cover(const Mark& mark, FacePoint place, Micrometre soft)
{
    const double dx = (place.x - mark.at.x).value(), dy = (place.y - mark.at.y).value();
    const double c = std::cos(mark.angle), s = std::sin(mark.angle);
    const double u = dx * c + dy * s, v = -dx * s + dy * c, half = mark.size.value() / 2;
    double outside = 0;  // distance from the mark's edge, positive outside
    switch (mark.shape) {
        case Mark::Shape::Speck: outside = std::hypot(dx, dy) - half * (1 + 0.12 * std::sin(3 * std::atan2(dy, dx) + mark.angle)); break;
        case Mark::Shape::Stroke: outside = std::hypot(std::max(0.0, std::abs(u) - mark.length.value() / 2), v) - half; break;
        case Mark::Shape::Ring: outside = std::abs(std::hypot(dx, dy) - half) - 0.6; break;
        case Mark::Shape::Chip: outside = std::hypot(u, v * 0.6) - half; break;
        case Mark::Shape::Lint: outside = offStrand(mark, u, v) - half; break;
        case Mark::Shape::Dried: return dried(mark, u, v, soft);
    }
    return std::clamp(0.5 - outside / soft.value(), 0.0, 1.0);
}

void clean(std::vector<Mark>& marks, Cleaning how, std::mt19937& random)
{
    std::erase_if(marks, [&](const Mark& mark) {
        if (mark.damage || mark.at.radius() > Micrometre(toolReach)) return false;
        const bool oil = mark.shape == Mark::Shape::Ring || mark.shape == Mark::Shape::Dried;  // a dry tape smears it
        return share(random) < (oil && how == Cleaning::Dry ? takes(how) / 2 : takes(how));
    });
    for (auto& mark : marks)
        if (!mark.damage) mark.at = {mark.at.x + Micrometre(uniform(random, -6, 6)), mark.at.y + Micrometre(uniform(random, -6, 6))};
    if (how != Cleaning::Wet) return;
    Mark film = somewhere(random, 0, 40, 30, 60);
    film.shape = Mark::Shape::Dried;
    film.contrast = -0.25;
    marks.push_back(film);
}

void touch(std::vector<Mark>& marks, std::mt19937& random)
{
    for (int i = 0; i < 7; ++i) {
        Mark smear = somewhere(random, 0, 60, 6, 18);
        smear.shape = Mark::Shape::Dried;
        smear.contrast = -uniform(random, 0.2, 0.4);
        marks.push_back(smear);
    }
    for (int i = 0; i < 3; ++i) marks.push_back(somewhere(random, 0, 110, 3, 8));
}

void drop(std::vector<Mark>& marks, std::mt19937& random)
{
    for (int i = 0; i < 22; ++i) marks.push_back(somewhere(random, 0, 120, 2.5, 14));
    for (int i = 0; i < 3; ++i) {
        Mark lint = somewhere(random, 0, 90, 1.5, 3);
        lint.shape = Mark::Shape::Lint;
        lint.length = Micrometre(uniform(random, 40, 140));
        marks.push_back(lint);
    }
}

void cap(std::vector<Mark>& marks, std::mt19937& random)
{
    const int n = static_cast<int>(share(random) * 4);
    for (int i = 0; i < n; ++i) marks.push_back(somewhere(random, 0, 120, 2, 6));
}

void press(std::vector<Mark>& a, std::vector<Mark>& b, std::mt19937& random)
{
    const auto onB = copies(a, random), onA = copies(b, random);
    burst(a, random);
    burst(b, random);
    a.insert(a.end(), onA.begin(), onA.end());
    b.insert(b.end(), onB.begin(), onB.end());
}

}  // namespace clendo::world
