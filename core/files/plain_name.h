#pragma once
#include <string>
#include <string_view>

namespace clendo {

/// A file name for anything a person called something: letters, digits and hyphens as they are, "_" for "/", "+" for a space, all else as "=" and two
/// hexadecimal digits. No two names give the same; what would be longer than `longest` is cut and ends in "=" and sixteen digits of its SHA-256.
std::string plainName(std::string_view name, std::size_t longest = 80);

}  // namespace clendo
