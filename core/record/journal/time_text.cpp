#include "record/journal/time_text.h"

#include <fmt/chrono.h>

#include <algorithm>

namespace clendo {

namespace {

std::tm within(std::int64_t seconds)
{
    constexpr std::int64_t latest = 253402300799;  // 9999-12-31
    return fmt::gmtime(static_cast<std::time_t>(std::clamp<std::int64_t>(seconds, 0, latest)));
}

}  // namespace

std::string timeText(std::int64_t seconds) { return fmt::format("{:%Y-%m-%d %H:%M} UTC", within(seconds)); }
std::string isoTime(std::int64_t seconds) { return fmt::format("{:%Y-%m-%dT%H:%M:%SZ}", within(seconds)); }

}  // namespace clendo
