#include "otdr/sor_file.h"

#include <fmt/format.h>

#include <algorithm>

#include "otdr/byte_reader.h"
#include "otdr/checksum.h"

namespace clendo::otdr {
namespace {

constexpr std::string_view magic("Map\0", 4);
constexpr std::size_t mostBlocks = 1000;

void put(std::string& out, std::uint64_t value, int bytes)
{
    for (int i = 0; i < bytes; ++i) out += static_cast<char>(value >> (8 * i) & 0xFFU);
}

/// A text of the format ends at its first zero byte.
std::string asText(const std::string& text) { return text.substr(0, text.find('\0')) + '\0'; }

}  // namespace

Result<SorFile> SorFile::read(std::string_view bytes, std::string_view name)
{
    const auto refused = [&] {
        return failure(Error::Code::TraceDamaged,
                       fmt::format("“{}” cannot be written again without losing something: its table of contents does not fit. "
                                   "Keep the file as it came.",
                                   name));
    };
    SorFile out;
    ByteReader in(bytes);
    out.second_ = bytes.starts_with(magic);
    if (out.second_) in.skip(magic.size());
    out.revision_ = in.u16();
    const std::size_t mapSize = in.u32(), count = in.u16();
    if (!in.ok() || count == 0 || count > mostBlocks) return refused();
    std::vector<std::size_t> sizes;
    for (std::size_t i = 1; i < count; ++i) {
        Block block;
        block.name = in.text();
        block.revision = in.u16();
        sizes.push_back(in.u32());
        out.blocks_.push_back(std::move(block));
    }
    if (!in.ok() || mapSize < in.at() || mapSize > bytes.size()) return refused();
    out.behindMap_ = in.fixed(mapSize - in.at());
    for (std::size_t i = 0; i < sizes.size(); ++i) {
        Block& block = out.blocks_[i];
        const std::size_t begin = in.at();
        block.bytes = in.fixed(sizes[i]);
        if (!in.ok()) return refused();
        const std::size_t named = out.second_ ? block.name.size() + 1 : 0;
        if (out.second_ && block.bytes.substr(0, named) != block.name + '\0') return refused();
        if (block.name == "Cksum" && block.bytes.size() == named + 2) {
            ByteReader value(std::string_view(block.bytes).substr(named));
            out.rightChecksum_ = checksumMatches(value.u16(), bytes.substr(0, begin + named), bytes.substr(0, begin));
        }
    }
    out.behind_ = in.fixed(in.left());
    if (out.write() != bytes) return refused();
    return out;
}

Result<void> SorFile::label(const SorLabels& labels)
{
    const auto general = std::find_if(blocks_.begin(), blocks_.end(), [](const Block& b) { return b.name == "GenParams"; });
    const auto missing = [] {
        return failure(Error::Code::TraceDamaged, "The file has no general parameters that labels could be written into. Keep it as it came.");
    };
    if (general == blocks_.end()) return missing();
    ByteReader in(general->bytes);
    std::string out;
    const auto keep = [&](std::size_t n) { out += in.fixed(n); };
    const auto change = [&](const std::optional<std::string>& to) {
        const auto was = in.text();
        out += to ? asText(*to) : std::string(was) + '\0';
    };
    keep((second_ ? general->name.size() + 1 : 0) + 2);  // its name, the language
    change(labels.cable);
    change(labels.fibre);
    keep(second_ ? 4 : 2);  // the kind of fibre, the wavelength
    change(labels.locationA);
    change(labels.locationB);
    if (!in.ok()) return missing();
    keep(in.left());
    general->bytes = std::move(out);
    return {};
}

std::string SorFile::write() const
{
    std::string entries;
    for (const auto& block : blocks_) {
        entries += block.name + '\0';
        put(entries, block.revision, 2);
        put(entries, block.bytes.size(), 4);
    }
    entries += behindMap_;
    std::string out(second_ ? magic : std::string_view());
    put(out, revision_, 2);
    put(out, out.size() + 4 + 2 + entries.size(), 4);
    put(out, blocks_.size() + 1, 2);
    out += entries;
    for (const auto& block : blocks_) {
        const std::size_t named = second_ ? block.name.size() + 1 : 0;
        if (!rightChecksum_ || block.name != "Cksum") {
            out += block.bytes;
            continue;
        }
        const std::size_t begin = out.size();
        out += block.bytes.substr(0, named);
        const auto was =
            static_cast<std::uint16_t>(static_cast<unsigned char>(block.bytes[named]) | static_cast<unsigned char>(block.bytes[named + 1]) << 8U);
        const std::string_view all(out);
        put(out, checksumMatches(was, all, all.substr(0, begin)) ? was : checksum(out, writtenChecksum), 2);
    }
    return out + behind_;
}

}  // namespace clendo::otdr
