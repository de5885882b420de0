#include "record/rules/kit.h"

#include <fmt/format.h>

#include <algorithm>
#include <set>

#include "record/rules/golden_face.h"

namespace clendo {
namespace {

constexpr double nearlyUsed = 0.9;  // share of strokes or matings from which to take another along
constexpr std::int64_t day = 86400, soon = 14 * day;
constexpr std::int64_t proofHolds = std::int64_t{12} * 3600;  // a battery charged yesterday is not charged

/// Whether something fits a connector: by its family, or by another of the same ferrule (2.5 mm, 1.25 mm). Of what nothing is said it may.
bool fits(const JobState& state, const KitItem& item, std::string_view connector)
{
    const auto& list = item.what.connectors;
    const ConnectorFamily* wanted = familyNamed(state.plan->connectors, connector);
    return list.empty() || std::any_of(list.begin(), list.end(), [&](const std::string& known) {
               if (known == connector) return true;
               const ConnectorFamily* family = familyNamed(state.plan->connectors, known);
               return family && wanted && family->ferrule && family->ferrule == wanted->ferrule && family->hardened == wanted->hardened;
           });
}

/// Whether it is known to fit, and not only not known not to.
bool surelyFits(const JobState& state, const KitItem& item)
{
    const KitKind* kind = kitKindNamed(state.plan->kitKinds, item.what.kind);
    return !kind || !kind->byConnector || !item.what.connectors.empty();
}

bool contains(const std::vector<std::string>& list, std::string_view what) { return std::find(list.begin(), list.end(), what) != list.end(); }

bool isAngled(std::string_view className) { return className.ends_with("apc"); }

/// "1.25 mm" or "rectangular".
std::string ferruleWords(const JobState& state, std::string_view connector)
{
    const ConnectorFamily* family = familyNamed(state.plan->connectors, connector);
    if (!family) return std::string(connector);
    return family->ferrule ? fmt::format("{:g} mm", family->ferrule->value() / 1000) : "rectangular";
}

const KitItem* tipFor(const JobState& state, std::string_view connector)
{
    for (const auto& [id, item] : state.kit)
        if (item.what.kind == "tip" && !item.what.gone && fits(state, item, connector)) return &item;
    return nullptr;
}

void checkItem(const KitItem& item, const KitKind* kind, std::int64_t now, std::vector<KitTrouble>& out)
{
    const auto say = [&](std::string sentence) { out.push_back({item.what.id, std::move(sentence)}); };
    if (kind && kind->calibrated) {
        if (item.what.calibratedUntil == 0)
            say(fmt::format("{} has no calibration date. Note it, or say on the record why it goes along.", item.what.id));
        else if (item.what.calibratedUntil < now)
            say(fmt::format("The calibration of {} ended {} days ago.", item.what.id, (now - item.what.calibratedUntil) / day));
        else if (item.what.calibratedUntil < now + soon)
            say(item.what.calibratedUntil < now + day
                    ? fmt::format("The calibration of {} ends within a day.", item.what.id)
                    : fmt::format("The calibration of {} ends in {} days.", item.what.id, (item.what.calibratedUntil - now) / day));
    }
    if (const auto left = leftOn(item); left && item.used >= nearlyUsed * item.what.most)
        say(*left <= 0
                ? fmt::format("{} is used up: {} of {} {}. Take a fresh one.", item.what.id, item.used, item.what.most, kind ? kind->counts : "uses")
                : fmt::format("{} has {} of {} {} left. Take another along.", item.what.id, *left, item.what.most, kind ? kind->counts : "uses"));
    if (!kind) return;
    for (const auto& proof : kind->proofs) {
        const auto done = item.proofs.find(proof);
        if (done == item.proofs.end() || now - done->second.at > proofHolds)
            say(fmt::format("{}: {}?", item.what.id, proof));
        else if (!done->second.good)
            say(fmt::format("{}: not {}.", item.what.id, proof));
    }
}

/// Ranges of ports that cables take, by place, rack and panel.
class Ports {
public:
    /// Takes the ports there; the lowest of them that another cable has already, and its name.
    std::optional<std::pair<int, std::string>> claim(const CablePlan& plan, Connection at)
    {
        const std::string& cable = plan.id;
        const int first = plan.firstPortAt(at), last = first + plan.ports() - 1;
        auto& ranges = byPanel_[{plan.place(at), plan.rackAt(at), plan.panel(at)}];
        std::optional<std::pair<int, std::string>> clash;
        for (const auto& range : ranges) {
            const int common = std::max(range.first, first);
            if (range.cable != cable && common <= std::min(range.last, last) && (!clash || common < clash->first)) clash = {common, range.cable};
        }
        ranges.push_back({first, last, cable});
        return clash;
    }

private:
    struct Range {
        int first, last;
        std::string cable;
    };
    std::map<std::tuple<std::string, std::string, std::string>, std::vector<Range>> byPanel_;
};

}  // namespace

std::string_view cleaningTarget(const JobState& state, const FaceId& face)
{
    if (face.side == Side::Cord) return "cord";
    const Link* link = state.link(face.link);
    return link ? name(link->cable->accessAt(face.connection)) : name(Access::Device);  // else it is an instrument's
}

std::optional<int> leftOn(const KitItem& item)
{
    if (item.what.most <= 0) return std::nullopt;
    return item.what.most - item.used;
}

std::vector<const KitItem*> toolsFor(const JobState& state, std::string_view connector, std::string_view target)
{
    std::vector<const KitItem*> out;
    for (const auto& [id, item] : state.kit) {
        const KitKind* kind = kitKindNamed(state.plan->kitKinds, item.what.kind);
        if (kind && !item.what.gone && contains(kind->cleans, target) && fits(state, item, connector)) out.push_back(&item);
    }
    std::stable_sort(out.begin(), out.end(), [&](const KitItem* a, const KitItem* b) {
        if (const bool sure = surelyFits(state, *a); sure != surelyFits(state, *b)) return sure;
        const bool worn = leftOn(*a).value_or(1) <= 0, other = leftOn(*b).value_or(1) <= 0;
        return worn != other ? other : a->used < b->used;
    });
    return out;
}

bool doesMethod(const JobState& state, const KitItem& tool, std::string_view method)
{
    const KitKind* kind = kitKindNamed(state.plan->kitKinds, tool.what.kind);
    if (!kind || kind->way.empty() || kind->way == "both") return true;
    return (kind->way == "dry") == (method == "dry");
}

std::vector<KitTrouble> readiness(const JobState& state, std::int64_t now)
{
    std::vector<KitTrouble> out;
    for (const auto& golden : goldenFaces(state, now))  // first: all pictures rest on the scope
        for (const auto& trouble : golden.troubles) out.push_back({golden.face.link, trouble});
    for (const auto& [id, item] : state.kit)
        if (!item.what.gone) checkItem(item, kitKindNamed(state.plan->kitKinds, item.what.kind), now, out);
    std::set<std::pair<std::string, std::string>> asked;
    for (const auto& cable : state.plan->cables)
        for (const Connection at : cable.connections())
            for (const std::string_view target : {std::string_view("cord"), name(cable.accessAt(at))}) {
                const std::string& connector = cable.connectorAt(at);
                if (!asked.insert({connector, std::string(target)}).second) continue;
                const auto tools = toolsFor(state, connector, target);
                const bool any = std::any_of(tools.begin(), tools.end(), [](const KitItem* t) { return leftOn(*t).value_or(1) > 0; });
                const std::string what = target == "cord" ? "cord ends" : std::string(wordsFor(*accessNamed(target)));
                if (!any)
                    out.push_back({cable.id, fmt::format("Nothing in the kit cleans {} {} ({}).", connector, what, ferruleWords(state, connector))});
            }
    std::set<std::string> tips;
    for (const auto& cable : state.plan->cables)
        for (const Connection at : cable.connections())
            if (const std::string& connector = cable.connectorAt(at); tips.insert(connector).second && !tipFor(state, connector))
                out.push_back({cable.id, fmt::format("No scope tip in the kit fits {} ({}).", connector, ferruleWords(state, connector))});
    return out;
}

std::vector<KitTrouble> planTroubles(const std::vector<CablePlan>& cables, const std::vector<ConnectorFamily>& families)
{
    std::vector<KitTrouble> out;
    Ports taken;
    for (const auto& c : cables) {
        const auto say = [&](std::string sentence) { out.push_back({c.id, std::move(sentence)}); };
        std::set<std::string> connectors, classes;
        for (const Connection at : c.connections()) {
            const std::string& connector = c.connectorAt(at);
            if (!connectors.insert(connector).second) continue;
            const ConnectorFamily* family = familyNamed(families, connector);
            if (!family)
                say(fmt::format("Cable {}: the connector family “{}” is not known; no tool and no tip can be proposed.", c.id, connector));
            else if (!family->holds(c.ferruleFibres))
                say(fmt::format("Cable {}: a ferrule of {} does not hold {} fibre{}.", c.id, connector, c.ferruleFibres,
                                c.ferruleFibres == 1 ? "" : "s"));
        }
        for (const Connection at : c.connections()) {
            const std::string& className = c.classAt(at);
            if (!classes.insert(className).second) continue;
            if (isMultimode(c) != className.starts_with("mm"))
                say(fmt::format("Cable {}: faces of {} fibre are judged as “{}”: choose the class that fits.", c.id, c.fibre, className));
            if (className == "sm-multi")
                say(fmt::format("Cable {}: rectangular single-mode ferrules are angled as a rule: “sm-multi-apc” is their class, if these are.",
                                c.id));
        }
        for (const End end : {End::A, End::B}) {
            const CableEnd& e = c.at(end);
            const std::string where = fmt::format("Cable {}, end {}", c.id, name(end));
            if (!e.cordClass.empty() && isAngled(e.cordClass) != isAngled(c.classAt(end)))
                say(fmt::format("{}: an angled face would meet a flat one; both are harmed and most light is lost. Plan cords of one polish.",
                                where));
            if (!e.cordFibre.empty() && isMultimode(e.cordFibre) != isMultimode(c.fibre))
                say(fmt::format("{}: a cord of {} on a cable of {}: core sizes are mixed.", where, e.cordFibre, c.fibre));
            if (e.pins && c.ferruleFibres == 1) say(fmt::format("{}: guide pins are planned, and ferrules of one fibre have none.", where));
        }
        for (const Connection at : c.connections()) {
            if (at.deviceEnd()) continue;  // which of its ports is not planned
            if (const auto clash = taken.claim(c, at))
                say(fmt::format("Cable {}, {}: {} port {} is taken by cable {} already.", c.id, c.words(at), c.rackAndPanel(at), clash->first,
                                clash->second));
        }
    }
    return out;
}

std::vector<std::string> carryFor(const JobState& state, const FaceId& face, bool toClean)
{
    const Link* link = state.link(face.link);
    if (!link) return {};
    const std::string& connector = link->cable->connectorAt(face.connection);
    const std::string_view target = cleaningTarget(state, face);
    const KitItem* tip = tipFor(state, connector);
    const std::string where = target == "cord" ? "cord end" : std::string(wordsFor(*accessNamed(target)));
    const std::string looking = fmt::format("{}, {}", tip ? tip->what.id : "tip for " + connector, where);
    if (!toClean) return {looking};
    const auto tools = toolsFor(state, connector, target);
    if (!tools.empty()) return {tools.front()->what.id, looking};
    const char* tool = target == "cord" ? "tape pen or cassette" : target == "hardened" ? "pen for hardened ports" : "tape pen or stick";
    return {fmt::format("{} for {}", tool, connector), looking};
}

}  // namespace clendo
