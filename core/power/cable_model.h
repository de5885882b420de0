#pragma once
#include <cstdint>
#include <map>
#include <optional>
#include <span>
#include <string>
#include <vector>

#include "power/loss.h"

namespace clendo {

/// A reading that counts, of one fibre of a cable.
struct CableReading {
    std::string link;
    Nanometre wavelength;
    Direction direction = Direction::AtoB;
    Decibel loss;
    std::int64_t at = 0;  ///< seconds since 1970-01-01 UTC
    int reference = 0;    ///< those with the same number rest on the same reference
};

/// What lies in many readings and in no fibre: cords, source, meter, reference.
struct RunShift {
    enum class Kind {
        Step,   ///< from one fibre on
        Drift,  ///< steadily, from the first reading to the last
        Ends    ///< all readings of one end against those of the other
    };
    Kind kind = Kind::Step;
    Direction direction = Direction::AtoB;  ///< of Ends: the one that reads more
    std::optional<Nanometre> wavelength{};  ///< nothing: all alike
    std::string since{}, until{};           ///< of a Step: the first link that it holds, and the last that it does not
    bool newReference = false;              ///< a Step where the reference was set anew
    std::size_t readings = 0;               ///< that it is in
    Decibel size, standard;                 ///< of a Drift over the whole run; standard uncertainty
};

/// A fibre that loses more than the others by itself.
struct OwnLoss {
    enum class Kind {
        Fibre,    ///< at all wavelengths, whichever end the light comes from
        Bend,     ///< more at the longer wavelength
        OneWay,   ///< in readings of one direction alone: they, not the fibre
        OneEnded  ///< it was read in one direction alone: fibre or reading, nobody can tell
    };
    Kind kind = Kind::Fibre;
    std::string link;
    Direction direction = Direction::AtoB;  ///< of OneWay and OneEnded
    Decibel size, standard;                 ///< over the usual fibre; standard uncertainty
};

struct CableModel {
    std::map<Nanometre, Decibel> usual;  ///< what a fibre of the cable loses
    Decibel reading, mating, fibre;      ///< standard deviations: of a reading, of a fibre's readings in one direction, of fibres
    std::vector<RunShift> shifts;        ///< the most certain first
    std::vector<OwnLoss> own;            ///< the largest first
};

/// One model of all readings of a cable: loss = what its fibres lose alike + the fibre's own + the cords' and the source's. Fibres and their matings
/// are random effects with heavy tails (multivariate t, 4 degrees of freedom; Pinheiro, Liu and Wu 2001, Journal of Computational and Graphical
/// Statistics 10), steps and drifts are found by the score of all places at which one could be, and kept where chance does not explain them.
/// Nothing: too few fibres to tell (under 6). Pure.
std::optional<CableModel> fitCable(std::span<const CableReading> readings);

}  // namespace clendo
