#pragma once
#include "record/facts/entry.h"
#include "record/facts/fact_reading.h"

namespace clendo {

class FactEffects;
struct JobState;

/// A person stands for a link or a cable.
struct Signed {
    static constexpr std::string_view factKind = "signed", factWords = "signature";
    std::string of;        ///< a link or a cable
    std::string remark;    ///< why, where something was missing
    std::string record{};  ///< SHA-256 of what was signed (signed_record.h), which is evidence; empty: not bound (jobs of earlier versions)
    ChainHeads ends{};     ///< how far each device's chain went: a journal that is shorter than this lost something

    [[nodiscard]] nlohmann::json body() const;
    static Signed read(FactReading& in);
    [[nodiscard]] std::string sentence(const JobState&) const { return fmt::format("Signed {}{}", of, remark.empty() ? "" : ": " + remark); }
    [[nodiscard]] std::string subject() const { return of; }
    [[nodiscard]] std::string evidence() const { return record; }
    void complete(const JobState& state);
    void apply(FactEffects& effects, const EntryHead& entry) const;
};

/// An earlier entry was a mistake; it stays readable and no longer counts.
struct Corrected {
    static constexpr std::string_view factKind = "corrected", factWords = "correction";
    static constexpr bool changesEarlier = true;
    Digest entry;
    std::string reason;

    [[nodiscard]] nlohmann::json body() const { return {{"entry", entry.hex()}, {"reason", reason}}; }
    static Corrected read(FactReading& in) { return {in.entry("entry"), in.text("reason")}; }
    [[nodiscard]] std::string sentence(const JobState&) const { return fmt::format("Entry {} no longer counts: {}", entry.brief(), reason); }
};

/// What was found to be missing when a damaged job was saved, and is missing from now on.
struct LossesNoted {
    static constexpr std::string_view factKind = "losses_noted", factWords = "losses";
    /// Entries of one device's chain that are gone.
    struct Gap {
        std::string device;
        std::int64_t from = 0, to = 0;  ///< sequence numbers, both included
        bool operator==(const Gap&) const = default;
    };
    std::string file;  ///< the damaged one
    std::vector<Gap> gaps;
    std::vector<std::string> evidence;  ///< SHA-256 of pictures and traces that are gone
    bool perhapsMore = false;           ///< the file did not say any more how many there were

    [[nodiscard]] std::int64_t entries() const;
    [[nodiscard]] nlohmann::json body() const;
    static LossesNoted read(FactReading& in);
    [[nodiscard]] std::string sentence(const JobState& state) const;
    void apply(FactEffects& effects, const EntryHead& entry) const;
};

}  // namespace clendo
