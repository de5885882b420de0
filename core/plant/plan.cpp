#include "plant/plan.h"

#include <fmt/format.h>

#include <array>

namespace clendo {
namespace {

// the order of data/plant/colours.json, scheme tia-598; a test holds the two together
constexpr std::array<std::string_view, 12> colours{"blue", "orange", "green",  "brown",  "slate", "white",
                                                   "red",  "black",  "yellow", "violet", "rose",  "aqua"};
constexpr int mostFibres = 864, mostInFerrule = 24, mostPort = 9999;
constexpr Metre longestCable{200000};

}  // namespace

std::string_view name(End end) { return end == End::A ? "A" : "B"; }

std::string_view name(Side side) { return side == Side::Cord ? "cord" : "port"; }
std::optional<Side> sideNamed(std::string_view name)
{
    for (const Side side : {Side::Cord, Side::Port})
        if (name == clendo::name(side)) return side;
    return std::nullopt;
}

std::string FaceId::text() const { return fmt::format("{}/{}/{}", link, name(end), name(side)); }

std::optional<FaceId> FaceId::parse(std::string_view text)
{
    const auto last = text.rfind('/');
    if (last == std::string_view::npos || last < 2) return std::nullopt;
    const auto before = text.rfind('/', last - 1);
    if (before == std::string_view::npos || before == 0) return std::nullopt;
    const auto end = text.substr(before + 1, last - before - 1), side = text.substr(last + 1);
    const auto which = sideNamed(side);
    if ((end != "A" && end != "B") || !which) return std::nullopt;
    return FaceId{std::string(text.substr(0, before)), end == "A" ? End::A : End::B, *which};
}

std::vector<FaceId> Link::faces() const
{
    return {{id, End::A, Side::Cord}, {id, End::A, Side::Port}, {id, End::B, Side::Port}, {id, End::B, Side::Cord}};
}

std::string CablePlan::rackAndPanel(End end) const { return at(end).rack.empty() ? panel(end) : fmt::format("{}, {}", at(end).rack, panel(end)); }

std::string Link::where(const FaceId& face) const
{
    const std::string panel = cable->rackAndPanel(face.end);
    const int shared = cable->ferruleFibres, number = cable->at(face.end).firstPort + (fibre - 1) / shared;
    const std::string port = shared > 1 ? fmt::format("{} port {} fibre {}", panel, number, fibre) : fmt::format("{} port {}", panel, number);
    return face.side == Side::Port ? port : "cord at " + port;
}

bool isMultimode(std::string_view fibre) { return fibre.starts_with("OM"); }

namespace {
constexpr std::array<std::string_view, 3> accessNames{"adapter", "device", "hardened"};
constexpr std::array<std::string_view, 3> accessWords{"behind an adapter", "inside a device", "in a hardened port"};
}  // namespace

std::string_view name(Access access) { return accessNames[static_cast<std::size_t>(access)]; }
std::string_view wordsFor(Access access) { return accessWords[static_cast<std::size_t>(access)]; }
std::optional<Access> accessNamed(std::string_view name)
{
    const auto it = std::find(accessNames.begin(), accessNames.end(), name);
    return it == accessNames.end() ? std::nullopt : std::optional(static_cast<Access>(it - accessNames.begin()));
}

Result<void> check(const CablePlan& cable)
{
    const auto bad = [](std::string sentence) { return failure(Error::Code::PlanInvalid, std::move(sentence)); };
    if (cable.id.empty() || cable.id.find('/') != std::string::npos || cable.id.size() > 60)
        return bad("Give the cable a name without a slash, for example VP-04.");
    if (cable.placeA.empty() || cable.placeB.empty()) return bad("Name the place at each end of the cable.");
    if (cable.fibres < 1 || cable.fibres > mostFibres) return bad(fmt::format("A cable has 1 to {} fibres, not {}.", mostFibres, cable.fibres));
    if (cable.ferruleFibres < 1 || cable.ferruleFibres > mostInFerrule || cable.fibres % cable.ferruleFibres != 0)
        return bad(
            fmt::format("Ferrules of {} fibres do not divide {} fibres. A ferrule holds 1 to {}.", cable.ferruleFibres, cable.fibres, mostInFerrule));
    if (cable.tubeFibres < 1 || cable.tubeFibres > mostFibres) return bad(fmt::format("A tube holds 1 to {} fibres.", mostFibres));
    if (cable.length <= Metre(0) || cable.length > longestCable)
        return bad(fmt::format("The length must be more than 0 and at most {:.0f} m.", longestCable.value()));
    for (const CableEnd* end : {&cable.endA, &cable.endB})
        if (end->firstPort < 1 || end->firstPort > mostPort) return bad(fmt::format("Ports are numbered from 1 to {}.", mostPort));
    for (const auto& splice : cable.splices)
        if (splice.at < Metre(0) || splice.at > cable.length)
            return bad(fmt::format("Splice “{}” at {:.0f} m lies outside the cable.", splice.name, splice.at.value()));
    return {};
}

std::string orderColour(int n)
{
    const auto index = static_cast<std::size_t>(n - 1) % colours.size();
    return std::string(colours[index]) + (((n - 1) / 12) % 2 == 1 ? " with tracer" : "");
}

std::vector<Link> linksOf(const CablePlan& cable)
{
    std::vector<Link> out;
    for (int n = 1; n <= cable.fibres; ++n) {
        const int tube = (n - 1) / cable.tubeFibres + 1;
        std::string colour = orderColour((n - 1) % cable.tubeFibres + 1);
        if (cable.fibres > cable.tubeFibres) colour += fmt::format(", tube {} {}", tube, orderColour(tube));
        out.push_back({fmt::format("{}/{}", cable.id, n), n, std::move(colour), tube, &cable});
    }
    return out;
}

}  // namespace clendo
