#pragma once
#include "otdr/analysis.h"
#include "plant/face_id.h"
#include "record/facts/made_by.h"

namespace clendo {

class FactEffects;
struct EntryHead;
struct JobState;

/// A trace of a link and what was found in it.
struct TraceShot {
    static constexpr std::string_view factKind = "trace_shot", factWords = "trace";
    std::string link;
    Direction direction = Direction::AtoB;
    std::string trace;  ///< SHA-256 of the evidence
    std::string traceName;
    Nanometre wavelength;
    otdr::Cords cords;
    otdr::Analysis found;
    MadeBy made{};
    std::optional<FaceId> launchEnd{}, tailEnd{};  ///< free ends of the launch and the tail cord, that were at the link. Nothing: none, or not said

    [[nodiscard]] nlohmann::json body() const;
    static TraceShot read(FactReading& in);
    [[nodiscard]] std::string sentence(const JobState& state) const;
    [[nodiscard]] std::string subject() const { return link; }
    [[nodiscard]] std::string evidence() const { return trace; }
    void complete(const JobState& state);
    void apply(FactEffects& effects, const EntryHead& entry) const;
};

}  // namespace clendo
