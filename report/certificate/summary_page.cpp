#include <fmt/format.h>
#include <fmt/ranges.h>

#include <nlohmann/json.hpp>

#include "report/certificate/parts_of_pages.h"
#include "report/certificate/values.h"

namespace clendo::pages {
namespace {

using nlohmann::json;
using namespace pdf;

std::string plural(std::size_t n, const char* one, const char* many) { return fmt::format("{} {}", n, n == 1 ? one : many); }

/// Where the job differs from the default.
std::string policyOf(const json& c)
{
    std::vector<std::string> said;
    for (const auto& row : c["policy"])
        if (!row["default"].get<bool>()) said.push_back(printed(row["answer"]));
    return said.empty() ? "" : fmt::format("Policy of this job, where it differs from the default: {}.", fmt::join(said, "; "));
}

std::string instrumentsOf(const json& c, bool measured)
{
    std::vector<std::string> said;
    for (const auto& item : c["instruments"])
        if (item["measured"].get<bool>() == measured)
            said.push_back(fmt::format(
                "{} ({}, {})", printed(item["name"]), item["serial"].is_string() ? printed(item["serial"]) : std::string("no serial number"),
                item["calibrated_until"].is_string() ? "calibrated until " + printed(item["calibrated_until"]) : std::string("no calibration date")));
    return fmt::format("{}", fmt::join(said, "; "));
}

class Summary {
public:
    Summary(Page& page, const json& c, const PageChoice& choice, Places& places) : p_(page), c_(c), choice_(choice), places_(places) {}

    void write()
    {
        head();
        lines();
        plainSight();
        cables();
        open();
        rules();
        proof();
    }

private:
    void head()
    {
        {
            const auto tagged = p_.tag(Role::Title);
            p_.font(19, true);
            p_.words(0, fmt::format("Certificate {}", printed(c_["subject"])));
        }
        p_.down(7);
        p_.font(9.5);
        p_.paragraph(fmt::format("{} · {} · records until {}", printed(c_["job"]),
                                 c_["scope"] == "job"     ? std::string("the whole job")
                                 : c_["scope"] == "cable" ? std::string("one cable")
                                                          : std::string("one fibre"),
                                 printed(c_["records_until"])),
                     soft);
        if (c_["scope"] == "fibre") {
            const auto& cable = c_["cables"][0];
            p_.paragraph(fmt::format("Cable {}: {} to {} · {} · {} · {:.0f} m planned · {} splices", printed(cable["id"]), printed(cable["from"]),
                                     printed(cable["to"]), printed(cable["fibre"]), printed(cable["connector"]), cable["length_m"].get<double>(),
                                     printed(cable["splices"])));
        }
        p_.down(5);
        p_.font(14, true);
        const auto& verdicts = c_["summary"]["verdicts"];
        const bool bad = verdicts.contains("fail") || verdicts.contains("not valid");
        const bool good = verdicts.size() == 1 && verdicts.contains("pass");
        p_.paragraph(printed(c_["summary"]["sentence"]), bad ? wine : good ? deep : ochre);
        p_.down(3);
    }

    void lines()
    {
        const auto tagged = p_.tag(Role::Table);
        for (const auto& line : c_["summary"]["lines"]) {
            const auto row = p_.tag(Role::Row);
            const double before = p_.y;
            p_.rule();
            p_.down(5);
            {
                const auto cell = p_.tag(Role::Cell);
                std::string name = printed(line["line"]);
                name[0] = static_cast<char>(std::toupper(static_cast<unsigned char>(name[0])));
                p_.font(11, true);
                p_.words(0, name, ink, 34);
            }
            {
                const auto cell = p_.tag(Role::Cell);
                p_.font(8.5);
                p_.words(36, printed(line["what"]), soft, 60);
            }
            const bool worse = line["fail"].get<int>() + line["not_valid"].get<int>() > 0;
            const bool all = line["asked"].get<int>() > 0 && line["pass"] == line["asked"];
            {
                const auto cell = p_.tag(Role::Cell);
                p_.font(9.5);
                p_.y = std::max(before + 9, p_.column(98, printed(line["says"]), worse ? wine : all ? deep : line["asked"] == 0 ? soft : ochre));
            }
        }
        p_.rule();
        p_.down(6);
    }

    /// What a reader must not have to look for.
    void plainSight()
    {
        const auto& s = c_["summary"];
        const auto overruled = s["overruled"].get<std::size_t>(), exceptions = s["exceptions"].get<std::size_t>();
        const auto fibres = s["fibres"].get<std::size_t>(), standing = s["signed"].get<std::size_t>();
        p_.font(9.5);
        p_.paragraph(fmt::format("Signed off by a person: {} of {}.", standing, plural(fibres, "fibre", "fibres")), standing == fibres ? ink : ochre);
        p_.paragraph(overruled == 0 ? std::string("No finding was overruled by a person.")
                                    : fmt::format("{} overruled by a person, each with a reason.", plural(overruled, "finding was", "findings were")),
                     overruled == 0 ? soft : ochre);
        p_.paragraph(exceptions == 0 ? std::string("No exception was filed.")
                                     : fmt::format("{} with its reason on the fibre’s page.", plural(exceptions, "exception,", "exceptions, each")),
                     exceptions == 0 ? soft : ochre);
        for (const auto& loss : c_["losses"])
            p_.paragraph(fmt::format("This record is not whole. {}, noted {}.", printed(loss["what"]), printed(loss["at"])), wine);
        p_.down(2);
    }

    void cables()
    {
        if (c_["scope"] == "fibre") return;
        const auto tagged = p_.tag(Role::Table);
        p_.font(8.5, true);
        tableRow(p_, Role::HeadCell,
                 {{0, "Cable", soft, 26},
                  {27, "From, to", soft, 60},
                  {90, "Fibre", soft, 20},
                  {124, "Length", soft},
                  {128, "What it comes to", soft, 52}});
        p_.down(5);
        p_.font(9);
        for (const auto& cable : c_["cables"]) {
            p_.need(6);
            const auto row = p_.tag(Role::Row);
            const std::string id = printed(cable["id"]);
            {
                const auto cell = p_.tag(Role::Cell);
                const auto link = p_.link(places_.of(id));
                p_.words(0, id, deep, 26);
            }
            const auto cell = [&](double at, const std::string& text, double room, Colour tone = ink) {
                tableCell(p_, Role::Cell, {at, text, tone, room});
            };
            cell(27, fmt::format("{} to {}", printed(cable["from"]), printed(cable["to"])), 62);
            cell(90, fmt::format("{} × {}", printed(cable["fibres"]), printed(cable["fibre"])), 20);
            cell(124, fmt::format("{:.0f} m", cable["length_m"].get<double>()), 0);
            std::map<std::string, int> count;
            for (const auto& link : cable["links"]) ++count[printed(link["verdict"])];
            std::vector<std::string> said;
            for (const auto& [verdict, n] : count) said.push_back(fmt::format("{} {}", n, verdict));
            const auto tag = p_.tag(Role::Cell);
            p_.y = p_.column(128, fmt::format("{}", fmt::join(said, ", ")), count.size() == 1 ? toneOf(count.begin()->first) : ochre);
        }
        p_.down(4);
    }

    /// Which fibres are not as they were asked to be, and why.
    void open()
    {
        std::vector<const json*> all;
        for (const auto& cable : c_["cables"])
            for (const auto& link : cable["links"])
                if (link["verdict"] != "pass" && link["verdict_because"].is_string()) all.push_back(&link);
        if (all.empty()) return;
        subHeading(p_, "What stands in the way", 18);
        const auto tagged = p_.tag(Role::Table);
        p_.font(8.5);
        std::size_t shown = 0;
        for (const auto* link : all) {
            if (shown == mostOpen && all.size() > mostOpen + 1) break;
            ++shown;
            p_.need(p_.heightOf(reason(*link), Page::width - 48));
            const std::string id = printed((*link)["link"]), verdict = printed((*link)["verdict"]);
            const auto row = p_.tag(Role::Row);
            tableCell(p_, Role::Cell, {0, id, ink, 26});
            tableCell(p_, Role::Cell, {27, verdict, toneOf(verdict), 20});
            const auto cell = p_.tag(Role::Cell);
            p_.y = p_.column(48, reason(*link)) + 0.6;
        }
        if (shown < all.size()) {
            p_.words(27, fmt::format("and {} more, on the pages of the cables", all.size() - shown), soft);
            p_.down(4.5);
        }
        p_.down(2);
    }

    /// The worst part of a link, with what is there of it or what is missing.
    static std::string reason(const json& link)
    {
        const std::string about = printed(link["verdict_because"]);
        for (const auto& part : link["parts"]) {
            if (part["about"] != link["verdict_because"]) continue;
            if (part["says"].is_string()) return fmt::format("{}: {}", about, printed(part["says"]));
            if (!part["not_tested"].empty()) return fmt::format("not tested: {}", printed(part["not_tested"][0]));
        }
        return about;
    }

    void rules()
    {
        p_.font(8);
        for (const auto& cable : c_["cables"]) {
            const auto& criteria = cable["criteria"];
            const auto& limits = cable["limits"];
            std::vector<std::string> methods;
            for (const auto& m : cable["reference_methods"]) methods.push_back(printed(m));
            p_.paragraph(fmt::format("{}: end faces by {}, class {}, version {}{}. Loss by {}, reference method {}.", printed(cable["id"]),
                                     printed(criteria["name"]), printed(criteria["class"]), printed(criteria["version"]), unchecked(criteria),
                                     limits.is_object()
                                         ? fmt::format("{}, version {}{}", printed(limits["title"]), printed(limits["version"]), unchecked(limits))
                                         : std::string("no limits"),
                                     methods.empty() ? std::string("none, no loss was read") : fmt::format("{}", fmt::join(methods, " and "))),
                         soft);
        }
        if (const auto said = policyOf(c_); !said.empty()) p_.paragraph(said, soft);
        if (const auto said = instrumentsOf(c_, true); !said.empty()) p_.paragraph(fmt::format("Measured with: {}.", said), soft);
        if (const auto said = instrumentsOf(c_, false); !said.empty())
            p_.paragraph(fmt::format("In the kit, not said to have measured this: {}.", said), soft);
    }

    void proof()
    {
        p_.down(3);
        subHeading(p_, "How to check this certificate", 24);
        p_.font(8.5);
        if (choice_.signer)
            p_.paragraph(
                fmt::format("These pages lie in a folder that is signed with the key {} of {}. Open index.html in that folder and let it check the "
                            "files, or run “clendo-cli verify” on it. A signature that holds shows that nothing in the folder was changed since that "
                            "key signed it. It does not show that what was measured is true, nor whose key it is: compare the sixteen digits with "
                            "the key’s holder, by another way than this came.",
                            choice_.signer->key.spoken(), choice_.signer->holder));
        else
            p_.paragraph("No key signed this certificate. Whoever has it can change it, and nobody could tell.", ochre);
        if (c_["replaces"].is_object())
            p_.paragraph(fmt::format("It replaces the certificate with the record {}…; what differs is on the next page.",
                                     printed(c_["replaces"]["record_sha256"]).substr(0, 16)));
    }

    static constexpr std::size_t mostOpen = 20;
    Page& p_;
    const json& c_;
    const PageChoice& choice_;
    Places& places_;
};

}  // namespace

void summaryPage(Page& page, const json& certificate, const PageChoice& choice, Places& places)
{
    Summary(page, certificate, choice, places).write();
}

void changesPage(Page& page, const json& c)
{
    if (!c["replaces"].is_object()) return;
    page.newPage();
    {
        const auto tagged = page.tag(Role::Heading);
        page.font(15, true);
        page.words(0, "What differs from the certificate before");
    }
    page.down(7);
    page.font(9);
    const auto& changes = c["replaces"]["changes"];
    page.paragraph(fmt::format("The record {}… is replaced. {}", printed(c["replaces"]["record_sha256"]).substr(0, 16),
                               changes.empty() ? "No verdict differs." : "Parts whose verdict differs:"),
                   soft);
    page.down(2);
    const auto tagged = page.tag(Role::Table);
    page.font(8.5, true);
    tableRow(page, Role::HeadCell,
             {{0, "Fibre", soft, 26}, {27, "What", soft, 70}, {99, "Before", soft, 26}, {127, "Now", soft, 26}, {155, "", soft, 25}});
    page.down(5);
    page.font(9);
    for (const auto& change : changes) {
        page.need(6);
        const std::string now = printed(change["now"]);
        tableRow(page, Role::Cell,
                 {{0, printed(change["link"]), ink, 26},
                  {27, printed(change["about"]), ink, 70},
                  {99, printed(change["before"]), soft, 26},
                  {127, now, toneOf(now), 26},
                  {155, printed(change["kind"]), ink, 25}});
        page.down(4.8);
    }
}

}  // namespace clendo::pages
