#include "report/certificate/pages.h"

#include <fmt/format.h>

#include <algorithm>
#include <nlohmann/json.hpp>
#include <optional>
#include <utility>

#include "report/certificate/parts_of_pages.h"
#include "report/certificate/values.h"

namespace clendo {
namespace {

using nlohmann::json;
using namespace pdf;

/// A fibre of which nothing was seen or measured has no page among others.
bool untouched(const json& link)
{
    bool seen = link["loss"].is_object() || !link["traces"].empty();
    for (const auto& face : link["faces"]) seen = seen || !face["looks"].empty();
    return !seen;
}

std::string footerOf(const json& c, int number)
{
    return fmt::format("{} · {} · page {} · records until {}, entry {}", printed(c["job"]), printed(c["subject"]), number,
                       printed(c["records_until"]), printed(c["journal"]["last_entry"]).substr(0, 16));
}

}  // namespace

namespace pages {

void keyWords(Page& page, const seal::SigningKey* key)
{
    page.font(8.5);
    page.paragraph(key ? fmt::format("Signed with the key {} of {}: signature.json beside this page.", key->publicKey().spoken(), key->holder())
                       : std::string("No key signed this page: whoever has it can change it, and nobody could tell."),
                   key ? soft : ochre);
}

void subHeading(Page& page, const std::string& words, double room)
{
    page.need(room);
    const auto tagged = page.tag(Role::SubHeading);
    page.font(9.5, true);
    page.words(0, words);
    page.down(5);
}

void tableCell(Page& page, Role role, const TableCell& c)
{
    const auto cell = page.tag(role);
    c.room > 0 ? page.words(c.at, c.text, c.tone, c.room) : page.figures(c.at, c.text, c.tone);
}

void tableRow(Page& page, Role role, const std::vector<TableCell>& cells)
{
    const auto row = page.tag(Role::Row);
    for (const auto& c : cells) tableCell(page, role, c);
}

void signOffWords(Page& page, const json& s)
{
    if (!s.is_object()) return page.paragraph("Not signed off.", soft);
    std::string said = fmt::format("Signed off by {}, {}", printed(s["by"]), printed(s["at"]));
    if (s["record_sha256"].is_string()) said += fmt::format(", for the record {}…", printed(s["record_sha256"]).substr(0, 16));
    if (s["state"] == "stands") return page.paragraph(said + ": that stands.", ink);
    said += ". Overtaken";
    if (s.contains("since") && s["since"].is_string())
        said += fmt::format(" since {} by entry {}", printed(s["since"]), printed(s["by_entry"]).substr(0, 16));
    page.paragraph(said + ": what stands here is not what was signed off.", wine);
    if (s.contains("differs"))
        for (const auto& d : s["differs"])
            page.paragraph(fmt::format("{}: signed “{}”, now “{}”", printed(d["about"]), printed(d["before"]), printed(d["now"])), wine);
}

}  // namespace pages

Result<std::string> certificatePdf(const json& c, const EvidenceSource& evidence, const PageChoice& choice, const std::function<bool()>& goesOn)
{
    Page page({fmt::format("Certificate {}", printed(c["subject"])), printed(c["job"]), choice.signer ? choice.signer->holder : "", choice.writtenAt},
              [&c](Page& p) {
                  const double keep = std::exchange(p.y, Page::height - 2);
                  p.font(7);
                  p.words(0, footerOf(c, p.number()), soft);
                  p.y = keep;
              });
    pages::Places places;
    std::optional<Page::Tagged> document(page.tag(Role::Document));
    const std::string top = places.of("");
    page.destination(top);
    const int summary = page.bookmark("Summary", top);
    pages::summaryPage(page, c, choice, places);
    pages::changesPage(page, c);
    std::vector<const json*> links;
    for (const auto& cable : c["cables"])
        for (const auto& link : cable["links"])
            if (choice.fibrePages && (c["scope"] == "fibre" || !untouched(link))) links.push_back(&link);
    PrintedAhead ahead(links, evidence);
    for (const auto& cable : c["cables"]) {
        int chapter = summary;
        if (c["scope"] != "fibre") {
            const std::string place = places.of(printed(cable["id"]));
            page.newPage();
            page.destination(place);
            chapter = page.bookmark(fmt::format("Cable {}", printed(cable["id"])), place);
            pages::cablePage(page, cable, choice, places);
        }
        for (const auto& link : cable["links"]) {
            if (goesOn && !goesOn()) return failure(Error::Code::ExportFailed, "Stopped: no certificate was written.");
            if (std::find(links.begin(), links.end(), &link) == links.end()) continue;
            const std::string place = places.of(printed(link["link"]));
            page.newPage();
            page.destination(place);
            page.bookmark(fmt::format("Fibre {}, {}", printed(link["fibre"]), printed(link["colour"])), place, chapter);
            pages::fibrePage(page, link, ahead.next());
        }
    }
    document.reset();
    return page.finish();
}

}  // namespace clendo
