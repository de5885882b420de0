#pragma once
#include <string>
#include <string_view>

namespace clendo {

/// A text as one field of a CSV (RFC 4180): quoted where it must be. What a spreadsheet would run as a formula gets an apostrophe before it.
std::string csvField(std::string_view text);

}  // namespace clendo
