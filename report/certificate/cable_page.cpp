#include <fmt/format.h>
#include <fmt/ranges.h>

#include <map>
#include <nlohmann/json.hpp>

#include "report/certificate/parts_of_pages.h"
#include "report/certificate/values.h"

namespace clendo::pages {
namespace {

using nlohmann::json;
using namespace pdf;

constexpr double fibreAt = 0, colourAt = 12, nmAt = 48, abAt = 64, baAt = 79, limitAt = 94, marginAt = 120, lossAt = 122, verdictAt = 140,
                 signedAt = 158;

void head(Page& p, const json& cable)
{
    {
        const auto tagged = p.tag(Role::Heading);
        p.font(15, true);
        p.words(0, fmt::format("Cable {}", printed(cable["id"])));
    }
    p.down(6.5);
    p.font(9.5);
    const auto end = [&](const char* place, const char* rack, const char* connector) {
        std::string out = printed(cable[place]);
        if (cable[rack].is_string()) out += fmt::format(" ({})", printed(cable[rack]));
        return fmt::format("{}, {}", out, printed(cable[connector]));
    };
    p.paragraph(fmt::format("From {} to {} · {} × {} · {:.0f} m planned · {} splices", end("from", "rack_from", "connector_from"),
                            end("to", "rack_to", "connector_to"), printed(cable["fibres"]), printed(cable["fibre"]), cable["length_m"].get<double>(),
                            printed(cable["splices"])));
    p.font(8.5);
    signOffWords(p, cable["signature"]);
    p.down(2);
}

std::string marginWithUncertainty(const json& r)
{
    const std::string spare = margin(r);
    return spare != "–" && r["uncertainty_db"].is_number() ? fmt::format("{} ± {}", spare, decimals(r["uncertainty_db"], 2)) : spare;
}

/// Why a fibre does not carry something, as power/link_budget.h names it.
std::string whyNot(const std::string& limitedBy)
{
    if (limitedBy == "least-loss") return "it loses too little: too much light";
    return fmt::format("for its {}", limitedBy);
}

void fibreRows(Page& p, const json& link, const PageChoice& choice, Places& places)
{
    const auto lossOf = [&]() -> const json& {
        static const json none = json::array();
        return link["loss"].is_object() ? link["loss"]["results"] : none;
    };
    const std::size_t rows = std::max<std::size_t>(1, lossOf().size());
    p.need(5.0 * static_cast<double>(rows) + 2);
    for (std::size_t i = 0; i < rows; ++i) {
        const auto row = p.tag(Role::Row);
        const auto cell = [&](double at, const std::string& text, double room, Colour tone = ink) {
            tableCell(p, Role::Cell, {at, text, tone, room});
        };
        if (i == 0) {
            const auto tagged = p.tag(Role::Cell);
            if (choice.fibrePages) {
                const auto to = p.link(places.of(printed(link["link"])));
                p.words(fibreAt, printed(link["fibre"]), deep, 11);
            } else {
                p.words(fibreAt, printed(link["fibre"]), ink, 11);
            }
        }
        if (i == 0) cell(colourAt, printed(link["colour"]), 28, soft);
        if (i < lossOf().size()) {
            const auto& r = lossOf()[i];
            cell(nmAt, decimals(r["wavelength_nm"], 0), 0);
            cell(abAt, decimals(r["loss_ab_db"], 2), 0);
            cell(baAt, decimals(r["loss_ba_db"], 2), 0);
            cell(limitAt, decimals(r["limit_db"], 2), 0);
            cell(marginAt, marginWithUncertainty(r), 0);
            cell(lossAt, printed(r["verdict"]), 17, toneOf(printed(r["verdict"])));
        } else {
            cell(lossAt, "not read", 17, soft);
        }
        if (i == 0) {
            const std::string verdict = printed(link["verdict"]);
            cell(verdictAt, verdict, 17, toneOf(verdict));
            const auto& s = link["signature"];
            const bool stands = s.is_object() && s["state"] == "stands";
            cell(signedAt,
                 !s.is_object() ? "no"
                 : stands       ? printed(s["by"])
                                : std::string("overtaken"),
                 22,
                 stands          ? ink
                 : s.is_object() ? wine
                                 : soft);
        }
        p.down(4.8);
    }
}

/// How many fibres carry what, as they were measured.
void applications(Page& p, const json& cable)
{
    struct Count {
        int carry = 0, asked = 0;
        double spare = 1e9;
        std::string limitedBy;
    };
    std::map<std::string, Count> all;
    for (const auto& link : cable["links"])
        for (const auto& a : link["applications"]) {
            Count& count = all[printed(a["name"])];
            ++count.asked;
            if (!a["carries"].get<bool>()) {
                if (a["limited_by"].is_string()) count.limitedBy = printed(a["limited_by"]);
                continue;
            }
            ++count.carry;
            if (a["spare_db"].is_number()) count.spare = std::min(count.spare, a["spare_db"].get<double>());
        }
    if (all.empty()) return;
    p.down(3);
    subHeading(p, "What the measured fibres carry, by their loss (reflections are not judged)", 14);
    const auto tagged = p.tag(Role::Table);
    p.font(8.5);
    double x = 0;
    const auto row = [&](const std::string& name, const Count& n) {
        const bool every = n.carry == n.asked;
        const std::string said = every
                                     ? fmt::format("{} of {}, {} dB to spare", n.carry, n.asked, n.spare < 1e8 ? fmt::format("{:.1f}", n.spare) : "–")
                                 : n.limitedBy.empty() ? fmt::format("{} of {}", n.carry, n.asked)
                                                       : fmt::format("{} of {}, {}", n.carry, n.asked, whyNot(n.limitedBy));
        tableRow(p, Role::Cell, {{x, name, ink, 38}, {x + 39, said, every ? deep : wine, 52}});
    };
    for (const auto& [name, n] : all) {
        p.need(5);
        row(name, n);
        if (x > 0) p.down(4.6);
        x = x > 0 ? 0 : 92;
    }
    if (x > 0) p.down(4.6);
}

/// How many fibres are within the other limits that the job names. They change no verdict of this certificate.
void otherLimits(Page& p, const json& cable)
{
    std::map<std::string, std::map<double, std::map<std::string, int>>> all;  // by set, wavelength, verdict
    for (const auto& link : cable["links"])
        for (const auto& set : link.value("other_limits", json::array()))
            for (const auto& r : set["results"])
                ++all[fmt::format("{}, version {}", printed(set["title"]), printed(set["version"]))][r["wavelength_nm"].get<double>()]
                     [r["limit_db"].is_number() ? printed(r["verdict"]) : std::string("no limit known")];
    if (all.empty()) return;
    p.down(3);
    subHeading(p, "Their loss against other limits (the verdicts above are not theirs)", 14);
    const auto tagged = p.tag(Role::Table);
    p.font(8.5);
    for (const auto& [set, wavelengths] : all)
        for (const auto& [nm, verdicts] : wavelengths) {
            std::vector<std::string> said;
            for (const auto& [verdict, count] : verdicts) said.push_back(fmt::format("{}: {}", verdict, count));
            p.need(5);
            tableRow(p, Role::Cell,
                     {{0, set, ink, 100},
                      {118, fmt::format("{:.0f}", nm)},
                      {122, fmt::format("{}", fmt::join(said, ", ")), verdicts.contains("fail") ? wine : ink, 58}});
            p.down(4.6);
        }
}

}  // namespace

void cablePage(Page& p, const json& cable, const PageChoice& choice, Places& places)
{
    head(p, cable);
    {
        const auto tagged = p.tag(Role::Table);
        p.font(8.5, true);
        tableRow(p, Role::HeadCell,
                 {{fibreAt, "Fibre", soft, 11},
                  {colourAt, "Colour", soft, 28},
                  {nmAt, "nm", soft},
                  {abAt, "A to B", soft},
                  {baAt, "B to A", soft},
                  {limitAt, "Limit", soft},
                  {marginAt, "Margin, dB", soft},
                  {lossAt, "Loss", soft, 17},
                  {verdictAt, "Verdict", soft, 17},
                  {signedAt, "Signed off", soft, 22}});
        p.down(5);
        p.font(9);
        for (const auto& link : cable["links"]) fibreRows(p, link, choice, places);
    }
    applications(p, cable);
    otherLimits(p, cable);
}

}  // namespace clendo::pages
