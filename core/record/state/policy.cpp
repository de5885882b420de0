#include "record/state/policy.h"

#include <fmt/format.h>

#include <algorithm>

namespace clendo {
namespace {

const PolicyRow* rowOf(std::string_view key)
{
    const auto& rows = policyRows();
    const auto it = std::find_if(rows.begin(), rows.end(), [&](const PolicyRow& r) { return r.key == key; });
    return it == rows.end() ? nullptr : &*it;
}

bool offers(const PolicyRow& row, std::string_view answer)
{
    return std::any_of(row.choices.begin(), row.choices.end(), [&](const auto& choice) { return choice.first == answer; });
}

}  // namespace

const std::vector<PolicyRow>& policyRows()
{
    static const std::vector<PolicyRow> rows{
        {"first_step",
         "Clean before the first look?",
         {{"look", "look first, clean only if needed"}, {"clean", "always clean first, then look"}},
         "A clean face needs nothing; every touch can add dirt.",
         "the round's first step at each face"},
        {"first_method",
         "First cleaning method",
         {{"dry", "dry first"}, {"wet", "wet, then dry"}},
         "Dry leaves nothing behind; wet comes at the third try, or the second when a film is seen.",
         "what is advised for a face"},
        {"open",
         "A fit face that stays open must be seen again after",
         {{"30", "30 minutes"}, {"10", "10 minutes"}, {"60", "an hour"}, {"never", "never by itself"}},
         "Clean is a state with an age; a cap or a parking place stops the clock. The time is practice, no standard's.",
         "when a fit face becomes one to look at again"},
        {"capped",
         "A fit face that is capped or parked must be seen again after",
         {{"1440", "a day"}, {"480", "8 hours"}, {"10080", "a week"}, {"never", "never by itself"}},
         "A cap keeps dust out and carries dust: it is no look. The time is practice, no standard's.",
         "when a capped face becomes one to look at again"},
        {"caps",
         "Factory-capped faces",
         {{"look", "look at them anyway"}, {"trust", "trust the cap"}},
         "Caps shed dirt themselves.",
         "whether a capped cord may be mated unseen"},
        {"sleeve",
         "The adapter's sleeve",
         {{"step", "is cleaned before each mating"}, {"none", "has no step of its own"}},
         "A clean ferrule pushed through a dirty sleeve arrives dirty.",
         "whether mating waits for key A"},
        {"edition",
         "Criteria, and what counts outside the cladding",
         {{"2015", "edition 2015, by its zones"}, {"2009", "edition 2009, by its zones"}, {"pristine", "any visible particle fails"}},
         "The later edition is more lenient where dirt does no harm; loose particles are said as a warning.",
         "how every face is judged, those seen before included"},
        {"order",
         "Order at a panel",
         {{"tips", "all cord ends, then behind the adapters"}, {"ports", "port by port"}},
         "The scope's tip is changed once; cap what waits. Port by port, a clean face waits less.",
         "the order of the round"},
        {"ground_in",
         "Marks outside the core that meet the criteria",
         {{"note", "accept with a note, watch at the next look"}, {"replace", "replace"}},
         "What meets the criteria does no harm, if it stays as it is.",
         "what the advice says of a fit face with marks"},
        {"judge",
         "Who judges?",
         {{"measurement", "the measurement; a person may overrule with a reason"}, {"person", "a person with the picture; the measurement proposes"}},
         "The measurement is the same on every day; the person knows the scope's own spots.",
         "how a fit face is worded"},
        {"multi_fibre",
         "Ferrules with several fibres",
         {{"all", "judge all groups"}, {"stop", "stop at the first bad group"}},
         "All fibres seen once show what the cleaning has to reach.",
         "whether the next group is asked for after a bad one"},
        {"reference",
         "Reference",
         {{"one-cord", "one cord"}, {"two-cord", "two cords"}, {"three-cord", "three cords"}, {"single-ended", "single-ended"}},
         "One cord where the meter takes the connector, else three: it counts both end connections.",
         "what is plugged for the reference, and how many connections the limit counts"},
        {"launch_loss",
         "A launch cord of known loss",
         {{"reference", "the reference is set through it"}, {"subtract", "its measured loss is taken off"}},
         "What is in the reference needs no arithmetic; a loss that nobody measured is no measurement.",
         "whether a cord can be named whose loss, as it was proven, is taken off each reading"},
        {"directions",
         "Loss is read",
         {{"both", "in both directions; the worse is judged"}, {"one", "in one direction"}},
         "The two directions see different connectors first.",
         "how many readings a fibre needs"},
        {"warm_up",
         "A light source is warm after",
         {{"10", "10 minutes"}, {"5", "5 minutes"}, {"20", "20 minutes"}, {"30", "30 minutes"}},
         "Its power rises while it warms; its data sheet knows better.",
         "the clock that begins when a source is switched on"},
        {"reference_age",
         "Without a check a reference holds for",
         {{"480", "8 hours"}, {"60", "an hour"}, {"120", "2 hours"}, {"240", "4 hours"}, {"never", "as long as nobody says otherwise"}},
         "Sources drift and cords wear; a check takes a minute. The time is practice, no standard's.",
         "whether a reading still rests on its reference"},
        {"reference_fibres",
         "Without a check a reference serves",
         {{"144", "144 fibres"}, {"12", "12 fibres"}, {"24", "24 fibres"}, {"48", "48 fibres"}, {"never", "any number of fibres"}},
         "Each fibre is one more touch of the reference cords.",
         "whether a reading still rests on its reference"},
        {"drift",
         "A reference is void when it has drifted by more than",
         {{"0.1", "0.1 dB"}, {"0.05", "0.05 dB"}, {"0.2", "0.2 dB"}},
         "What drifts more between two checks makes every reading since the last good one doubtful.",
         "what a check says of the reference, and of what was read on it"},
        {"tier",
         "What is certified",
         {{"2", "tier 2: loss, length, right fibre and traces"}, {"1", "tier 1: loss, length and right fibre"}},
         "A trace shows where the loss goes; loss alone does not.",
         "what the round asks for, and what a certificate calls missing"},
        {"trace_ways",
         "Traces are shot",
         {{"both", "from both ends"}, {"one", "from one end"}},
         "From one end a splice is told wrong by the mismatch of its fibres.",
         "how many traces a fibre needs, and whether a splice is judged by one"},
        {"reel",
         "Of a reel is tested",
         {{"sample", "a sample by plan"}, {"all", "every fibre"}, {"one", "one fibre, for its length"}},
         "One fibre proves the length, not the reel; a plan says what a sample is worth.",
         "how many fibres of a reel are asked for before it is accepted"},
        {"reel_launch",
         "A reel is shot",
         {{"with", "through a launch cord"}, {"without", "without one"}},
         "Without a launch cord neither the joint nor the first metres are seen.",
         "whether a launch cord is asked for, and what a reel's report says is not known"},
        {"right_fibre",
         "That it is the right fibre",
         {{"prove", "is proven for each fibre"}, {"none", "is not asked"}},
         "Light into fibre n at A has to come out of fibre n at B; two fibres that are crossed measure as well as two that are not.",
         "whether a fibre can be finished without, and whether its certificate names a tier"},
    };
    return rows;
}

std::string_view policy(const Policies& policies, std::string_view key)
{
    const PolicyRow* row = rowOf(key);
    if (!row) return {};
    const auto it = policies.find(key);
    return it != policies.end() && offers(*row, it->second) ? std::string_view(it->second) : std::string_view(row->choices.front().first);
}

std::vector<std::string> unknownPolicies(const Policies& policies)
{
    std::vector<std::string> out;
    for (const auto& [key, answer] : policies) {
        const PolicyRow* row = rowOf(key);
        if (!row)
            out.push_back(fmt::format("This job has a policy “{}” that this version does not know; it is kept and changes nothing.", key));
        else if (!offers(*row, answer))
            out.push_back(fmt::format("The policy “{}” says “{}”, which this version does not know: “{}” holds.", row->question, answer,
                                      row->choices.front().second));
    }
    return out;
}

}  // namespace clendo
