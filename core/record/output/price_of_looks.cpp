#include "record/output/price_of_looks.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <unordered_map>

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

/// The times from finding a face bad that had been joined to another until it was seen fit again.
std::vector<double> comebacks(const JobState& state)
{
    struct OfFace {
        bool joined = false;
        std::optional<std::int64_t> bad;
    };
    std::unordered_map<FaceId, OfFace, FaceIdHash> faces;
    std::vector<double> out;
    for (const auto& e : state.events) {
        OfFace& a = faces[e.a];
        if (e.kind == FaceEvent::Kind::Joined) {
            a.joined = faces[e.b].joined = true;
        } else if (e.kind == FaceEvent::Kind::SeenBad) {
            if (a.joined && !a.bad) a.bad = e.at;
        } else if (a.bad) {
            out.push_back(double(e.at - *a.bad));
            a.bad.reset();
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

PriceOfLooks priceOfLooks(const JobState& state, std::span<const Entry> journal)
{
    PriceOfLooks out;
    const auto corrected = correctedEntries(journal);
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
    return out;
}

Second spared(const PriceOfLooks& price, const ReturnsAssumed& assumed)
{
    return Second(price.dirtyAtFirst * std::clamp(assumed.share, 0.0, 1.0) * assumed.each.value());
}

std::vector<std::string> wordsOf(const PriceOfLooks& price, const ReturnsAssumed& assumed)
{
    if (price.looks == 0) return {"Nobody looked at a face yet: nothing can be said of what it costs."};
    std::vector<std::string> say;
    say.push_back(price.look.middle ? fmt::format("A look took {} (the middle of {}), all {} of them together about {}.", words(*price.look.middle),
                                                  price.look.counted, price.looks, words(*price.spent))
                                    : fmt::format("{} looks; how long they took cannot be told from the journal.", price.looks));
    if (price.clean.middle) say.push_back(fmt::format("A cleaning took {} (the middle of {}).", words(*price.clean.middle), price.clean.counted));
    say.push_back(
        price.comeBack.middle
            ? fmt::format("{} face{} found bad after it had been joined to another: until it was fit again it took {}, without the way there.",
                          price.comeBack.counted, price.comeBack.counted == 1 ? " was" : "s were", words(*price.comeBack.middle))
            : std::string(
                  "No face was found bad after it had been joined to another, and made fit again: what a return costs is assumed, not measured."));
    say.push_back(fmt::format("{} of {} faces were dirty when they were seen first.", price.dirtyAtFirst, price.firstLooks));
    for (const auto& line : {shareWords(price.dirtyByPlace, "place"), shareWords(price.dirtyByCord, "test cord")})
        if (!line.empty()) say.push_back(line);
    say.push_back(
        fmt::format("Assumed: {:.0f} % of the dirty ones would have called somebody back, at {} each with the way. Then looking spared about {}.",
                    100 * std::clamp(assumed.share, 0.0, 1.0), words(assumed.each), words(spared(price, assumed))));
    return say;
}

}  // namespace clendo
