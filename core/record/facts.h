#pragma once
#include <cstdint>
#include <nlohmann/json_fwd.hpp>
#include <optional>
#include <string>
#include <string_view>
#include <variant>
#include <vector>

#include "face/face_report.h"
#include "otdr/analysis.h"
#include "plant/plan.h"
#include "power/loss.h"
#include "record/policy.h"

namespace clendo {

// What can be filed in a job's journal. Each is a fact about a moment; nothing computed from rules is filed.

/// The job's own settings; a later one replaces the earlier.
struct JobSet {
    std::string name;
    std::string edition = "2015";
    std::string limits = "generic-sm";
    ReferenceMethod method = ReferenceMethod::OneCord;
    std::vector<int> wavelengths{1310, 1550};
    int attempts = 5;             ///< cleanings before somebody has to decide
    bool stopAtFirstBad = false;  ///< of a ferrule with several fibres: clean as soon as one is bad, instead of looking at all first
    Metre launchCord{150}, tailCord{150};
    Policies policies;  ///< answers that differ from the default
};
struct CablePlanned {
    CablePlan cable;
};
struct FaceSeen {
    FaceId face;
    std::string picture;  ///< SHA-256 of the evidence
    std::string pictureName;
    face::FaceMeasurement measured;
};
struct FaceCleaned {
    FaceId face;
    std::string method;  ///< "dry", "wet-then-dry", "fresh-tool"
    int strokes = 1;
    std::string tool{};  ///< of the kit; empty: not said
};
struct Mated {
    std::string link;
    End end = End::A;
    std::string reason{};  ///< why all the same, where something was in the way
};
/// The adapter's split sleeve at one end, swabbed before the connector goes in.
struct SleeveCleaned {
    std::string link;
    End end = End::A;
};
/// Something happened to a face after it was seen: it must be seen again.
struct FaceHandled {
    FaceId face;
    std::string how;  ///< "touched", "dropped", "moved", "open too long"
};
/// Where a face waits: "capped" (by whoever works here), "factory cap", "parked" in a clean port, or "open".
struct FaceCovered {
    FaceId face;
    std::string how;
};
/// Something that is carried along: a scope, a tip, a cleaning tool, a test cord, an instrument. A later one of the same name replaces it.
/// The ends of a cord are faces: "RC-1/A/cord".
struct KitKept {
    std::string id;                       ///< as it is called: "pen 1", "RC-1"
    std::string kind;                     ///< one of kitKinds(): "pen", "cord", "meter"
    std::vector<std::string> connectors;  ///< families that it fits; empty: all
    std::string serial;
    std::int64_t calibratedUntil = 0;  ///< seconds since 1970-01-01 UTC; 0: not known, or never needed
    int most = 0;                      ///< strokes or matings that it is good for; 0: not counted
    std::string criteria;              ///< of a cord: class of its faces
    bool gone = false;                 ///< used up, lost or left at home
};
/// Something of the kit was proven: battery charged, port seen clean, cord measured.
struct KitProved {
    std::string id;
    std::string what;
    bool good = true;
};
/// The kit was looked through before the round; what was open then, and why it went on all the same.
struct KitChecked {
    std::vector<std::string> open;
    std::string reason;
};
/// Two faces that touched for a test and were parted again.
struct Joined {
    FaceId a, b;
};
struct ReferenceSet {
    ReferenceMethod method = ReferenceMethod::OneCord;
    Nanometre wavelength;
    Direction direction = Direction::AtoB;
    DecibelMilliwatt level;
};
/// The reference of a direction is no longer good: cord taken off, source switched.
struct ReferenceVoided {
    Direction direction = Direction::AtoB;
    std::string reason;
};
struct PowerRead {
    std::string link;
    Nanometre wavelength;
    Direction direction = Direction::AtoB;
    DecibelMilliwatt power;
};
struct TraceShot {
    std::string link;
    Direction direction = Direction::AtoB;
    std::string trace;  ///< SHA-256 of the evidence
    std::string traceName;
    Nanometre wavelength;
    otdr::Cords cords;
    otdr::Analysis found;
};
struct Signed {
    std::string subject;  ///< a link or a cable
    std::string remark;
};
/// An earlier entry was a mistake; it stays readable and no longer counts.
struct Corrected {
    std::int64_t entry = 0;
    std::string reason;
};
/// What a person says against what was found in one look. The measurement stays in the journal as it was.
struct FindingOverruled {
    enum class As { NotReal, Scratch, Defect, Missed };
    FaceId face;
    std::int64_t look = 0;  ///< the entry of the look
    int finding = 0;        ///< its id in that look; 0 for a missed one
    As as = As::NotReal;
    std::string reason;
    FacePoint place;  ///< of a missed one
    Micrometre size;
};
std::string_view name(FindingOverruled::As as);
std::optional<FindingOverruled::As> overrulingNamed(std::string_view name);
/// Acceptance criteria of the house, as the text of their file; a later one of the same edition replaces the earlier.
struct ProfileKept {
    std::string edition;
    std::string text;
};
/// What a scope with a tip was found to show: from a graticule, or from a fibre whose cladding was measured.
struct ScopeCalibrated {
    std::string scope;  ///< scope and tip, as people call them
    Scale scale{0.4};
};
/// A kind that this version does not know: kept as it is.
struct UnknownFact {
    std::string kind;
    std::string body;  ///< its JSON
};

using Fact = std::variant<JobSet, CablePlanned, FaceSeen, FaceCleaned, Mated, ReferenceSet, ReferenceVoided, PowerRead, TraceShot, Signed, Corrected,
                          FindingOverruled, ProfileKept, ScopeCalibrated, SleeveCleaned, FaceHandled, FaceCovered, KitKept, KitProved, KitChecked,
                          Joined, UnknownFact>;

/// A line of the journal.
struct Entry {
    std::int64_t id = 0;
    std::int64_t at = 0;  ///< seconds since 1970-01-01 UTC
    std::string who;      ///< a role: "technician 1"
    Fact fact;
};

std::string_view kindOf(const Fact& fact);
nlohmann::json bodyOf(const Fact& fact);
/// A fact from its kind and body. An unknown kind gives an UnknownFact; a body that cannot be is an Error.
Result<Fact> factFrom(std::string_view kind, std::string_view body);

}  // namespace clendo
