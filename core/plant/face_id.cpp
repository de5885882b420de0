#include "plant/face_id.h"

#include <fmt/format.h>

#include <charconv>

namespace clendo {

std::string_view name(End end) { return end == End::A ? "A" : "B"; }

std::string_view name(Side side) { return side == Side::Cord ? "cord" : "port"; }

std::optional<Side> sideNamed(std::string_view name)
{
    for (const Side side : {Side::Cord, Side::Port})
        if (name == clendo::name(side)) return side;
    return std::nullopt;
}

std::string Connection::text() const
{
    if (const auto end = panelEnd()) return std::string(name(*end));
    if (const auto end = deviceEnd()) return fmt::format("{}-device", name(*end));
    return std::to_string(innerNumber());
}

std::optional<Connection> Connection::parse(std::string_view text)
{
    for (const End end : {End::A, End::B})
        for (const Connection one : {Connection(end), device(end)})
            if (text == one.text()) return one;
    int n = 0;
    const auto parsed = std::from_chars(text.data(), text.data() + text.size(), n);
    if (parsed.ec != std::errc{} || parsed.ptr != text.data() + text.size() || n < 1 || n > mostInnerConnections || text != std::to_string(n))
        return std::nullopt;
    return inner(n);
}

std::string FaceId::text() const { return fmt::format("{}/{}/{}", link, connection.text(), name(side)); }

std::optional<FaceId> FaceId::parse(std::string_view text)
{
    const auto last = text.rfind('/');
    if (last == std::string_view::npos || last < 2) return std::nullopt;
    const auto before = text.rfind('/', last - 1);
    if (before == std::string_view::npos || before == 0) return std::nullopt;
    const auto connection = Connection::parse(text.substr(before + 1, last - before - 1));
    const auto side = sideNamed(text.substr(last + 1));
    if (!connection || !side) return std::nullopt;
    return FaceId{std::string(text.substr(0, before)), *connection, *side};
}

}  // namespace clendo
