#pragma once
#include <functional>
#include <string>

#include "result/result.h"

namespace clendo {

/// A file that was seen or shot, kept as it came.
struct Evidence {
    std::string name;  ///< as the file was called
    std::string bytes;
};

/// Gives the bytes of a picture or trace by its SHA-256.
using EvidenceSource = std::function<Result<std::string>(const std::string& sha256)>;

}  // namespace clendo
