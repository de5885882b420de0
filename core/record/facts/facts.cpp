#include "record/facts/facts.h"

#include <array>
#include <nlohmann/json.hpp>
#include <utility>

#include "record/state/state.h"

namespace clendo {
namespace {

using nlohmann::json;

template <class F>
concept Plans = requires(const F& fact, JobPlan& plan)
{
    fact.plan(plan);
};
template <class F>
concept Applies = requires(const F& fact, FactEffects& effects, const EntryHead& entry)
{
    fact.apply(effects, entry);
};
template <class F>
concept ChangesEarlier = requires
{
    F::changesEarlier;
};
template <class F>
concept Registered = requires(const F& fact, FactReading& in, const JobState& state)
{
    {
        F::factKind
        } -> std::convertible_to<std::string_view>;
    {
        F::factWords
        } -> std::convertible_to<std::string_view>;
    {
        fact.body()
        } -> std::same_as<json>;
    {
        F::read(in)
        } -> std::same_as<F>;
    {
        fact.sentence(state)
        } -> std::same_as<std::string>;
}
&&(Plans<F> || Applies<F> || ChangesEarlier<F>);

constexpr std::size_t known = std::variant_size_v<Fact> - 1;  // the last one is what is not known

template <std::size_t... I>
constexpr bool allRegistered(std::index_sequence<I...>)
{
    return (Registered<std::variant_alternative_t<I, Fact>> && ...);
}
static_assert(allRegistered(std::make_index_sequence<known>()), "a kind of fact lacks something: see facts.h");

struct Reader {
    std::string_view kind;
    Fact (*read)(FactReading&);
};
template <std::size_t... I>
constexpr std::array<Reader, known> readers(std::index_sequence<I...>)
{
    return {Reader{std::variant_alternative_t<I, Fact>::factKind,
                   [](FactReading& in) -> Fact { return std::variant_alternative_t<I, Fact>::read(in); }}...};
}

/// Asks a fact; what is not known gets `unknown`.
template <class Ask, class Unknown>
auto ask(const Fact& fact, Ask question, Unknown unknown)
{
    return std::visit(
        [&](const auto& f) {
            if constexpr (std::is_same_v<std::decay_t<decltype(f)>, UnknownFact>)
                return unknown(f);
            else
                return question(f);
        },
        fact);
}

/// Asks a fact where its kind has an answer; elsewhere nothing.
template <class Answer, class Ask>
Answer askWhere(const Fact& fact, Ask question)
{
    return std::visit(
        [&](const auto& f) -> Answer {
            if constexpr (std::is_invocable_v<Ask, decltype(f)>)
                return question(f);
            else
                return {};
        },
        fact);
}

}  // namespace

std::string_view kindOf(const Fact& fact)
{
    return ask(
        fact, [](const auto& f) { return f.factKind; }, [](const UnknownFact& f) { return std::string_view(f.kind); });
}

std::string_view kindWords(const Fact& fact)
{
    return ask(
        fact, [](const auto& f) { return f.factWords; }, [](const UnknownFact&) { return std::string_view("other"); });
}

json bodyOf(const Fact& fact)
{
    return ask(
        fact, [](const auto& f) { return f.body(); }, [](const UnknownFact& f) { return json::parse(f.text, nullptr, false); });
}

Result<Fact> factFrom(std::string_view kind, std::string_view text)
{
    static constexpr auto all = readers(std::make_index_sequence<known>());
    thread_local FlatJson doc;  // a hundred thousand entries one after another: it keeps its room
    if (!doc.read(text) || !doc.root().is_object())
        return failure(Error::Code::JobDamaged, "An entry of the job is not readable.", std::string(kind));
    for (const auto& reader : all) {
        if (reader.kind != kind) continue;
        FactReading in(doc.root(), text);
        Fact fact = reader.read(in);
        if (in.problem()) return failure(Error::Code::JobDamaged, fmt::format("An entry of the job ({}) cannot be read: {}.", kind, *in.problem()));
        return fact;
    }
    return UnknownFact{std::string(kind), std::string(text)};
}

std::string sentenceOf(const Fact& fact, const JobState& state)
{
    return ask(
        fact, [&](const auto& f) { return f.sentence(state); },
        [](const UnknownFact& f) { return fmt::format("Not known to this version: {}", f.kind); });
}

std::string subjectOf(const Fact& fact)
{
    return askWhere<std::string>(fact, [](const auto& f) -> decltype(f.subject()) { return f.subject(); });
}

std::string otherSubjectOf(const Fact& fact)
{
    return askWhere<std::string>(fact, [](const auto& f) -> decltype(f.otherSubject()) { return f.otherSubject(); });
}

std::string evidenceOf(const Fact& fact)
{
    return askWhere<std::string>(fact, [](const auto& f) -> decltype(f.evidence()) { return f.evidence(); });
}

Digest restsOn(const Fact& fact)
{
    return askWhere<Digest>(fact, [](const auto& f) -> decltype(f.restsOn()) { return f.restsOn(); });
}

Claim claimOf(const Fact& fact)
{
    return askWhere<Claim>(fact, [](const auto& f) -> decltype(f.claim()) { return f.claim(); });
}

void complete(Fact& fact, const JobState& state)
{
    std::visit(
        [&](auto& f) {
            if constexpr (requires { f.complete(state); }) f.complete(state);
        },
        fact);
}

bool isPlan(const Fact& fact)
{
    return std::visit([](const auto& f) { return Plans<std::decay_t<decltype(f)>>; }, fact);
}

bool changesEarlier(const Fact& fact)
{
    return std::visit([](const auto& f) { return Plans<std::decay_t<decltype(f)>> || ChangesEarlier<std::decay_t<decltype(f)>>; }, fact);
}

void plan(const Fact& fact, JobPlan& plan)
{
    std::visit(
        [&](const auto& f) {
            if constexpr (Plans<std::decay_t<decltype(f)>>) f.plan(plan);
        },
        fact);
}

void apply(const Fact& fact, FactEffects& effects, const EntryHead& entry)
{
    std::visit(
        [&](const auto& f) {
            if constexpr (Applies<std::decay_t<decltype(f)>>) f.apply(effects, entry);
        },
        fact);
}

}  // namespace clendo
