#pragma once
#include <algorithm>

#include "record/state/state.h"

namespace clendo {

/// The last reading of a link at a wavelength in a direction, which is the one that counts; null: there is none.
inline const Filed<PowerRead>* lastReading(const LinkState& link, Nanometre wavelength, Direction direction)
{
    const auto it = std::find_if(link.readings.rbegin(), link.readings.rend(),
                                 [&](const auto& r) { return r.what.wavelength == wavelength && r.what.direction == direction; });
    return it == link.readings.rend() ? nullptr : &*it;
}

}  // namespace clendo
