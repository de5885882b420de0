#include "files/random_name.h"

#include <fmt/format.h>
#include <sodium.h>

namespace clendo {

std::string randomName(std::size_t digits)
{
    std::string out;
    while (out.size() < digits) out += fmt::format("{:08x}", randombytes_random());
    out.resize(digits);
    return out;
}

}  // namespace clendo
