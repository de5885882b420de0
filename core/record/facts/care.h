#pragma once
#include "record/facts/fact_reading.h"

namespace clendo {

class FactEffects;
struct EntryHead;
struct JobState;

/// A cleaning method for people.
std::string methodWords(const std::string& method);

/// A face was cleaned.
struct FaceCleaned {
    static constexpr std::string_view factKind = "face_cleaned", factWords = "cleaning";
    FaceId face;
    std::string method;  ///< "dry", "wet-then-dry", "fresh-tool"
    int strokes = 1;
    std::string tool{};  ///< of the kit; empty: not said

    [[nodiscard]] nlohmann::json body() const { return {{"face", face.text()}, {"method", method}, {"strokes", strokes}, {"tool", tool}}; }
    static FaceCleaned read(FactReading& in) { return {in.face(), in.text("method"), in.whole("strokes", 1, 1000), in.textOr("tool", "")}; }
    [[nodiscard]] std::string sentence(const JobState& state) const;
    [[nodiscard]] std::string subject() const { return face.text(); }
    void apply(FactEffects& effects, const EntryHead& entry) const;
};

/// The adapter's split sleeve at one end, swabbed before the connector goes in.
struct SleeveCleaned {
    static constexpr std::string_view factKind = "sleeve_cleaned", factWords = "cleaning";
    std::string link;
    Connection connection;

    [[nodiscard]] nlohmann::json body() const { return {{"link", link}, {"end", connection.text()}}; }
    static SleeveCleaned read(FactReading& in) { return {in.text("link"), in.connection()}; }
    [[nodiscard]] std::string sentence(const JobState& state) const;
    [[nodiscard]] std::string subject() const { return fmt::format("{}/{}", link, connection.text()); }
    void apply(FactEffects& effects, const EntryHead& entry) const;
};

/// Something happened to a face after it was seen: it must be seen again.
struct FaceHandled {
    static constexpr std::string_view factKind = "face_handled", factWords = "handling";
    FaceId face;
    std::string how;  ///< "touched", "dropped", "moved", "open too long"

    [[nodiscard]] nlohmann::json body() const { return {{"face", face.text()}, {"how", how}}; }
    static FaceHandled read(FactReading& in) { return {in.face(), in.text("how")}; }
    [[nodiscard]] std::string sentence(const JobState& state) const;
    [[nodiscard]] std::string subject() const { return face.text(); }
    void apply(FactEffects& effects, const EntryHead& entry) const;
};

/// Where a face waits: "capped" (by whoever works here), "factory cap", "parked" in a clean port, or "open".
struct FaceCovered {
    static constexpr std::string_view factKind = "face_covered", factWords = "handling";
    FaceId face;
    std::string how;

    [[nodiscard]] nlohmann::json body() const { return {{"face", face.text()}, {"how", how}}; }
    static FaceCovered read(FactReading& in) { return {in.face(), in.text("how")}; }
    [[nodiscard]] std::string sentence(const JobState& state) const;
    [[nodiscard]] std::string subject() const { return face.text(); }
    void apply(FactEffects& effects, const EntryHead& entry) const;
};

}  // namespace clendo
