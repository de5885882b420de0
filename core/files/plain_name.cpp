#include "files/plain_name.h"

#include <fmt/format.h>

#include "files/digest.h"

namespace clendo {

std::string plainName(std::string_view name, std::size_t longest)
{
    constexpr std::size_t digits = 16;
    std::string out;
    for (const char c : name) {
        const bool plain = (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') || c == '-';
        if (plain)
            out += c;
        else if (c == '/')
            out += '_';
        else if (c == ' ')
            out += '+';
        else
            out += fmt::format("={:02X}", static_cast<unsigned char>(c));
    }
    if (out.size() <= longest) return out;
    return out.substr(0, longest - digits - 1) + "=" + digestOf(name).hex().substr(0, digits);
}

}  // namespace clendo
