#include "record/journal/time_text.h"

#include <fmt/chrono.h>

#include <algorithm>

namespace clendo {

std::string timeText(std::int64_t seconds)
{
    constexpr std::int64_t latest = 253402300799;  // 9999-12-31
    return fmt::format("{:%Y-%m-%d %H:%M} UTC", fmt::gmtime(static_cast<std::time_t>(std::clamp<std::int64_t>(seconds, 0, latest))));
}

}  // namespace clendo
