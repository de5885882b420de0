#pragma once
#include <nlohmann/json_fwd.hpp>
#include <string>
#include <string_view>
#include <variant>

#include "record/facts/care.h"
#include "record/facts/contact_facts.h"
#include "record/facts/cord_facts.h"
#include "record/facts/entry.h"
#include "record/facts/fibre_facts.h"
#include "record/facts/kit_facts.h"
#include "record/facts/light_facts.h"
#include "record/facts/line_facts.h"
#include "record/facts/looks.h"
#include "record/facts/plan_facts.h"
#include "record/facts/reel_facts.h"
#include "record/facts/reference_facts.h"
#include "record/facts/rule_facts.h"
#include "record/facts/scope_facts.h"
#include "record/facts/settings.h"
#include "record/facts/trace_facts.h"
#include "record/facts/word_facts.h"

namespace clendo {

/// A kind that this version does not know, or a body that it cannot read: kept as it is.
struct UnknownFact {
    std::string kind;
    std::string text;  ///< its JSON
};

/// The registry: every kind of fact that a journal can hold. Each is a fact about a moment; nothing computed from rules is filed. A kind is a struct
/// in a file of core/record/facts with
///   factKind, factWords                  its name in the file, and for people
///   body(), read(FactReading&)           its codec
///   sentence(const JobState&)            what it says, for people
///   subject()                            the face or link that it is about, as its id; left out: none
///   evidence(), restsOn(), claim()       the picture or trace, the entry that it needs; what two journals cannot both say otherwise; left out: none
///   complete(const JobState&)            fills in what it rests on when it is filed; left out: nothing
///   apply(FactEffects&, const EntryHead&)  its effect, entry by entry; or
///   plan(JobPlan&)                       its effect on what all other entries mean (settings, plan, rules); or
///   changesEarlier                       it makes earlier entries count for nothing
/// and one more line here. tests/test_journal.cpp holds one of each.
using Fact =
    std::variant<SettingSet, CablePlanned, FaceSeen, FaceCleaned, Mated, ReferenceSet, ReferenceVoided, PowerRead, TraceShot, Signed, Corrected,
                 FindingOverruled, CriteriaKept, RulesKept, ScopeCalibrated, SleeveCleaned, FaceHandled, FaceCovered, KitKept, KitProved, KitChecked,
                 Joined, LossesNoted, LightSeen, LengthMeasured, ReferenceProved, ReferenceChecked, SourceSwitchedOn, MeterSignKept, CordRead,
                 LineLogKept, ReelDelivered, ReelPictured, ReelSampled, ReelJointMade, ReelTraced, ReelDecided, CutsPlanned, CableLaid, UnknownFact>;

/// A line of the journal.
struct Entry : EntryHead {
    Fact fact;
};

std::string_view kindOf(const Fact& fact);
/// The kind of an entry, for people: "look", "cleaning".
std::string_view kindWords(const Fact& fact);
nlohmann::json bodyOf(const Fact& fact);
/// A fact from its kind and body. An unknown kind gives an UnknownFact; a body that cannot be is an Error.
Result<Fact> factFrom(std::string_view kind, std::string_view body);
/// What an entry says, for people: "Looked at TH-R2 port 7: 3 findings".
std::string sentenceOf(const Fact& fact, const JobState& state);
/// The face or link that an entry is about, as its id; empty: none.
std::string subjectOf(const Fact& fact);
/// The other face of a touch; empty: none.
std::string otherSubjectOf(const Fact& fact);
/// SHA-256 of the picture or trace that it rests on; empty: none.
std::string evidenceOf(const Fact& fact);
/// The entry that it rests on; none: none.
Digest restsOn(const Fact& fact);
/// What another journal cannot say otherwise.
Claim claimOf(const Fact& fact);
/// Fills in what a fact rests on when it is filed.
void complete(Fact& fact, const JobState& state);
/// Settings, plan, rules: what has to be known before any other entry is applied.
bool isPlan(const Fact& fact);
/// Whether it makes earlier entries mean something else.
bool changesEarlier(const Fact& fact);
/// The effect of a plan on the state; of any other fact nothing.
void plan(const Fact& fact, JobPlan& plan);
/// The effect of any other fact; of a plan nothing.
void apply(const Fact& fact, FactEffects& effects, const EntryHead& entry);

}  // namespace clendo
