#pragma once
#include "record/facts/light_facts.h"

namespace clendo {

/// The receive cord was put on behind the reference cord, with an adapter, and read: what two reference-grade connectors lose is known at most.
struct ReferenceProved {
    static constexpr std::string_view factKind = "reference_proved", factWords = "reference";
    Direction direction = Direction::AtoB;
    Nanometre wavelength;
    DecibelMilliwatt level;
    std::string cord{};  ///< that was put on, by its name in the kit; empty: not said
    Digest reference{};  ///< that it proves
    std::optional<Acquired> acquired{};

    [[nodiscard]] nlohmann::json body() const;
    static ReferenceProved read(FactReading& in);
    [[nodiscard]] std::string sentence(const JobState& state) const;
    [[nodiscard]] Digest restsOn() const { return reference; }
    void complete(const JobState& state);
    void apply(FactEffects& effects, const EntryHead& entry) const;
};

/// The level without the link once more, to see whether the reference still holds. Beyond the job's tolerance the reference is void, and what was
/// read since it was last good is in doubt.
struct ReferenceChecked {
    static constexpr std::string_view factKind = "reference_checked", factWords = "reference";
    Direction direction = Direction::AtoB;
    Nanometre wavelength;
    DecibelMilliwatt level;
    Digest reference{};
    std::optional<Acquired> acquired{};

    [[nodiscard]] nlohmann::json body() const;
    static ReferenceChecked read(FactReading& in);
    [[nodiscard]] std::string sentence(const JobState& state) const;
    [[nodiscard]] Digest restsOn() const { return reference; }
    void complete(const JobState& state);
    void apply(FactEffects& effects, const EntryHead& entry) const;
};

/// A source was switched on, or its power came back: it is cold, and references that were set with it are void.
struct SourceSwitchedOn {
    static constexpr std::string_view factKind = "source_on", factWords = "light source";
    std::string source{};  ///< by its name in the kit; empty: the only one

    [[nodiscard]] nlohmann::json body() const { return {{"source", source}}; }
    static SourceSwitchedOn read(FactReading& in) { return {in.textOr("source", "")}; }
    [[nodiscard]] std::string sentence(const JobState& state) const;
    void apply(FactEffects& effects, const EntryHead& entry) const;
};

/// How a meter that is set to zero shows a loss: as a number above zero, or below. Asked once for each meter.
struct MeterSignKept {
    static constexpr std::string_view factKind = "meter_sign", factWords = "power meter";
    std::string meter{};  ///< by its name in the kit; empty: the only one
    bool lossIsNegative = true;

    [[nodiscard]] nlohmann::json body() const { return {{"meter", meter}, {"loss_is_negative", lossIsNegative}}; }
    static MeterSignKept read(FactReading& in) { return {in.textOr("meter", ""), in.flagOr("loss_is_negative", true)}; }
    [[nodiscard]] std::string sentence(const JobState& state) const;
    void apply(FactEffects& effects, const EntryHead& entry) const;
};

/// Whether a proof shows more light behind two cords than behind one: no passive cord does that.
bool isGain(Decibel added);
/// Of what was named with a reference, that which is a source in the kit; empty: none, or not said.
std::string sourceOf(const std::vector<std::string>& with, const JobState& state);

}  // namespace clendo
