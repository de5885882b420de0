#pragma once
#include <algorithm>
#include <functional>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "result/result.h"
#include "units/units.h"

namespace clendo {

enum class End { A, B };
enum class Side { Cord, Port };    ///< the cord's end, and the face behind the panel's adapter
std::string_view name(Side side);  ///< "cord", "port"
std::optional<Side> sideNamed(std::string_view name);

/// One end face of a link: "VP-04/7/A/port".
struct FaceId {
    std::string link;
    End end = End::A;
    Side side = Side::Cord;
    auto operator<=>(const FaceId&) const = default;
    [[nodiscard]] std::string text() const;
    static std::optional<FaceId> parse(std::string_view text);
};

struct FaceIdHash {
    std::size_t operator()(const FaceId& face) const
    {
        return std::hash<std::string>()(face.link) * 4 + static_cast<std::size_t>(face.end) * 2 + static_cast<std::size_t>(face.side);
    }
};

struct Splice {
    std::string name;
    Metre at;  ///< from end A
};

/// How a face behind the panel can be reached.
enum class Access { Adapter, Device, Hardened };  ///< behind an adapter, inside a device, a hardened port
std::string_view name(Access access);             ///< "adapter", "device", "hardened"
std::string_view wordsFor(Access access);         ///< "behind an adapter"
std::optional<Access> accessNamed(std::string_view name);

/// What differs between the ends of a cable.
struct CableEnd {
    int firstPort = 1;         ///< of fibre 1; the others follow
    std::string cordCriteria;  ///< class of the cord that comes there; empty: that of the cable
    std::string cordFibre;     ///< kind of fibre in that cord; empty: that of the cable
    Access access = Access::Adapter;
    std::string rack{};          ///< in which the panel sits: "R2"; empty: not said, or there is none
    std::optional<Side> pins{};  ///< which of the two ferrules has the guide pins; nothing: not said, or ferrules of one fibre
    std::string connector{};     ///< family at this end; empty: that of the cable
    std::string criteria{};      ///< class of the faces at this end; empty: that of the cable
};

/// A cable as it is planned: its fibres become links of the same build.
struct CablePlan {
    std::string id;                   ///< "VP-04"
    std::string placeA, placeB;       ///< "Tide Hall", "Breakwater Hut"
    std::string panelA, panelB;       ///< "TH-R2", "BH box"
    std::string fibre = "OS2";        ///< as the limits name it
    std::string connector = "LC";     ///< family
    std::string criteria = "sm-upc";  ///< class of the end faces
    int fibres = 12;
    int ferruleFibres = 1;  ///< how many of them share one ferrule
    int tubeFibres = 12;    ///< how many of them share one tube or ribbon; tubes are counted by the same colours
    Metre length;
    std::vector<Splice> splices;
    CableEnd endA, endB;

    [[nodiscard]] const CableEnd& at(End end) const { return end == End::A ? endA : endB; }
    [[nodiscard]] const std::string& connectorAt(End end) const { return at(end).connector.empty() ? connector : at(end).connector; }
    /// The class by which a face at this end is judged; a cord's may be another than the panel's.
    [[nodiscard]] const std::string& criteriaAt(End end, Side side = Side::Port) const
    {
        if (side == Side::Cord && !at(end).cordCriteria.empty()) return at(end).cordCriteria;
        return at(end).criteria.empty() ? criteria : at(end).criteria;
    }
    [[nodiscard]] const std::string& place(End end) const { return end == End::A ? placeA : placeB; }
    [[nodiscard]] const std::string& panel(End end) const { return end == End::A ? panelA : panelB; }
    /// For people: "R2, TH-R2"; without a rack "TH-R2".
    [[nodiscard]] std::string rackAndPanel(End end) const;
    /// How many ports it takes at each end: ferrules, where they hold several fibres.
    [[nodiscard]] int ports() const { return fibres / std::max(1, ferruleFibres); }
};

/// One fibre of a cable, end to end.
struct Link {
    std::string id;  ///< "VP-04/7"
    int fibre = 1;
    std::string colour;  ///< "blue"; where the cable has several tubes "blue, tube 2 orange"
    int tube = 1;
    const CablePlan* cable = nullptr;  ///< lives in the plan that made the link

    [[nodiscard]] std::vector<FaceId> faces() const;  ///< in order from A to B
    [[nodiscard]] const std::string& place(End end) const { return cable->place(end); }
    /// Where the face is, for people: "TH-R2 port 7" or "cord at TH-R2 port 7"; with a rack "R2, TH-R2 port 7".
    [[nodiscard]] std::string where(const FaceId& face) const;
};

/// Whether the fibre is multimode, by its name (OM1 to OM5).
[[nodiscard]] bool isMultimode(std::string_view fibre);
[[nodiscard]] inline bool isMultimode(const CablePlan& cable) { return isMultimode(cable.fibre); }

constexpr int connectionsPerLink = 2;  ///< mated pairs of a link of this build, both ends included

/// Checks what a person or file planned: names, counts, splices inside the cable.
Result<void> check(const CablePlan& cable);

/// The fibres of a cable as links. Colours by TIA-598, of tubes and of the fibres in each; after 12 they repeat with a tracer.
std::vector<Link> linksOf(const CablePlan& cable);
/// The colour of the nth in an order of colours, from 1.
std::string orderColour(int n);
std::string_view name(End end);

}  // namespace clendo
