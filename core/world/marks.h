#pragma once
#include <cstdint>
#include <random>
#include <vector>

#include "units/units.h"

namespace clendo::world {

/// One thing on a simulated face. Dirt goes by cleaning, damage stays.
struct Mark {
    /// Lint is a curved strand, of which the length is `length`; Dried what a drop leaves: a ragged rim, and a film within.
    enum class Shape { Speck, Stroke, Ring, Chip, Lint, Dried };
    Shape shape = Shape::Speck;
    FacePoint at;
    Micrometre size;         ///< diameter; of a stroke and of lint its width
    Micrometre length;       ///< of a stroke and of lint
    double angle = 0;        ///< radians
    double contrast = -0.5;  ///< a share: -0.5 is half as bright as around
    bool damage = false;
};

/// How strongly a mark covers a place, 0..1, with edges that are `soft` um wide.
double cover(const Mark& mark, FacePoint place, Micrometre soft);

/// What a face of the simulated world is like before anybody touched it.
enum class Story { Clean, SomeDust, Dusty, Oily, Scratched, Pitted };

// What deeds do to what lies on a face.

/// How a face is cleaned. What a dry stroke does not take, a wet one may; a wet one that is not dried leaves a film.
enum class Cleaning { Dry, Wet, WetThenDry, FreshTool };

/// Takes most of the loose dirt within the reach of the tool, moves a little of it, and leaves all damage.
void clean(std::vector<Mark>& marks, Cleaning how, std::mt19937& random);
/// A finger: oil in smears and flakes of skin.
void touch(std::vector<Mark>& marks, std::mt19937& random);
/// A floor: lint and many particles.
void drop(std::vector<Mark>& marks, std::mt19937& random);
/// A dust cap puts some of its dust on what it covers.
void cap(std::vector<Mark>& marks, std::mt19937& random);
/// Two faces meet: pieces over 5 um burst and spread, a part of all dirt is copied to the other face, seen from the other side.
void press(std::vector<Mark>& a, std::vector<Mark>& b, std::mt19937& random);

/// Between 0 and 1; the same on every machine, as the standard's distributions are not.
double share(std::mt19937& random);
double uniform(std::mt19937& random, double low, double high);
/// Normally distributed, of mean 0.
double normal(std::mt19937& random, double sigma);

}  // namespace clendo::world
