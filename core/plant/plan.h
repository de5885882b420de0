#pragma once
#include <algorithm>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "plant/face_id.h"
#include "result/result.h"
#include "units/units.h"

namespace clendo {

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
    int firstPort = 1;      ///< of fibre 1; the others follow
    std::string cordClass;  ///< class of the cord that comes there; empty: that of the cable
    std::string cordFibre;  ///< kind of fibre in that cord; empty: that of the cable
    Access access = Access::Adapter;
    std::string rack{};          ///< in which the panel sits: "R2"; empty: not said, or there is none
    std::optional<Side> pins{};  ///< which of the two ferrules has the guide pins; nothing: not said, or ferrules of one fibre
    std::string connector{};     ///< family at this end; empty: that of the cable
    std::string className{};     ///< class of the faces at this end; empty: that of the cable
    std::string device{};        ///< what the cord's other end goes into: "switch CR-1"; empty: not said, and no part of the link
};

/// A panel between the ends, at which the link is patched through: one more mated pair.
struct InnerPanel {
    std::string name;  ///< "IDF-2"; also the place where its faces are seen to
    Metre at;          ///< from end A
    int firstPort = 1;
};

/// A cable as it is planned: its fibres become links of the same build.
struct CablePlan {
    std::string id;                    ///< "VP-04"
    std::string placeA, placeB;        ///< "Tide Hall", "Breakwater Hut"
    std::string panelA, panelB;        ///< "TH-R2", "BH box"
    std::string fibre = "OS2";         ///< as the limits name it
    std::string connector = "LC";      ///< family
    std::string className = "sm-upc";  ///< class of the end faces
    int fibres = 12;
    int ferruleFibres = 1;  ///< how many of them share one ferrule
    int tubeFibres = 12;    ///< how many of them share one tube or ribbon; tubes are counted by the same colours
    Metre length;
    std::vector<Splice> splices;
    std::vector<InnerPanel> inner{};  ///< in order from A
    CableEnd endA, endB;
    std::string polarity = "straight";  ///< which fibre at B belongs to fibre n at A: "straight", "reversed", "pairs" (TIA-568.3 methods A, B, C)
    bool eightOfTwelve = false;         ///< ferrules of 12 of which the middle four fibres carry no light

    /// Whether its nth fibre is used: loss, length and traces of the others are not asked for. Their faces touch as all others do.
    [[nodiscard]] bool carriesLight(int n) const { return !eightOfTwelve || (n - 1) % 12 < 4 || (n - 1) % 12 >= 8; }
    [[nodiscard]] const CableEnd& at(End end) const { return end == End::A ? endA : endB; }
    /// The mated pairs of its links, in order from A: those at the ends, at panels in between, and where the cords go into devices that are planned.
    [[nodiscard]] std::vector<Connection> connections() const;
    /// How many of them a test from panel to panel holds.
    [[nodiscard]] int testedConnections() const { return 2 + static_cast<int>(inner.size()); }

    // of one of them; what is planned for an end holds for its device too, a panel in between is as the cable
    [[nodiscard]] const std::string& connectorAt(Connection at) const;
    /// The class by which a face there is judged; a cord's may be another than the panel's.
    [[nodiscard]] const std::string& classAt(Connection at, Side side = Side::Port) const;
    /// Of the cord that comes there.
    [[nodiscard]] const std::string& cordFibreAt(Connection at) const;
    [[nodiscard]] Access accessAt(Connection at) const;
    [[nodiscard]] int firstPortAt(Connection at) const;
    [[nodiscard]] std::optional<Side> pinsAt(Connection at) const;
    [[nodiscard]] const std::string& rackAt(Connection at) const;
    [[nodiscard]] const std::string& place(Connection at) const;
    /// Of a device its name.
    [[nodiscard]] const std::string& panel(Connection at) const;
    /// For people: "R2, TH-R2"; without a rack "TH-R2".
    [[nodiscard]] std::string rackAndPanel(Connection at) const;
    /// For people: "end A", "IDF-2", "switch CR-1 at end A".
    [[nodiscard]] std::string words(Connection at) const;
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
    [[nodiscard]] const std::string& place(Connection at) const { return cable->place(at); }
    /// Where a pair is, for people: "TH-R2 port 7"; with a rack "R2, TH-R2 port 7"; at a device "switch CR-1, for TH-R2 port 7".
    [[nodiscard]] std::string port(Connection at) const;
    /// Where a face is: "TH-R2 port 7, behind" or "TH-R2 port 7, cord side"; at a device "switch CR-1, for TH-R2 port 7" or "TH-R2 port 7, the cord's
    /// far end".
    [[nodiscard]] std::string where(const FaceId& face) const;
};

/// Whether the fibre is multimode, by its name (OM1 to OM5).
[[nodiscard]] bool isMultimode(std::string_view fibre);
[[nodiscard]] inline bool isMultimode(const CablePlan& cable) { return isMultimode(cable.fibre); }

/// Checks what a person or file planned: names, counts, splices inside the cable. The detail of the Error is the field, by its name in the job file:
/// "length_m".
Result<void> check(const CablePlan& cable);

/// The fibres of a cable as links. Colours by TIA-598, of tubes and of the fibres in each; after 12 they repeat with a tracer.
std::vector<Link> linksOf(const CablePlan& cable);
/// The colour of the nth in an order of colours, from 1.
std::string orderColour(int n);
}  // namespace clendo
