#pragma once
#include <optional>
#include <string>
#include <vector>

#include "record/state/state.h"

namespace clendo {

/// One thing on the way of a link: what it may lose, and what the traces show that it loses.
struct ElementLoss {
    std::string name;  ///< "TH-R2 port 7", "splice manhole 3", "fibre"
    std::optional<Decibel> allowed;
    std::optional<Decibel> found;  ///< nothing: the traces do not show it
    bool bothWays = false;         ///< mean of both directions; else from one end, where a mismatch of fibres deceives
};

/// Where the loss of a link goes at one wavelength.
struct LossByElement {
    Nanometre wavelength;
    bool bothWays = false;              ///< all that was found was found in both directions
    std::vector<ElementLoss> elements;  ///< from A to B, the fibre last
    std::optional<Decibel>
        unexplained;  ///< what was measured with source and meter less what was found; nothing: something was not found or not measured
};

/// Nothing where no trace at the wavelength shows the link.
std::optional<LossByElement> lossByElement(const JobState& state, const Link& link, Nanometre wavelength);

/// What takes more than it may, the worst first, or what nobody found, in a sentence; empty: neither.
std::string lossByElementWords(const LossByElement& where);

}  // namespace clendo
