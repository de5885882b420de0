#pragma once
#include <string>

namespace clendo {

/// So many hexadecimal digits that nobody can guess, for names that must not meet.
std::string randomName(std::size_t digits);

}  // namespace clendo
