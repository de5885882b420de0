#pragma once
#include <optional>

#include "record/facts/fact_reading.h"

namespace clendo {

class FactEffects;
struct EntryHead;
struct JobState;

/// Light went into a fibre of a cable at A and was seen at B: where it belongs, in another fibre, or nowhere.
struct LightSeen {
    static constexpr std::string_view factKind = "light_seen", factWords = "right fibre";
    std::string cable;
    int in = 1;              ///< fibre at A
    std::optional<int> out;  ///< fibre at B; nothing: no light came out anywhere

    [[nodiscard]] std::string link() const { return fmt::format("{}/{}", cable, in); }
    [[nodiscard]] nlohmann::json body() const
    {
        return {{"cable", cable}, {"in", in}, {"out", out ? nlohmann::json(*out) : nlohmann::json(nullptr)}};
    }
    static LightSeen read(FactReading& in);
    [[nodiscard]] std::string sentence(const JobState& state) const;
    [[nodiscard]] std::string subject() const { return link(); }
    void apply(FactEffects& effects, const EntryHead& entry) const;
};

/// The length of a fibre as something else than a trace told it.
struct LengthMeasured {
    static constexpr std::string_view factKind = "length_measured", factWords = "length";
    std::string link;
    Metre length;
    std::string how;  ///< for people: "sheath marks", "the light source's length measurement"

    [[nodiscard]] nlohmann::json body() const { return {{"link", link}, {"length_m", length.value()}, {"how", how}}; }
    static LengthMeasured read(FactReading& in) { return {in.text("link"), Metre(in.number("length_m", 0, 1e6)), in.text("how")}; }
    [[nodiscard]] std::string sentence(const JobState& state) const;
    [[nodiscard]] std::string subject() const { return link; }
    void apply(FactEffects& effects, const EntryHead& entry) const;
};

}  // namespace clendo
