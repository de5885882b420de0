#include <fmt/format.h>
#include <fmt/ranges.h>

#include <nlohmann/json.hpp>

#include "report/certificate/parts_of_pages.h"
#include "report/certificate/trace_plot.h"
#include "report/certificate/values.h"

namespace clendo::pages {
namespace {

using nlohmann::json;
using namespace pdf;

std::string tierWords(const json& link)
{
    if (link["tier"] == 2) return "Tier 2: loss, length, right fibre and traces were tested.";
    if (link["tier"] == 1) return "Tier 1: loss, length and right fibre were tested.";
    return "No tier is claimed: loss, length or right fibre was not tested.";
}

class FibrePage {
public:
    FibrePage(Page& page, const json& link, const PrintedLink& printed) : p_(page), l_(link), printed_(printed) {}

    void write()
    {
        head();
        parts();
        openMatters();
        readings();
        for (std::size_t i = 0; i + 1 < l_["faces"].size(); i += 2) facePair(l_["faces"][i], l_["faces"][i + 1]);
        contacts();
        for (const auto& line : l_["lines"]) drawLine(p_, line, printed_);
    }

private:
    void head()
    {
        const std::string verdict = printed(l_["verdict"]);
        {
            const auto tagged = p_.tag(Role::Heading);
            p_.font(14, true);
            p_.words(0, fmt::format("Fibre {}, {}", printed(l_["fibre"]), printed(l_["colour"])), ink, 120);
            p_.words(124, verdict, toneOf(verdict));
        }
        p_.down(6);
        p_.font(8.5);
        signOffWords(p_, l_["signature"]);
        const std::string because = l_["verdict_because"].is_string() ? fmt::format(", because of: {}", printed(l_["verdict_because"])) : "";
        p_.paragraph(fmt::format("{}: {}{}. {}", printed(l_["link"]), verdict, because, tierWords(l_)));
        p_.down(1);
    }

    /// What is there of each kind, part by part, with its verdict where that is no pass.
    void parts()
    {
        constexpr double aboutAt = 22, saysAt = 76;
        const auto table = p_.tag(Role::Table);
        std::string before;
        for (const auto& part : l_["parts"]) {
            if (!part["says"].is_string()) continue;
            const std::string kind = printed(part["kind"]), verdict = printed(part["verdict"]);
            const bool good = verdict == "pass";
            const std::string says = good ? printed(part["says"]) : fmt::format("{}: {}", verdict, printed(part["says"]));
            p_.font(8);
            p_.need(p_.heightOf(says, Page::width - saysAt) + 1);
            const auto row = p_.tag(Role::Row);
            {
                const auto cell = p_.tag(Role::Cell);
                p_.font(8, true);
                if (kind != before)
                    p_.words(0, static_cast<char>(std::toupper(static_cast<unsigned char>(kind[0]))) + kind.substr(1), soft, aboutAt - 1);
                p_.font(8);
            }
            before = kind;
            {
                const auto cell = p_.tag(Role::Cell);
                p_.words(aboutAt, printed(part["about"]), ink, saysAt - aboutAt - 2);
            }
            const auto cell = p_.tag(Role::Cell);
            p_.y = p_.column(saysAt, says, good ? ink : toneOf(verdict));
        }
        p_.down(1.5);
    }

    void openMatters()
    {
        p_.font(8.5);
        std::vector<std::string> missing;
        for (const auto& m : l_["not_tested"]) missing.push_back(printed(m));
        p_.paragraph(
            missing.empty() ? std::string("Of these parts nothing was left untested.") : fmt::format("Not tested: {}.", fmt::join(missing, "; ")),
            missing.empty() ? soft : wine);
        for (const auto& e : l_["exceptions"]) p_.paragraph(fmt::format("Exception: {}.", printed(e)), ochre);
        for (const auto& face : l_["faces"])
            for (const auto& look : face["looks"])
                for (const auto& o : look["overruled"])
                    p_.paragraph(fmt::format("Overruled by a person, {}, {}: finding {} is taken as {}, because: {}.", printed(face["where"]),
                                             printed(look["at"]), printed(o["finding"]), printed(o["as"]), printed(o["reason"])),
                                 ochre);
    }

    void readings()
    {
        if (!l_["loss"].is_object()) return;
        p_.font(8);
        for (const auto& r : l_["loss"]["results"])
            p_.paragraph(fmt::format("{:.0f} nm: limit {}; margin {} dB, uncertain by {} dB.", r["wavelength_nm"].get<double>(),
                                     printed(r["limit_sum"]), margin(r), decimals(r["uncertainty_db"], 2)),
                         soft);
        for (const auto& set : l_.value("other_limits", json::array()))
            for (const auto& r : set["results"])
                p_.paragraph(
                    fmt::format("Against {}, version {}{}: {:.0f} nm, limit {}; margin {} dB: {}.", printed(set["title"]), printed(set["version"]),
                                unchecked(set), r["wavelength_nm"].get<double>(), r["limit_sum"].is_string() ? printed(r["limit_sum"]) : "not known",
                                margin(r), r["limit_db"].is_number() ? printed(r["verdict"]) : std::string("not judged")),
                    soft);
        for (const auto& r : l_["readings"]) {
            const std::string level =
                r["power_dbm"].is_number() ? decimals(r["power_dbm"], 2) + " dBm" : "the meter showed " + decimals(r["shown_db"], 2) + " dB";
            std::vector<std::string> with;
            for (const auto& name : r["reference_with"]) with.push_back(printed(name));
            const std::string reference = !r["reference_entry"].is_string() ? std::string("on no reference")
                                          : r["reference_dbm"].is_number()  ? fmt::format("reference {} dBm", decimals(r["reference_dbm"], 2))
                                                                            : std::string("on a reference to which the meter was set to zero");
            p_.paragraph(fmt::format("{} · {:.0f} nm, source at {}: {}; {}{}", printed(r["at"]), r["wavelength_nm"].get<double>(),
                                     r["direction"] == "ab" ? "A" : "B", level, reference,
                                     with.empty() ? std::string() : fmt::format(" ({})", fmt::join(with, ", "))),
                         soft);
        }
        for (const auto& w : l_["loss"]["warnings"]) p_.paragraph(printed(w["message"]), ochre);
        p_.down(1);
    }

    /// Two faces side by side: the pair that touches.
    void facePair(const json& left, const json& right)
    {
        if (left["looks"].empty() && right["looks"].empty()) return;
        constexpr double side = 42;
        p_.need(side + 26);
        const double top = p_.y + 2;
        double lowest = top;
        for (const auto* face : {&left, &right}) {
            p_.y = top;
            faceColumn(*face, face == &left ? 0 : Page::width / 2 + 1, side);
            lowest = std::max(lowest, p_.y);
        }
        p_.y = lowest + 2;
    }

    void faceColumn(const json& face, double x, double side)
    {
        constexpr double room = Page::width / 2 - 4;
        const auto section = p_.tag(Role::Section);
        const auto& looks = face["looks"];
        {
            const auto tagged = p_.tag(Role::SubHeading);
            p_.font(8.5, true);
            p_.words(x, printed(face["where"]), ink, room - 26);
            p_.font(8.5);
            p_.words(x + room - 24, printed(face["condition"]), toneOf(printed(face["condition"])), 26);
        }
        p_.down(1.8);
        if (looks.empty()) {
            p_.down(3);
            p_.font(8);
            p_.words(x, "not seen", ochre, room);
            p_.down(4);
            return;
        }
        const bool several = looks.size() > 1;
        picture(looks.front(), x, side, several ? "before" : "seen");
        if (several) picture(looks.back(), x + side + 2, side, "after");
        p_.down(side + 4);
        p_.font(7.5);
        lookWords(several ? std::string("before") : std::string("seen"), looks.front(), x, room);
        if (several) {
            const auto n = face["cleanings"].get<int>();
            lookWords(n == 0 ? std::string("later") : fmt::format("after {} cleaning{}", n, n == 1 ? "" : "s"), looks.back(), x, room);
        }
    }

    void picture(const json& look, double x, double side, const char* when)
    {
        const auto it = printed_.pictures.find(look["picture_sha256"].get<std::string>());
        static const Picture none;
        p_.picture(it == printed_.pictures.end() ? none : it->second, x, p_.y, side, side,
                   fmt::format("End face, {}, {}: {}", when, printed(look["at"]), printed(look["verdict"])));
    }

    void lookWords(const std::string& when, const json& look, double x, double room)
    {
        const auto tagged = p_.tag(Role::Text);
        const std::string verdict = printed(look["verdict"]);
        p_.words(x, fmt::format("{}, {}: {}{}", when, printed(look["at"]), verdict, look["near_limit"].get<bool>() ? ", near the limit" : ""),
                 toneOf(verdict), room);
        p_.down(3.9);
        if (const json frames = look.value("frames_combined", json()); frames.is_number()) {
            p_.words(x + 2, fmt::format("picture combined from {} frames", printed(frames)), soft, room - 2);
            p_.down(3.9);
        }
        if (const double seen = look.value("ferrule_seen", json()).is_number() ? look["ferrule_seen"].get<double>() : 1; seen < 0.995) {
            p_.words(x + 2, fmt::format("{:.0f} % of the ferrule seen", 100 * seen), soft, room - 2);
            p_.down(3.9);
        }
        for (const auto& r : look["rules"]) {
            if (r["met"].get<bool>()) continue;
            p_.words(x + 2,
                     fmt::format("zone {}, {}: {} counted, {} allowed", printed(r["zone"]), printed(r["kind"]), printed(r["counted"]),
                                 printed(r["allowed"])),
                     wine, room - 2);
            p_.down(3.9);
        }
    }

    void contacts()
    {
        std::vector<std::string> said;
        for (const auto& face : l_["faces"]) {
            std::vector<std::string> touched;
            for (const auto& c : face["contacts"]) touched.push_back(fmt::format("{} ({})", printed(c["where"]), printed(c["at"])));
            if (!touched.empty()) said.push_back(fmt::format("{}: {}", printed(face["where"]), fmt::join(touched, ", ")));
        }
        if (said.empty()) return;
        subHeading(p_, "What touched these faces, as it was filed", 12);
        p_.font(7.5);
        for (const auto& one : said) p_.paragraph(one, soft);
        p_.down(2);
    }

    Page& p_;
    const json& l_;
    const PrintedLink& printed_;
};

}  // namespace

void fibrePage(Page& page, const json& link, const PrintedLink& printed) { FibrePage(page, link, printed).write(); }

}  // namespace clendo::pages
