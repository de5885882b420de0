#include "record/output/price_of_looks.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>

#include "record/journal/acts.h"

namespace clendo {
namespace {

PriceOfLooks::Took middleOf(std::vector<double> seconds)
{
    if (seconds.empty()) return {};
    const auto middle = seconds.begin() + static_cast<std::ptrdiff_t>(seconds.size() / 2);
    std::nth_element(seconds.begin(), middle, seconds.end());
    return {static_cast<int>(seconds.size()), Second(*middle)};
}

std::string words(Second time)
{
    const double s = time.value();
    if (s < 90) return fmt::format("{:.0f} s", s);
    if (s < 5400) return fmt::format("{:.0f} minutes", s / 60);
    return fmt::format("{:.1f} hours", s / 3600);
}

/// How long entries of a kind took: since the entry before of the same device, where that is not too long ago.
template <class Kind>
std::vector<double> durationsOf(std::span<const Entry> journal, const Corrections& corrected)
{
    std::map<std::string, std::int64_t> before;
    std::vector<double> out;
    for (const auto& e : journal) {
        const auto known = before.find(e.device);
        const double took = known == before.end() ? -1 : double(e.happened - known->second) / 1e6;
        if (std::holds_alternative<Kind>(e.fact) && !corrected.contains(e.hash) && took > 0 && took <= longestDeed.value()) out.push_back(took);
        before[e.device] = e.happened;
    }
    return out;
}

/// The times from finding a face bad that had been mated until it was seen fit again.
std::vector<double> comebacks(const JobState& state)
{
    std::vector<double> out;
    for (const auto& [id, face] : state.faces) {
        std::int64_t mated = -1;
        for (const auto& c : contactsOf(state.events, {id}))
            if (mated < 0) mated = c.at;
        const Look* bad = nullptr;
        for (const auto& look : face.looks) {
            if (!look.verdict) continue;
            if (!look.verdict->fit && !bad && mated >= 0 && look.at > mated) bad = &look;
            if (look.verdict->fit && bad) {
                out.push_back(double(look.at - bad->at));
                bad = nullptr;
            }
        }
    }
    return out;
}

std::vector<Share> dirty(const std::vector<Share>& fit)
{
    std::vector<Share> out;
    for (const auto& s : fit) out.push_back({s.of, s.all - s.right, s.all});
    return out;
}

std::string shareWords(const std::vector<Share>& shares, const char* of)
{
    const auto worst = std::find_if(shares.begin(), shares.end(), [](const Share& s) { return s.right > 0; });
    if (worst == shares.end()) return {};
    return fmt::format("Most often dirty, by {}: {}, {} of {}.", of, worst->of, worst->right, worst->all);
}

}  // namespace

PriceOfLooks priceOfLooks(const JobState& state, std::span<const Entry> journal, Second assumedReturn, double share)
{
    PriceOfLooks out;
    const auto corrected = correctedEntries(journal);
    out.assumedReturn = assumedReturn;
    out.assumedShare = std::clamp(share, 0.0, 1.0);
    out.look = middleOf(durationsOf<FaceSeen>(journal, corrected));
    out.clean = middleOf(durationsOf<FaceCleaned>(journal, corrected));
    out.comeBack = middleOf(comebacks(state));
    for (const auto& [id, face] : state.faces) out.looks += static_cast<int>(face.looks.size());
    const Learned learned = learn(state);
    out.firstLooks = learned.firstTimeFit.all;
    out.dirtyAtFirst = learned.firstTimeFit.all - learned.firstTimeFit.right;
    out.dirtyByPlace = dirty(learned.byPlace);
    out.dirtyByCord = dirty(learned.byCord);
    if (out.look.middle) out.spent = Second(out.look.middle->value() * out.looks);
    out.spared = Second(out.dirtyAtFirst * out.assumedShare * assumedReturn.value());
    auto& say = out.sentences;
    if (out.looks == 0) {
        say.push_back("Nobody looked at a face yet: nothing can be said of what it costs.");
        return out;
    }
    say.push_back(out.look.middle ? fmt::format("A look took {} (the middle of {}), all {} of them together about {}.", words(*out.look.middle),
                                                out.look.counted, out.looks, words(*out.spent))
                                  : fmt::format("{} looks; how long they took cannot be told from the journal.", out.looks));
    if (out.clean.middle) say.push_back(fmt::format("A cleaning took {} (the middle of {}).", words(*out.clean.middle), out.clean.counted));
    say.push_back(
        out.comeBack.middle
            ? fmt::format("{} mated face{} found bad later: until it was fit again it took {}, without the way there.", out.comeBack.counted,
                          out.comeBack.counted == 1 ? " was" : "s were", words(*out.comeBack.middle))
            : std::string("No face was found bad after it had been mated, and made fit again: what a return costs is assumed, not measured."));
    say.push_back(fmt::format("{} of {} faces were dirty when they were seen first.", out.dirtyAtFirst, out.firstLooks));
    for (const auto& line : {shareWords(out.dirtyByPlace, "place"), shareWords(out.dirtyByCord, "test cord")})
        if (!line.empty()) say.push_back(line);
    say.push_back(
        fmt::format("Assumed: {:.0f} % of the dirty ones would have called somebody back, at {} each with the way. Then looking spared about {}.",
                    100 * out.assumedShare, words(assumedReturn), words(*out.spared)));
    return out;
}

}  // namespace clendo
