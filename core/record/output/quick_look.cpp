#include "record/output/quick_look.h"

#include "record/fold/fold.h"
#include "record/journal/filing.h"
#include "record/state/ferrule.h"

namespace clendo {

QuickLook quickLook(const std::vector<face::FaceMeasurement>& seen, const std::string& className, const Rules& rules)
{
    // a job that is never filed: one cable whose near ends are the fibres of the picture
    CablePlan cable;
    cable.id = "quick";
    cable.placeA = cable.panelA = "here";
    cable.placeB = cable.panelB = "elsewhere";
    cable.fibre = className.starts_with("mm") ? "OM4" : "OS2";
    cable.className = className;
    cable.fibres = cable.ferruleFibres = std::max(1, static_cast<int>(seen.size()));
    cable.length = Metre(1);
    Act act{"", {CablePlanned{cable}}, 1, 1, "quick"};
    for (std::size_t i = 0; i < seen.size(); ++i) {
        FaceSeen look;  // field by field: gcc 12 sees something uninitialized in the braces
        look.face.link = "quick/" + std::to_string(i + 1);
        look.measured = seen[i];
        act.facts.emplace_back(std::move(look));
    }
    ChainEnd end{"quick", {}, {}};
    std::vector<Entry> entries;
    const auto records = recordsOf(act, end);
    for (std::size_t i = 0; i < records.size(); ++i) entries.push_back({records[i], act.facts[i]});
    QuickLook out{fold(entries, rules), {"quick/1", End::A, Side::Cord}, 1, cable.fibres};
    out.face = decidingFace(out.state, out.face);
    out.fibre = out.link().fibre;
    return out;
}

}  // namespace clendo
