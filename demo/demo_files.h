#pragma once
#include <QString>
#include <cstdint>

#include "power/loss.h"
#include "world/world.h"

namespace clendo {

constexpr Metre demoLaunchCord{150};  ///< and the tail cord as well

QString demoTraceName(int fibre, Direction direction, int nm);
/// What the OTDR saves of a fibre of VP-04, with launch and tail cord, from both ends. `bench` is a copy: the day goes on as if it had not been
/// there. `takenAt`: seconds since 1970-01-01 UTC.
Result<void> writeTraces(const QString& folder, int fibre, world::World bench, std::int64_t takenAt);
/// Patch cords as a line makes them: most right at the first time, some looked at again after cleaning, one blurred, one file cut off.
Result<void> writeLinePictures(const QString& folder);

}  // namespace clendo
