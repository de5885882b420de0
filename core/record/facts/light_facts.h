#pragma once
#include "plant/face_id.h"
#include "record/facts/made_by.h"

namespace clendo {

class FactEffects;
struct EntryHead;
struct JobState;

/// How a level came out of the samples of an instrument on a line; a typed level has none.
struct Acquired {
    std::string instrument;  ///< as it names itself
    Decibel scatter, resolution;
    int samples = 0;
    Second lasting;

    [[nodiscard]] nlohmann::json body() const;
    static std::optional<Acquired> read(FactReading& in);
};

/// The level without the link, at one wavelength in one direction.
struct ReferenceSet {
    static constexpr std::string_view factKind = "reference_set", factWords = "reference";
    ReferenceMethod method = ReferenceMethod::OneCord;
    Nanometre wavelength;
    Direction direction = Direction::AtoB;
    DecibelMilliwatt level;
    std::vector<std::string> with{};  ///< source, meter and cords, by their names in the kit; empty: not said
    bool zeroed = false;              ///< the meter was set to zero on it: its level is not known, and what the meter shows from then on is a loss
    std::string launch{};             ///< multimode: what conditioned the launch, for people ("encircled flux"); empty: not said
    std::optional<Acquired> acquired{};
    std::optional<FaceId> freeEnd{};  ///< of the source's cord, that goes from port to port; the other one sits on the source. Nothing: not said
    std::string launchCord{};  ///< that comes behind the reference, by its name in the kit: its loss, as last proven, is taken off. Empty: none

    /// The end that sits on the source; nothing: not said.
    [[nodiscard]] std::optional<FaceId> sourceEnd() const;
    [[nodiscard]] nlohmann::json body() const;
    static ReferenceSet read(FactReading& in);
    [[nodiscard]] std::string sentence(const JobState& state) const;
    void apply(FactEffects& effects, const EntryHead& entry) const;
};

/// The reference of a direction is no longer good: cord taken off, source switched.
struct ReferenceVoided {
    static constexpr std::string_view factKind = "reference_voided", factWords = "reference";
    Direction direction = Direction::AtoB;
    std::string reason;

    [[nodiscard]] nlohmann::json body() const { return {{"direction", name(direction)}, {"reason", reason}}; }
    static ReferenceVoided read(FactReading& in) { return {in.direction(), in.text("reason")}; }
    [[nodiscard]] std::string sentence(const JobState& state) const;
    void apply(FactEffects& effects, const EntryHead& entry) const;
};

/// The level through the link, and the reference that it rests on.
struct PowerRead {
    static constexpr std::string_view factKind = "power_read", factWords = "reading";
    std::string link;
    Nanometre wavelength;
    Direction direction = Direction::AtoB;
    DecibelMilliwatt power;
    Digest reference{};  ///< the entry of the reference; none: there was none in force
    MadeBy made{};
    std::optional<Decibel> shown{};  ///< the loss that a meter showed that was set to zero on the reference; then `power` is not known
    std::optional<Acquired> acquired{};
    std::optional<FaceId> receiveEnd{};  ///< of the meter's cord, that was at the link; its other one sits on the meter. Nothing: none, or not said

    [[nodiscard]] nlohmann::json body() const;
    static PowerRead read(FactReading& in);
    [[nodiscard]] std::string sentence(const JobState& state) const;
    [[nodiscard]] std::string subject() const { return link; }
    [[nodiscard]] Digest restsOn() const { return reference; }
    void complete(const JobState& state);
    void apply(FactEffects& effects, const EntryHead& entry) const;
};

/// Of a trace, for people: "A to B".
std::string_view wayWords(Direction direction);
/// Of a reference, a reading and a loss, for people: "source at A".
std::string_view sourceWords(Direction direction);

}  // namespace clendo
