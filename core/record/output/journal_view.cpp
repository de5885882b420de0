#include "record/output/journal_view.h"

#include <fmt/format.h>

#include <algorithm>

namespace clendo {
namespace {

std::string lower(std::string_view text)
{
    std::string out(text);
    for (auto& c : out)
        if (c >= 'A' && c <= 'Z') c = static_cast<char>(c + 32);
    return out;
}

std::vector<std::string> wordsIn(std::string_view text)
{
    std::vector<std::string> out;
    const std::string low = lower(text);
    for (std::size_t i = 0; i < low.size();) {
        const auto end = std::min(low.find(' ', i), low.size());
        if (end > i) out.push_back(low.substr(i, end - i));
        i = end + 1;
    }
    return out;
}

}  // namespace

std::string lineOf(const Entry& entry, std::span<const Entry> journal, const JobState& state)
{
    const auto* correction = std::get_if<Corrected>(&entry.fact);
    if (!correction) return sentenceOf(entry.fact, state);
    // mostly it is one of those just before
    const auto own = journal.begin() + (&entry - journal.data());
    const auto target = std::find_if(std::make_reverse_iterator(own), journal.rend(), [&](const Entry& e) { return e.hash == correction->entry; });
    if (target == journal.rend()) return sentenceOf(entry.fact, state);
    return fmt::format("No. {} no longer counts: {} ({})", journal.rend() - target, sentenceOf(target->fact, state), correction->reason);
}

std::vector<std::size_t> journalMatches(std::span<const Entry> entries, const JobState& state, const JournalFilter& filter, std::size_t from)
{
    const auto words = wordsIn(filter.words);
    std::vector<std::size_t> out;
    for (std::size_t i = from; i < entries.size(); ++i) {
        const Entry& e = entries[i];
        if (!filter.who.empty() && e.who != filter.who) continue;
        if (!filter.kind.empty() && kindWords(e.fact) != filter.kind) continue;
        if (!filter.subject.empty()) {
            const auto begins = [&](const std::string& id) {  // "VP-04/1" begins "VP-04/1/A/port" and not "VP-04/10/A/port"
                return id.starts_with(filter.subject) && (id.size() == filter.subject.size() || id[filter.subject.size()] == '/');
            };
            if (!begins(subjectOf(e.fact)) && !begins(otherSubjectOf(e.fact))) continue;
        }
        if (!words.empty()) {
            const std::string all = lower(fmt::format("{} {} {}", sentenceOf(e.fact, state), kindWords(e.fact), e.who));
            if (!std::all_of(words.begin(), words.end(), [&](const auto& w) { return all.find(w) != std::string::npos; })) continue;
        }
        out.push_back(i);
    }
    return out;
}

std::vector<std::size_t> clockSetBack(std::span<const Entry> entries)
{
    std::vector<std::size_t> out;
    for (std::size_t i = 1; i < entries.size(); ++i) {
        const Entry &before = entries[i - 1], &e = entries[i];
        // one that is merely judged late has a later place in time of its own, and was not pushed behind the entry before
        const bool pushed = e.filed == before.filed + 1 && e.act != before.act;
        if (pushed && e.device == before.device && e.happened < before.happened) out.push_back(i);
    }
    return out;
}

}  // namespace clendo
