#pragma once
#include <optional>

#include "face/face_report.h"
#include "record/facts/made_by.h"

namespace clendo {

class FactEffects;
struct EntryHead;
struct JobState;

/// Of a picture that was combined from frames of a live one: from how many.
struct FramesCombined {
    int taken = 0;     ///< frames that there were
    int used = 0;      ///< of them in the picture
    std::string best;  ///< SHA-256 of the sharpest of them, kept beside it
};

/// A picture of a face and what was measured in it.
struct FaceSeen {
    static constexpr std::string_view factKind = "face_seen", factWords = "look";
    FaceId face;
    std::string picture;  ///< SHA-256 of the evidence
    std::string pictureName;
    face::FaceMeasurement measured;
    MadeBy made{};
    std::optional<FramesCombined> frames{};  ///< nothing: one picture as it came

    [[nodiscard]] nlohmann::json body() const;
    static FaceSeen read(FactReading& in);
    [[nodiscard]] std::string sentence(const JobState& state) const;
    [[nodiscard]] std::string subject() const { return face.text(); }
    [[nodiscard]] std::string evidence() const { return picture; }
    void complete(const JobState& state);
    void apply(FactEffects& effects, const EntryHead& entry) const;
};

/// What a person says against what was found in one look. The measurement stays in the journal as it was.
struct FindingOverruled {
    static constexpr std::string_view factKind = "finding_overruled", factWords = "overruling";
    enum class As { NotReal, Scratch, Defect, Missed };
    FaceId face;
    Digest look;      ///< the entry of the look
    int finding = 0;  ///< its id in that look; 0 for a missed one
    As as = As::NotReal;
    std::string reason;
    FacePoint place;  ///< of a missed one
    Micrometre size;

    [[nodiscard]] nlohmann::json body() const;
    static FindingOverruled read(FactReading& in);
    [[nodiscard]] std::string sentence(const JobState& state) const;
    [[nodiscard]] std::string subject() const { return face.text(); }
    [[nodiscard]] Digest restsOn() const { return look; }
    [[nodiscard]] Claim claim() const;
    void apply(FactEffects& effects, const EntryHead& entry) const;
};
std::string_view name(FindingOverruled::As as);
std::optional<FindingOverruled::As> overrulingNamed(std::string_view name);

}  // namespace clendo
