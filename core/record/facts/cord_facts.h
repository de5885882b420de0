#pragma once
#include "record/facts/light_facts.h"

namespace clendo {

/// The level through a patch cord: single-ended one connector at a time, which is at the reference cord, or both at once between two cords.
struct CordRead {
    static constexpr std::string_view factKind = "cord_read", factWords = "patch cord";
    std::string cord;   ///< by its label
    std::string end{};  ///< at the reference cord: "A" or "B"; empty: both connectors in one reading
    Nanometre wavelength;
    Direction direction = Direction::AtoB;  ///< of the reference
    DecibelMilliwatt power;
    Digest reference{};  ///< the entry of the reference; none: there was none in force
    std::optional<Acquired> acquired{};

    [[nodiscard]] nlohmann::json body() const;
    static CordRead read(FactReading& in);
    [[nodiscard]] std::string sentence(const JobState& state) const;
    [[nodiscard]] std::string subject() const { return cord; }
    [[nodiscard]] Digest restsOn() const { return reference; }
    void complete(const JobState& state);
    void apply(FactEffects& effects, const EntryHead& entry) const;
};

}  // namespace clendo
