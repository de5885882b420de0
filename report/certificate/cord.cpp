#include "report/certificate/cord.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <filesystem>
#include <nlohmann/json.hpp>
#include <utility>

#include "files/canonical_json.h"
#include "files/files.h"
#include "record/journal/time_text.h"
#include "report/certificate/parts_of_pages.h"
#include "report/certificate/printed.h"
#include "report/certificate/values.h"

namespace clendo {
namespace {

using nlohmann::json;
using namespace pdf;

class CordPage {
public:
    explicit CordPage(const json& cord)
        : c_(cord),
          p_({fmt::format("Cord {}", printed(cord["cord"])), printed(cord["verdict"]), "", cord["written_at"].get<std::int64_t>()},
             [this](Page& page) { footer(page); })
    {
    }

    Result<std::string> run()
    {
        std::optional<Page::Tagged> document(p_.tag(Role::Document));
        {
            const auto tagged = p_.tag(Role::Title);
            p_.font(18, true);
            p_.words(0, fmt::format("Cord {}", printed(c_["cord"])), ink, 108);
            p_.words(110, printed(c_["verdict"]), toneOf(printed(c_["verdict"])));
        }
        p_.down(8);
        p_.font(9);
        const auto& criteria = c_["criteria"];
        p_.paragraph(fmt::format("End faces: {}, class {}, version {}{}.", printed(criteria["name"]), printed(criteria["class"]),
                                 printed(criteria["version"]), unchecked(criteria)),
                     soft);
        p_.paragraph(cleaner(), soft);
        losses();
        p_.down(2);
        p_.rule();
        p_.down(5);
        for (const auto& look : c_["pictures"]) lookAt(look);
        document.reset();
        return p_.finish();
    }

private:
    void footer(Page& page) const
    {
        const double keep = std::exchange(page.y, Page::height - 2);
        page.font(7.5);
        page.words(0, fmt::format("Cord {} · page {} · written {}", printed(c_["cord"]), page.number(), when(c_["written_at"])), soft);
        page.y = keep;
    }

    static std::string when(const json& seconds) { return timeText(seconds.get<std::int64_t>()); }

    [[nodiscard]] std::string cleaner() const
    {
        const json& check = c_["cleaner"];
        if (check.is_null()) return "The line’s cleaner was not looked through.";
        std::vector<std::string> open;
        for (const auto& item : check["open"]) open.push_back(printed(item));
        return fmt::format("The line’s cleaner was looked through {}: {}.", when(check["checked_at"]),
                           open.empty() ? std::string("all was in order") : fmt::format("open was {}", fmt::join(open, ", ")));
    }

    void losses()
    {
        const json& measured = c_.contains("loss") ? c_["loss"] : json::array();
        if (measured.empty()) return p_.paragraph("Its loss was not measured.", soft);
        p_.down(2);
        p_.words(0, "Loss");
        p_.down(4.6);
        const auto tagged = p_.tag(Role::Table);
        for (const auto& row : measured) {
            const std::string which = row["end"].is_string() ? fmt::format("connector {}", printed(row["end"])) : std::string("both connectors");
            const std::string says = row["loss_db"].is_null()
                                         ? std::string("no loss is told, for want of a good reference")
                                         : fmt::format("{} dB; limit {} dB, uncertain by {} dB; reference {}", decimals(row["loss_db"], 2),
                                                       decimals(row["limit_db"], 2), decimals(row["uncertainty_db"], 2), printed(row["reference"]));
            const std::string verdict = printed(row["verdict"]);
            pages::tableRow(p_, Role::Cell,
                            {{0, verdict, toneOf(verdict), 20},
                             {22, fmt::format("{}, {:.0f} nm: {}", which, row["wavelength_nm"].get<double>(), says), ink, Page::width - 22}});
            p_.down(4.6);
        }
    }

    void lookAt(const json& look)
    {
        constexpr double side = 42;
        p_.need(side + 6);
        const std::string file = printed(look["image"]), outcome = printed(look["outcome"]);
        const auto bytes = readFile(file);
        const std::string end = look["end"].is_string() ? fmt::format("End {}: ", printed(look["end"])) : "";
        p_.picture(bytes ? printedPicture(*bytes, file) : Picture{}, 0, p_.y, side, side, fmt::format("End face. {}{}", end, outcome));
        const double top = p_.y, x = side + 5;
        p_.down(4);
        p_.font(10, true);
        p_.words(x, end + outcome, toneOf(outcome));
        p_.down(5);
        p_.font(8.5);
        p_.words(x, std::filesystem::path(file).filename().string(), soft);
        p_.down(4.5);
        if (look.contains("error")) p_.words(x, printed(look["error"]["message"]), wine);
        for (const auto& face : look["faces"]) {
            for (const auto& reason : face["reasons"]) {
                p_.words(x, printed(reason), ochre);
                p_.down(4.2);
            }
            for (const auto& r : face["rules"]) {
                if (r["met"].get<bool>() || p_.y > top + side) continue;
                p_.words(x,
                         fmt::format("zone {}, {}: {} counted, {} allowed", printed(r["zone"]), printed(r["kind"]), printed(r["counted"]),
                                     printed(r["allowed"])),
                         wine);
                p_.down(4.2);
            }
        }
        p_.y = top + side + 5;
    }

    const json& c_;
    Page p_;
};

}  // namespace

Result<PlacedFiles> writeCord(const json& cord, const std::string& csv, const QString& folder, const seal::SigningKey* key)
{
    const Placed placed{
        cord["cord"].get<std::string>(), [&](FolderWriter& out, const std::string& stem, const QString&) {
            return CordPage(cord).run().and_then([&](const std::string& pdf) -> Result<seal::Statement> {
                for (const auto& [ending, bytes] : {std::pair<const char*, std::string>{".pdf", pdf}, {".json", canonicalJson(cord)}, {".csv", csv}})
                    if (auto ok = out.add(stem + ending, bytes); !ok) return tl::unexpected(ok.error());
                return seal::Statement{cord["cord"].get<std::string>(), "", cord["written_at"].get<std::int64_t>(), stem + ".json", {}};
            });
        }};
    return placeCertificates({placed}, folder, key);
}

}  // namespace clendo
