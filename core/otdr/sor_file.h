#pragma once
#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "result/result.h"

namespace clendo::otdr {

/// What a file says of where it belongs; nothing: left as it is.
struct SorLabels {
    std::optional<std::string> cable, fibre, locationA, locationB;
};

/// An SR-4731 file block by block, to be written again: what is not changed stays byte for byte, blocks that nobody here knows among it.
class SorFile {
public:
    /// Refuses a file that could not be written again without losing something: its table of contents does not fit, or it is cut short.
    static Result<SorFile> read(std::string_view bytes, std::string_view name);

    /// Puts other labels into the general parameters. An Error where these are not there or end too soon.
    Result<void> label(const SorLabels& labels);
    /// The file. Its checksum follows what was changed where it was right before; a wrong one stays wrong: it tells of what happened earlier.
    [[nodiscard]] std::string write() const;
    /// Names of its blocks, in order.
    [[nodiscard]] std::vector<std::string> blocks() const;

private:
    struct Block {
        std::string name;
        std::uint16_t revision = 0;
        std::string bytes;  ///< all of it; in version 2 its name comes first
    };

    bool second_ = true;  ///< version 2
    std::uint16_t revision_ = 0;
    std::vector<Block> blocks_;
    std::string behindMap_, behind_;  ///< of the table of contents behind its entries; of the file behind its blocks
    bool rightChecksum_ = false;
};

}  // namespace clendo::otdr
