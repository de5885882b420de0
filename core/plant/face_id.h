#pragma once
#include <compare>
#include <functional>
#include <optional>
#include <string>
#include <string_view>

namespace clendo {

enum class End { A, B };
std::string_view name(End end);

enum class Side { Cord, Port };    ///< the cord's end, and the face behind the panel's adapter (or inside a device)
std::string_view name(Side side);  ///< "cord", "port"
std::optional<Side> sideNamed(std::string_view name);

/// Where two faces of a link meet: at the panel of an end, at a panel in between, or where the cord at an end goes into a device. Ordered from A to
/// B.
class Connection {
public:
    constexpr Connection(End end) : at_(end == End::A ? 0 : beyondInner) {}  // NOLINT(google-explicit-constructor): an end is a place
    constexpr Connection() : Connection(End::A) {}
    /// The nth panel between the ends, counted from A; from 1 to 99.
    static constexpr Connection inner(int n) { return Connection(n); }
    /// Where the other end of the cord that comes to this end's panel goes in.
    static constexpr Connection device(End end) { return Connection(end == End::A ? -1 : beyondInner + 1); }

    /// The end at whose panel this is; nothing for the others.
    [[nodiscard]] constexpr std::optional<End> panelEnd() const
    {
        return at_ == 0 ? std::optional(End::A) : at_ == beyondInner ? std::optional(End::B) : std::nullopt;
    }
    /// The end whose cord goes into a device here; nothing for the others.
    [[nodiscard]] constexpr std::optional<End> deviceEnd() const
    {
        return at_ == -1 ? std::optional(End::A) : at_ == beyondInner + 1 ? std::optional(End::B) : std::nullopt;
    }
    /// The number of the panel in between; 0: it is none.
    [[nodiscard]] constexpr int innerNumber() const { return at_ > 0 && at_ < beyondInner ? at_ : 0; }
    /// The side of it that is nearer to A. Panels in between stand in pairs as a rule: the cable comes from behind, a cord leads to the next.
    [[nodiscard]] constexpr Side towardsA() const
    {
        if (const int n = innerNumber()) return n % 2 == 1 ? Side::Port : Side::Cord;
        return *this == Connection(End::A) || *this == device(End::B) ? Side::Cord : Side::Port;
    }
    /// "A", "B", "1", "A-device".
    [[nodiscard]] std::string text() const;
    static std::optional<Connection> parse(std::string_view text);
    auto operator<=>(const Connection&) const = default;

private:
    static constexpr int beyondInner = 100;
    constexpr explicit Connection(int at) : at_(at) {}
    int at_;
    friend struct FaceIdHash;
};
constexpr int mostInnerConnections = 99;

/// One end face of a link: "VP-04/7/A/port".
struct FaceId {
    std::string link;
    Connection connection;
    Side side = Side::Cord;
    auto operator<=>(const FaceId&) const = default;
    [[nodiscard]] std::string text() const;
    static std::optional<FaceId> parse(std::string_view text);
};

struct FaceIdHash {
    std::size_t operator()(const FaceId& face) const
    {
        return std::hash<std::string>()(face.link) * 256 + static_cast<std::size_t>(face.connection.at_ + 1) * 2 +
               static_cast<std::size_t>(face.side);
    }
};

}  // namespace clendo
