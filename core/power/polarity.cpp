#include "power/polarity.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <map>
#include <set>

namespace clendo {
namespace {

constexpr std::array polarities{std::pair{Polarity::Straight, std::string_view("straight")},
                                std::pair{Polarity::Reversed, std::string_view("reversed")}, std::pair{Polarity::Pairs, std::string_view("pairs")}};

/// Fibres as people list them: "3, 5 to 9".
std::string listed(const std::vector<int>& fibres)
{
    std::string out;
    for (std::size_t i = 0; i < fibres.size();) {
        std::size_t last = i;
        while (last + 1 < fibres.size() && fibres[last + 1] == fibres[last] + 1) ++last;
        out += out.empty() ? "" : ", ";
        out += last > i + 1 ? fmt::format("{} to {}", fibres[i], fibres[last]) : fmt::format("{}", fibres[i]);
        i = last > i + 1 ? last + 1 : i + 1;
    }
    return out;
}

/// One possible explanation of several misplaced fibres.
struct Candidate {
    PolarityFaultKind kind = PolarityFaultKind::Mixed;
    std::set<int> fibres;
    std::size_t least = 2;  ///< of its fibres must be left to it, or it explains nothing
    std::string message;
};

class Explaining {
public:
    explicit Explaining(const PolarityMap& map) : map_(map)
    {
        for (const auto& way : map.seen) seen_[way.in] = way.out;
    }

    PolarityReport run()
    {
        PolarityReport out;
        const auto unseen = [&](int in) { return !seen_.contains(in); };
        const int unasked = static_cast<int>(std::count_if(map_.unused.begin(), map_.unused.end(), unseen));
        out.unseen = map_.fibres - static_cast<int>(seen_.size()) - unasked;
        for (const auto& [in, at] : seen_)
            if (at == map_.belongs(in)) ++out.proven;
        takeDark(out);
        takeDoubled(out);
        for (const auto& [in, at] : seen_)
            if (at && *at != map_.belongs(in) && !taken_.contains(in)) wrong_.insert(in);
        gather();
        for (const auto& chosen : fewest()) {
            out.faults.push_back({chosen.kind, {chosen.fibres.begin(), chosen.fibres.end()}, chosen.message});
            for (const int fibre : chosen.fibres) wrong_.erase(fibre);
        }
        if (!wrong_.empty()) {
            const std::vector<int> rest(wrong_.begin(), wrong_.end());
            std::string ways;
            for (const int in : rest) ways += fmt::format("{}{} at {}", ways.empty() ? "" : ", ", in, *seen_[in]);
            out.faults.push_back(
                {PolarityFaultKind::Mixed, rest,
                 fmt::format("Light of {} came out elsewhere ({}), in no order that has one cause. Follow each fibre from panel to panel.",
                             listed(rest), ways)});
        }
        std::sort(out.faults.begin(), out.faults.end(), [](const auto& a, const auto& b) { return a.fibres.front() < b.fibres.front(); });
        out.ok = out.faults.empty() && out.unseen == 0;
        return out;
    }

private:
    void takeDark(PolarityReport& out)
    {
        std::vector<int> dark;
        for (const auto& [in, at] : seen_)
            if (!at) dark.push_back(in);
        if (dark.empty()) return;
        out.faults.push_back(
            {PolarityFaultKind::Dark, dark,
             fmt::format("No light of {} came out anywhere: {}.", listed(dark),
                         dark.size() > 1 ? "a connector that is not plugged, or broken fibres" : "a broken fibre or an open connector")});
        taken_.insert(dark.begin(), dark.end());
    }

    void takeDoubled(PolarityReport& out)
    {
        std::map<int, std::vector<int>> at;
        for (const auto& [in, where] : seen_)
            if (where) at[*where].push_back(in);
        for (const auto& [where, inputs] : at) {
            if (inputs.size() < 2) continue;
            out.faults.push_back(
                {PolarityFaultKind::Doubled, inputs,
                 fmt::format("Light of {} came out at the same fibre, {}: one of them was read at the wrong port. Send light in again.",
                             listed(inputs), where)});
            taken_.insert(inputs.begin(), inputs.end());
        }
    }

    [[nodiscard]] int groups() const { return (map_.fibres + map_.group - 1) / map_.group; }
    [[nodiscard]] int groupOf(int fibre) const { return (fibre - 1) / map_.group; }
    [[nodiscard]] int first(int group) const { return group * map_.group + 1; }
    [[nodiscard]] int size(int group) const { return std::min(map_.group, map_.fibres - group * map_.group); }

    void add(PolarityFaultKind kind, std::set<int> fibres, std::size_t least, std::string message)
    {
        if (fibres.size() >= least) candidates_.push_back({kind, std::move(fibres), least, std::move(message)});
    }

    void gather()
    {
        crossedPairs();
        runs();
        reversedGroups();
        swappedGroups();
        otherPolarity();
    }

    void crossedPairs()
    {
        std::map<int, int> home;  // which input belongs to an output
        for (const int in : wrong_) home[map_.belongs(in)] = in;
        for (const int a : wrong_) {
            const auto other = home.find(*seen_[a]);
            if (other == home.end() || other->second <= a || *seen_[other->second] != map_.belongs(a)) continue;
            add(PolarityFaultKind::CrossedPair, {a, other->second}, 2,
                fmt::format("Fibres {} and {} are crossed. Look at the cords first, then open their splice.", a, other->second));
        }
    }

    /// Runs of neighbours that are displaced alike: along the cable, or round within the group. A fibre that was not seen does not end a run.
    void runs()
    {
        const auto along = [&](int in) { return *seen_[in] - map_.belongs(in); };
        const auto round = [&](int in) -> int {
            const int group = groupOf(map_.belongs(in)), n = size(group);
            return groupOf(*seen_[in]) == group ? ((*seen_[in] - map_.belongs(in)) % n + n) % n : 0;
        };
        const auto collect = [&](const auto& displaced, bool withinGroup) {
            std::set<int> run;
            int by = 0;
            const auto close = [&] {
                if (run.size() > 1)
                    add(PolarityFaultKind::Shifted, run, 2,
                        fmt::format("Fibres {} come out {} port{} {}{}. Was a port left out, or a tube or ribbon begun at the wrong place?",
                                    listed({run.begin(), run.end()}), std::abs(by), std::abs(by) == 1 ? "" : "s", by > 0 ? "further on" : "before",
                                    withinGroup ? ", round within their group" : ""));
                run.clear();
            };
            for (const auto& [in, at] : seen_) {
                if (!at || (taken_.contains(in) && !wrong_.contains(in))) continue;
                const int d = wrong_.contains(in) ? displaced(in) : 0;
                if (d != by || (withinGroup && !run.empty() && groupOf(*run.begin()) != groupOf(in))) close();
                by = d;
                if (d != 0) run.insert(in);
            }
            close();
        };
        collect(along, false);
        collect(round, true);
    }

    void reversedGroups()
    {
        for (int group = 0; group < groups(); ++group) {
            std::set<int> agree;
            int lit = 0, all = 0;
            for (int in = first(group); in < first(group) + size(group); ++in) {
                const auto it = seen_.find(in);
                if (it == seen_.end() || !it->second) continue;
                ++lit;
                const int home = groupOf(map_.belongs(in));
                const bool turned = *it->second == 2 * first(home) + size(home) - 1 - map_.belongs(in);
                all += turned ? 1 : 0;
                if (turned && wrong_.contains(in)) agree.insert(in);
            }
            if (2 * all > lit)
                add(PolarityFaultKind::ReversedGroup, agree, 3,
                    fmt::format("The group of fibres {} to {} is upside down. Open the ribbon splice or the cassette where it is turned.",
                                first(group), first(group) + size(group) - 1));
        }
    }

    void swappedGroups()
    {
        std::set<std::pair<int, int>> across;
        for (const int in : wrong_)
            if (const int from = groupOf(in), to = groupOf(*seen_[in]); from < to) across.emplace(from, to);
        for (const auto& [a, b] : across) {
            if (size(a) != size(b)) continue;
            std::set<int> agree;
            int lit = 0;
            bool there = false, back = false;
            for (const int group : {a, b})
                for (int in = first(group); in < first(group) + size(group); ++in) {
                    const auto it = seen_.find(in);
                    if (it == seen_.end() || !it->second) continue;
                    ++lit;
                    const int by = (group == a ? b - a : a - b) * map_.group;
                    if (!wrong_.contains(in) || *it->second != map_.belongs(in) + by) continue;
                    agree.insert(in);
                    (group == a ? there : back) = true;
                }
            if (there && back && 2 * agree.size() > static_cast<std::size_t>(lit))
                add(PolarityFaultKind::SwappedGroups, agree, 3,
                    fmt::format(
                        "The groups of fibres {} to {} and {} to {} are exchanged. Look for two tubes, ribbons or connectors in each other's place.",
                        first(a), first(a) + size(a) - 1, first(b), first(b) + size(b) - 1));
        }
    }

    /// All of what was seen agrees with it, the fibres that are right by the expected one included.
    void otherPolarity()
    {
        for (const auto& [polarity, words] : polarities) {
            if (polarity == map_.expected) continue;
            const bool agrees = std::all_of(seen_.begin(), seen_.end(), [&, p = polarity](const auto& way) {
                return !way.second || taken_.contains(way.first) || *way.second == map_.belongs(way.first, p);
            });
            if (agrees)
                add(PolarityFaultKind::OtherPolarity, wrong_, 2,
                    fmt::format("All that was seen is {}, not {}: another kind of cord, trunk or cassette than planned.", words,
                                name(map_.expected)));
        }
    }

    /// What is left to a candidate, or nothing where it explains too little.
    static std::optional<Candidate> left(const Candidate& candidate, const std::set<int>& open)
    {
        Candidate out = candidate;
        std::erase_if(out.fibres, [&](int fibre) { return !open.contains(fibre); });
        const bool whole = candidate.kind == PolarityFaultKind::CrossedPair || candidate.kind == PolarityFaultKind::OtherPolarity;
        if (out.fibres.size() < (whole ? candidate.fibres.size() : candidate.least)) return std::nullopt;
        return out;
    }

    struct Choice {
        std::size_t unexplained = 0;
        std::vector<Candidate> chosen;
        [[nodiscard]] bool betterThan(const Choice& other) const
        {
            return std::pair(unexplained, chosen.size()) < std::pair(other.unexplained, other.chosen.size());
        }
    };

    /// Candidates that share fibres are weighed against each other; those that share none are independent.
    std::vector<Candidate> fewest()
    {
        std::map<int, std::vector<const Candidate*>> of;
        for (const auto& candidate : candidates_)
            for (const int fibre : candidate.fibres) of[fibre].push_back(&candidate);
        std::vector<Candidate> out;
        std::set<int> open = wrong_;
        while (!open.empty()) {
            // all that hangs together with the first open fibre
            std::set<int> together;
            std::vector<const Candidate*> concerned;
            for (std::vector<int> next{*open.begin()}; !next.empty();) {
                const int fibre = next.back();
                next.pop_back();
                if (!together.insert(fibre).second) continue;
                for (const Candidate* candidate : of[fibre]) {
                    if (std::find(concerned.begin(), concerned.end(), candidate) != concerned.end()) continue;
                    concerned.push_back(candidate);
                    next.insert(next.end(), candidate->fibres.begin(), candidate->fibres.end());
                }
            }
            Choice best{together.size() + 1, {}};
            // weighings beyond the first choice; what a real cable does is settled in a few hundred
            int budget = std::max(100, 500000 / static_cast<int>(together.size()));
            weigh(together, concerned, {}, best, budget);
            out.insert(out.end(), best.chosen.begin(), best.chosen.end());
            for (const int fibre : together) open.erase(fibre);
        }
        return out;
    }

    void weigh(const std::set<int>& open, const std::vector<const Candidate*>& candidates, Choice now, Choice& best, int& budget)
    {
        if (open.empty()) {
            if (now.betterThan(best)) best = now;
            return;
        }
        if ((--budget < 0 && !best.chosen.empty()) || !now.betterThan(best)) return;
        const int fibre = *open.begin();
        std::vector<Candidate> fitting;
        for (const Candidate* candidate : candidates)
            if (candidate->fibres.contains(fibre))
                if (auto rest = left(*candidate, open)) fitting.push_back(std::move(*rest));
        // what explains most comes first, so that a good choice is found early; of equals the one that claims less
        std::stable_sort(fitting.begin(), fitting.end(), [](const Candidate& a, const Candidate& b) { return a.fibres.size() > b.fibres.size(); });
        for (auto& candidate : fitting) {
            std::set<int> rest = open;
            for (const int f : candidate.fibres) rest.erase(f);
            Choice next = now;
            next.chosen.push_back(std::move(candidate));
            weigh(rest, candidates, std::move(next), best, budget);
        }
        std::set<int> rest = open;
        rest.erase(fibre);
        ++now.unexplained;
        weigh(rest, candidates, std::move(now), best, budget);
    }

    const PolarityMap& map_;
    std::map<int, std::optional<int>> seen_;
    std::set<int> taken_, wrong_;  ///< explained by what was seen of them alone; still to be explained
    std::vector<Candidate> candidates_;
};

}  // namespace

std::string_view name(Polarity polarity)
{
    return std::find_if(polarities.begin(), polarities.end(), [&](const auto& p) { return p.first == polarity; })->second;
}

std::optional<Polarity> polarityNamed(std::string_view name)
{
    for (const auto& [polarity, words] : polarities)
        if (words == name) return polarity;
    return std::nullopt;
}

std::string_view name(PolarityFaultKind kind)
{
    switch (kind) {
        case PolarityFaultKind::CrossedPair: return "crossed-pair";
        case PolarityFaultKind::Shifted: return "shifted";
        case PolarityFaultKind::ReversedGroup: return "reversed-group";
        case PolarityFaultKind::SwappedGroups: return "swapped-groups";
        case PolarityFaultKind::OtherPolarity: return "other-polarity";
        case PolarityFaultKind::Dark: return "dark";
        case PolarityFaultKind::Doubled: return "doubled";
        case PolarityFaultKind::Mixed: break;
    }
    return "mixed";
}

int PolarityMap::belongs(int in, Polarity polarity) const
{
    const int begin = (in - 1) / group * group, size = std::min(group, fibres - begin), place = in - begin;
    switch (polarity) {
        case Polarity::Straight: break;
        case Polarity::Reversed: return begin + size + 1 - place;
        case Polarity::Pairs: {
            const int other = place % 2 == 1 ? place + 1 : place - 1;
            return begin + (other > size ? place : other);  // the odd one at the end of a group has no partner
        }
    }
    return in;
}

Result<PolarityReport> explain(const PolarityMap& map)
{
    constexpr int most = 10000;
    if (map.fibres < 1 || map.fibres > most)
        return failure(Error::Code::PlanInvalid, fmt::format("A cable has 1 to {} fibres, not {}.", most, map.fibres));
    if (map.group < 1 || map.group > map.fibres)
        return failure(Error::Code::PlanInvalid, fmt::format("A group has 1 to {} fibres here, not {}.", map.fibres, map.group));
    for (const auto& way : map.seen)
        for (const int fibre : {way.in, way.out.value_or(way.in)})
            if (fibre < 1 || fibre > map.fibres)
                return failure(Error::Code::PlanInvalid, fmt::format("Fibre {} is not one of 1 to {}.", fibre, map.fibres));
    return Explaining(map).run();
}

}  // namespace clendo
