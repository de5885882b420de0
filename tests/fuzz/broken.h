#pragma once
#include <algorithm>
#include <random>
#include <string>

namespace clendo {

using Random = std::mt19937;

inline std::size_t below(Random& random, std::size_t n) { return n == 0 ? 0 : std::uniform_int_distribution<std::size_t>(0, n - 1)(random); }

/// Bytes of a file: bits turned, parts cut, doubled, overwritten; most of it is refused by what reads it.
inline std::string brokenFile(std::string bytes, Random& random)
{
    for (std::size_t n = 1 + below(random, 6); n > 0 && !bytes.empty(); --n) {
        const std::size_t at = below(random, bytes.size()), length = below(random, std::min<std::size_t>(64, bytes.size() - at) + 1);
        switch (below(random, 4)) {
            case 0: bytes[at] = static_cast<char>(random()); break;
            case 1: bytes.resize(at); break;
            case 2: bytes.insert(at, bytes.substr(at, length)); break;
            default: bytes.erase(at, length);
        }
    }
    return bytes;
}

}  // namespace clendo
