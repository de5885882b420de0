#include "plant/plan.h"

#include <fmt/format.h>

#include <array>
#include <set>

namespace clendo {
namespace {

// the order of data/plant/colours.json, scheme tia-598; a test holds the two together
constexpr std::array<std::string_view, 12> colours{"blue", "orange", "green",  "brown",  "slate", "white",
                                                   "red",  "black",  "yellow", "violet", "rose",  "aqua"};
constexpr int mostFibres = 864, mostInFerrule = 24, mostPort = 9999;
constexpr Metre longestCable{200000};

}  // namespace

std::vector<Connection> CablePlan::connections() const
{
    std::vector<Connection> out;
    if (!endA.device.empty()) out.push_back(Connection::device(End::A));
    out.emplace_back(End::A);
    for (int n = 1; n <= static_cast<int>(inner.size()); ++n) out.push_back(Connection::inner(n));
    out.emplace_back(End::B);
    if (!endB.device.empty()) out.push_back(Connection::device(End::B));
    return out;
}

namespace {

/// What is planned for the end to which a connection belongs; null for a panel in between.
const CableEnd* endOf(const CablePlan& cable, Connection at)
{
    const auto end = at.panelEnd() ? at.panelEnd() : at.deviceEnd();
    return end ? &cable.at(*end) : nullptr;
}

const InnerPanel* innerOf(const CablePlan& cable, Connection at)
{
    const auto n = static_cast<std::size_t>(at.innerNumber());
    return n >= 1 && n <= cable.inner.size() ? &cable.inner[n - 1] : nullptr;
}

const std::string nothing;

}  // namespace

const std::string& CablePlan::connectorAt(Connection at) const
{
    const CableEnd* end = endOf(*this, at);
    return end && !end->connector.empty() ? end->connector : connector;
}

const std::string& CablePlan::classAt(Connection at, Side side) const
{
    const CableEnd* end = endOf(*this, at);
    if (end && side == Side::Cord && !end->cordClass.empty()) return end->cordClass;
    return end && !end->className.empty() ? end->className : className;
}

const std::string& CablePlan::cordFibreAt(Connection at) const
{
    const CableEnd* end = endOf(*this, at);
    return end && !end->cordFibre.empty() ? end->cordFibre : fibre;
}

Access CablePlan::accessAt(Connection at) const
{
    if (at.deviceEnd()) return Access::Device;
    const CableEnd* end = endOf(*this, at);
    return end ? end->access : Access::Adapter;
}

int CablePlan::firstPortAt(Connection at) const
{
    if (const InnerPanel* panel = innerOf(*this, at)) return panel->firstPort;
    const CableEnd* end = endOf(*this, at);
    return end ? end->firstPort : 1;
}

std::optional<Side> CablePlan::pinsAt(Connection at) const
{
    const auto end = at.panelEnd();
    return end ? this->at(*end).pins : std::nullopt;
}

const std::string& CablePlan::rackAt(Connection at) const
{
    const CableEnd* end = endOf(*this, at);
    return end ? end->rack : nothing;
}

const std::string& CablePlan::place(Connection at) const
{
    if (const InnerPanel* panel = innerOf(*this, at)) return panel->name;
    return endOf(*this, at) == &endB ? placeB : placeA;
}

const std::string& CablePlan::panel(Connection at) const
{
    if (const InnerPanel* panel = innerOf(*this, at)) return panel->name;
    if (const auto end = at.deviceEnd()) return this->at(*end).device;
    return at == Connection(End::B) ? panelB : panelA;
}

std::string CablePlan::rackAndPanel(Connection at) const { return rackAt(at).empty() ? panel(at) : fmt::format("{}, {}", rackAt(at), panel(at)); }

std::string CablePlan::words(Connection at) const
{
    if (const auto end = at.panelEnd()) return fmt::format("end {}", name(*end));
    if (const auto end = at.deviceEnd()) return fmt::format("{} at end {}", panel(at).empty() ? "the device" : panel(at), name(*end));
    return panel(at);
}

std::vector<FaceId> Link::faces() const
{
    std::vector<FaceId> out;
    for (const Connection at : cable->connections()) {
        const Side first = at.towardsA();
        out.push_back({id, at, first});
        out.push_back({id, at, first == Side::Cord ? Side::Port : Side::Cord});
    }
    return out;
}

std::string Link::port(Connection at) const
{
    const auto deviceEnd = at.deviceEnd();
    const Connection panel = deviceEnd ? Connection(*deviceEnd) : at;  // a device is told by the port to which its cord leads
    const int shared = cable->ferruleFibres, number = cable->firstPortAt(panel) + (fibre - 1) / shared;
    std::string out = fmt::format("{} port {}", cable->rackAndPanel(panel), number);
    if (shared > 1) out += fmt::format(" fibre {}", fibre);
    if (!deviceEnd) return out;
    const std::string& device = cable->panel(at);
    return fmt::format("{}, for {}", device.empty() ? "device" : device, out);
}

std::string Link::where(const FaceId& face) const
{
    if (const auto deviceEnd = face.connection.deviceEnd())
        return face.side == Side::Port ? port(face.connection) : port(*deviceEnd) + ", the cord's far end";
    return port(face.connection) + (face.side == Side::Port ? ", behind" : ", cord side");
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
    const auto bad = [](std::string sentence, const char* field) { return failure(Error::Code::PlanInvalid, std::move(sentence), field); };
    if (cable.id.empty() || cable.id.find('/') != std::string::npos || cable.id.size() > 60)
        return bad("Give the cable a name without a slash, for example C-12.", "id");
    if (cable.placeA.empty() || cable.placeB.empty())
        return bad("Name the place at each end of the cable.", cable.placeA.empty() ? "place_a" : "place_b");
    if (cable.fibres < 1 || cable.fibres > mostFibres)
        return bad(fmt::format("A cable has 1 to {} fibres, not {}.", mostFibres, cable.fibres), "fibres");
    if (cable.ferruleFibres < 1 || cable.ferruleFibres > mostInFerrule || cable.fibres % cable.ferruleFibres != 0)
        return bad(
            fmt::format("Ferrules of {} fibres do not divide {} fibres. A ferrule holds 1 to {}.", cable.ferruleFibres, cable.fibres, mostInFerrule),
            "ferrule_fibres");
    if (cable.tubeFibres < 1 || cable.tubeFibres > mostFibres) return bad(fmt::format("A tube holds 1 to {} fibres.", mostFibres), "tube_fibres");
    if (cable.polarity != "straight" && cable.polarity != "reversed" && cable.polarity != "pairs")
        return bad(fmt::format("“{}” is no polarity: straight, reversed or pairs.", cable.polarity), "polarity");
    if (cable.eightOfTwelve && cable.ferruleFibres != 12) return bad("Eight of twelve fibres are used only in ferrules of 12.", "eight_of_twelve");
    if (cable.length <= Metre(0) || cable.length > longestCable)
        return bad(fmt::format("The length must be more than 0 and at most {:.0f} m.", longestCable.value()), "length_m");
    for (const CableEnd* end : {&cable.endA, &cable.endB})
        if (end->firstPort < 1 || end->firstPort > mostPort)
            return bad(fmt::format("Ports are numbered from 1 to {}.", mostPort), end == &cable.endA ? "end_a" : "end_b");
    for (const auto& splice : cable.splices)
        if (splice.at < Metre(0) || splice.at > cable.length)
            return bad(fmt::format("Splice “{}” at {:.0f} m lies outside the cable.", splice.name, splice.at.value()), "splices");
    if (cable.inner.size() > mostInnerConnections)
        return bad(fmt::format("A link is patched at {} panels at most.", mostInnerConnections), "patched_at");
    std::set<std::string> places{cable.placeA, cable.placeB};
    for (std::size_t n = 0; n < cable.inner.size(); ++n) {
        const InnerPanel& panel = cable.inner[n];
        if (!places.insert(panel.name).second || panel.name.empty() || panel.name.find('/') != std::string::npos)
            return bad(fmt::format("“{}”: give each panel in between a name of its own, without a slash.", panel.name), "patched_at");
        if (panel.at < Metre(0) || panel.at > cable.length || (n > 0 && panel.at < cable.inner[n - 1].at))
            return bad(
                fmt::format("Panel “{}” at {:.0f} m: panels in between stand in order from end A, inside the cable.", panel.name, panel.at.value()),
                "patched_at");
        if (panel.firstPort < 1 || panel.firstPort > mostPort) return bad(fmt::format("Ports are numbered from 1 to {}.", mostPort), "patched_at");
    }
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
