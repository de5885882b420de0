#pragma once
#include "record/facts/fact_reading.h"

namespace clendo {

class FactEffects;
struct EntryHead;
struct JobState;

/// A connector went into its adapter.
struct Mated {
    static constexpr std::string_view factKind = "mated", factWords = "mating";
    std::string link;
    Connection connection;
    std::string reason{};  ///< why all the same, where something was in the way

    [[nodiscard]] nlohmann::json body() const { return {{"link", link}, {"end", connection.text()}, {"reason", reason}}; }
    static Mated read(FactReading& in) { return {in.text("link"), in.connection(), in.textOr("reason", "")}; }
    [[nodiscard]] std::string sentence(const JobState& state) const;
    [[nodiscard]] std::string subject() const { return fmt::format("{}/{}", link, connection.text()); }
    void apply(FactEffects& effects, const EntryHead& entry) const;
};

/// Two faces that touched for a test and were parted again.
struct Joined {
    static constexpr std::string_view factKind = "joined", factWords = "touch";
    FaceId a, b;

    [[nodiscard]] nlohmann::json body() const { return {{"a", a.text()}, {"b", b.text()}}; }
    static Joined read(FactReading& in) { return {in.face("a"), in.face("b")}; }
    [[nodiscard]] std::string sentence(const JobState& state) const;
    [[nodiscard]] std::string subject() const { return a.text(); }
    /// The other face of the touch.
    [[nodiscard]] std::string otherSubject() const { return b.text(); }
    void apply(FactEffects& effects, const EntryHead& entry) const;
};

}  // namespace clendo
