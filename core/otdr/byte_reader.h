#pragma once
#include <cstddef>
#include <cstdint>
#include <string>
#include <string_view>

namespace clendo::otdr {

/// Reads little-endian fields and never past the end: beyond it everything is 0 and ok() is false for good.
class ByteReader {
public:
    explicit ByteReader(std::string_view bytes) : bytes_(bytes) {}

    [[nodiscard]] bool ok() const { return ok_; }
    [[nodiscard]] std::size_t at() const { return at_; }
    [[nodiscard]] std::size_t left() const { return bytes_.size() - at_; }

    std::uint8_t u8() { return static_cast<std::uint8_t>(number(1)); }
    std::uint16_t u16() { return static_cast<std::uint16_t>(number(2)); }
    std::uint32_t u32() { return static_cast<std::uint32_t>(number(4)); }
    std::int16_t i16() { return static_cast<std::int16_t>(u16()); }
    std::int32_t i32() { return static_cast<std::int32_t>(u32()); }
    void skip(std::size_t n) { (void)fixed(n); }
    /// Exactly `n` characters.
    std::string_view fixed(std::size_t n)
    {
        if (n > left()) {
            ok_ = false;
            at_ = bytes_.size();
            return {};
        }
        const auto out = bytes_.substr(at_, n);
        at_ += n;
        return out;
    }
    /// Up to a zero byte, which is read too.
    std::string_view text()
    {
        const auto end = bytes_.find('\0', at_);
        if (end == std::string_view::npos) {
            ok_ = false;
            at_ = bytes_.size();
            return {};
        }
        const auto out = bytes_.substr(at_, end - at_);
        at_ = end + 1;
        return out;
    }

private:
    std::uint64_t number(std::size_t n)
    {
        const auto raw = fixed(n);
        std::uint64_t out = 0;
        for (std::size_t i = 0; i < raw.size(); ++i) out |= static_cast<std::uint64_t>(static_cast<std::uint8_t>(raw[i])) << (8 * i);
        return out;
    }

    std::string_view bytes_;
    std::size_t at_ = 0;
    bool ok_ = true;
};

}  // namespace clendo::otdr
