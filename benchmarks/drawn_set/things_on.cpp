#include <algorithm>
#include <functional>

#include "shot.h"

namespace clendo::drawn {

cv::Point2d somewhere(Dice& dice, double from, double to)
{
    const double r = std::sqrt(dice.between(from * from, to * to)), a = dice.angle();
    return {r * std::cos(a), r * std::sin(a)};
}

std::vector<Thing> thingsOn(const Dirt& dirt, const Surroundings& face, Dice& dice)
{
    std::vector<Thing> out;
    const auto place = [&](const std::function<Thing()>& make) {
        for (int tries = 0; tries < 12; ++tries) {
            Thing t = make();
            const bool apart = std::all_of(out.begin(), out.end(), [&](const Thing& o) {
                const bool both = o.truth.kind == FindingKind::Scratch && t.truth.kind == FindingKind::Scratch;
                return both || gapBetween(o, t) > 2.2;
            });
            if (!apart) continue;
            out.push_back(std::move(t));
            return;
        }
    };
    const auto times = [&](double mean, const std::function<Thing()>& make) {
        for (int n = dice.count(mean); n > 0; --n) place(make);
    };
    const double glass = face.claddingRadius - 2;
    const auto onGlass = [&] { return somewhere(dice, 0, glass - 3); };
    for (int n = dice.count(dirt.bundles); n > 0; --n) {
        const double angle = dice.angle(), spread = dice.between(0, 0.05), apart = dice.between(2.5, 9);
        const cv::Point2d at = onGlass(), across(-std::sin(angle), std::cos(angle));
        const int lines = 3 + dice.below(5);
        for (int i = 0; i < lines; ++i)
            place([&] {
                return scratch(dice, at + i * apart * dice.between(0.85, 1.15) * across, angle + dice.normal(spread), dice.between(25, 110),
                               dice.decades(0.5, 3.6));
            });
    }
    for (int n = dice.count(dirt.crossings); n > 0; --n) {
        const cv::Point2d at = onGlass();
        const double angle = dice.angle();
        for (const double turn : {0.0, dice.between(0.3, 1.57)})
            place([&] { return scratch(dice, at + somewhere(dice, 0, 4), angle + turn, dice.between(20, 90), dice.decades(0.6, 4)); });
    }
    times(dirt.scratches, [&] { return scratch(dice, onGlass(), dice.angle(), dice.between(12, 120), dice.decades(0.5, 5)); });
    times(dirt.lint, [&] { return lint(dice, somewhere(dice, 0, 100), dice.between(25, 140)); });
    times(dirt.films, [&] { return film(dice, onGlass(), dice.between(8, 40)); });
    times(dirt.droplets, [&] { return droplet(dice, onGlass(), dice.decades(2.5, 16)); });
    times(dirt.chips, [&] { return chip(dice, face.claddingRadius, dice.between(2, 9)); });
    times(dirt.flakes, [&] { return flake(dice, onGlass(), dice.decades(1.5, 14)); });
    times(dirt.pits, [&] { return pit(dice, onGlass(), dice.decades(0.8, 6)); });
    times(dirt.specks, [&] { return speck(dice, onGlass(), dice.decades(0.8, 9)); });
    if (!face.rectangular)
        times(dirt.onFerrule, [&] {
            const double size = dice.decades(1.5, 13);
            const cv::Point2d at = somewhere(dice, face.claddingRadius + 10 + size / 2, 150);
            return dice.chance(0.7) ? speck(dice, at, size) : flake(dice, at, size);
        });
    return out;
}

}  // namespace clendo::drawn
