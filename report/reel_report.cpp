#include "report/reel_report.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <nlohmann/json.hpp>
#include <optional>
#include <utility>

#include "files/canonical_json.h"
#include "record/journal/time_text.h"
#include "reel/delivery_text.h"
#include "reel/reel_json.h"
#include "report/certificate/parts_of_pages.h"
#include "report/certificate/printed.h"
#include "report/certificate/statement.h"

namespace clendo {
namespace {

using nlohmann::json;
using namespace pdf;

/// What the report was written of.
struct Reported {
    const std::string& name;
    const std::string& job;
    ReelStanding standing;
    reel::Delivery delivery;
    std::vector<const Filed<ReelTraced>*> counting;
};

class ReelPage {
public:
    ReelPage(const Reported& r, const EvidenceSource& evidence, const seal::SigningKey* key, std::int64_t now)
        : r_(r),
          report_(r.standing.report),
          evidence_(evidence),
          key_(key),
          p_({fmt::format("Reel {}", r.name), r.job, key ? key->holder() : "", now}, [this, now](Page& page) { footer(page, now); })
    {
    }

    Result<std::string> run()
    {
        std::optional<Page::Tagged> document(p_.tag(Role::Document));
        head();
        length();
        fibres();
        sentences();
        pictures();
        p_.down(2);
        pages::keyWords(p_, key_);
        document.reset();
        return p_.finish();
    }

private:
    void footer(Page& page, std::int64_t now) const
    {
        const double keep = std::exchange(page.y, Page::height - 2);
        page.font(7);
        page.words(0, fmt::format("{} · reel {} · page {} · written {}", r_.job, r_.name, page.number(), timeText(now)), soft);
        page.y = keep;
    }

    void head()
    {
        const auto& filed = *r_.standing.filed;
        {
            const auto tagged = p_.tag(Role::Title);
            p_.font(18, true);
            p_.words(0, fmt::format("Reel {}", r_.name), ink, 90);
            p_.words(92,
                     r_.standing.decided() ? std::string(reel::decided(r_.standing.verdict))
                                           : fmt::format("proposed: {}", reel::words(r_.standing.verdict)),
                     toneOf(reel::name(r_.standing.verdict)), 88);
        }
        p_.down(8);
        p_.font(9.5);
        if (filed.decided) {
            const ReelDecided& d = filed.decided->what;
            std::string words = fmt::format("Decided by {}, {}: {}", filed.decidedBy, timeText(filed.decided->at), reel::decided(d.verdict));
            if (d.verdict != d.proposed) words += fmt::format(", where “{}” was proposed", reel::words(d.proposed));
            if (!d.note.empty()) words += ": " + d.note;
            p_.paragraph(words + ".");
            if (r_.standing.decisionOvertaken)
                p_.paragraph("It was shot again since it was decided: what stands above is what is proposed now.", ochre);
        } else {
            p_.paragraph("Nobody decided yet: what stands above is what is proposed.", ochre);
        }
        const auto& d = r_.delivery;
        std::string ordered = fmt::format("Ordered: {} fibres {}", d.fibres, d.type);
        if (d.ordered) ordered += fmt::format(", {:.0f} m", d.ordered->value());
        if (!d.allowed.empty()) ordered += fmt::format(", at most {} nm (dB/km)", reel::textOf(d.allowed));
        if (!d.jacket.empty()) ordered += fmt::format(", {} jacket", d.jacket);
        if (!d.environment.empty()) ordered += fmt::format(", to lie {}s", d.environment);
        p_.paragraph(ordered + (d.date.empty() ? "." : fmt::format("; came {}.", d.date)), soft);
        p_.down(1);
    }

    void length()
    {
        const auto& l = report_.length;
        pages::subHeading(p_, "Length", 25);
        const auto table = p_.tag(Role::Table);
        p_.font(8, true);
        pages::tableRow(p_, Role::HeadCell, {{0, "How it is known", soft, 60}, {95, "m", soft}, {115, "±", soft}, {120, "From", soft, 60}});
        p_.down(4.6);
        p_.font(9);
        const auto row = [&](const char* what, std::optional<Metre> m, std::optional<Metre> half, const std::string& from, bool counts = false) {
            const auto tagged = p_.tag(Role::Row);
            p_.font(9, counts);
            pages::tableCell(p_, Role::Cell, {0, what, ink, 60});
            pages::tableCell(p_, Role::Cell, {95, m ? fmt::format("{:.1f}", m->value()) : "not known"});
            pages::tableCell(p_, Role::Cell, {115, half ? fmt::format("{:.1f}", half->value()) : "–", soft});
            pages::tableCell(p_, Role::Cell, {120, from, soft, 60});
            p_.down(4.8);
        };
        row("ordered", l.ordered, {}, "");
        const auto& marks = r_.delivery.marks;
        row("by the marks on the sheath", l.marks ? std::optional(l.marks->length) : std::nullopt,
            l.marks ? std::optional(2 * l.marks->uncertainty) : std::nullopt,
            marks ? fmt::format("{:.0f} and {:.0f} {}{}", marks->outer, marks->inner, marks->unit == reel::MarkUnit::Feet ? "ft" : "m",
                                l.marks && l.marks->rolledOver ? ", rolled over" : "")
                  : "not read");
        row("by light", l.optical ? std::optional(l.optical->length) : std::nullopt,
            l.optical ? std::optional(2 * l.optical->uncertainty) : std::nullopt,
            l.fibre ? fmt::format("{:.1f} m of fibre, {:.2f} % excess", l.fibre->value(), 100 * r_.delivery.excess) : "not shot");
        row("counts", l.best ? std::optional(l.best->length) : std::nullopt, l.best ? std::optional(2 * l.best->uncertainty) : std::nullopt,
            "twice the standard uncertainty", true);
        p_.font(9);
        p_.down(1);
    }

    void fibres()
    {
        pages::subHeading(p_, "Fibres", 25);
        p_.font(9);
        const auto& filed = *r_.standing.filed;
        std::string how = fmt::format("Tested: {} of {}", report_.tested.size(), r_.delivery.fibres);
        if (filed.sampled)
            how += fmt::format("; a sample of {}, drawn with seed {} (level {}, AQL {}): {} bad reject", filed.sampled->what.sample.plan.size,
                               filed.sampled->what.seed, filed.sampled->what.level, filed.sampled->what.aql, filed.sampled->what.sample.plan.reject);
        if (filed.draws > 1) how += fmt::format("; that was draw No. {}", filed.draws);
        p_.paragraph(how + fmt::format(". Bad: {}. Joints: {}.",
                                       report_.bad.empty() ? "none of these" : fmt::format("{}", fmt::join(report_.bad, ", ")),
                                       reel::name(report_.joint)));
        if (!report_.kind.empty()) p_.paragraph(fmt::format("The fibre looks like {}.", report_.kind), soft);
        if (report_.attenuation.empty()) return;
        const auto table = p_.tag(Role::Table);
        p_.font(8, true);
        pages::tableRow(p_, Role::HeadCell, {{0, "Fibre", soft, 20}, {45, "nm", soft}, {75, "dB/km", soft}, {105, "ordered", soft}});
        p_.down(4.6);
        // the worst first, where there is no room for all
        auto rows = report_.attenuation;
        constexpr std::size_t most = 24;
        const bool all = rows.size() <= most;
        if (!all) {
            std::stable_sort(rows.begin(), rows.end(), [](const auto& a, const auto& b) {
                const auto over = [](const auto& x) { return x.allowed ? x.measured - *x.allowed : DecibelPerKilometre(-1e9); };
                return over(a) > over(b);
            });
            rows.resize(most);
        }
        p_.font(8.5);
        for (const auto& a : rows) {
            const auto tagged = p_.tag(Role::Row);
            const Colour tone = a.ok() ? ink : wine;
            pages::tableCell(p_, Role::Cell, {0, std::to_string(a.fibre), tone, 20});
            pages::tableCell(p_, Role::Cell, {45, fmt::format("{:.0f}", a.wavelength.value()), tone});
            pages::tableCell(p_, Role::Cell, {75, fmt::format("{:.3f}", a.measured.value()), tone});
            pages::tableCell(p_, Role::Cell, {105, a.allowed ? fmt::format("{:.3f}", a.allowed->value()) : "not said", soft});
            p_.down(4.1);
        }
        if (!all)
            p_.paragraph(fmt::format("The {} of {} with the least to spare; all of them are in the JSON file.", most, report_.attenuation.size()),
                         soft);
    }

    void sentences()
    {
        const auto list = [&](const char* heading, const std::vector<std::string>& words, Colour colour) {
            if (words.empty()) return;
            p_.down(1.5);
            pages::subHeading(p_, heading, 12);
            p_.font(9);
            for (const auto& sentence : words) p_.paragraph("· " + sentence, colour);
            p_.down(1);
        };
        list("Why", report_.why, ink);
        std::vector<std::string> unknown;
        for (const auto& w : report_.warnings) unknown.push_back(w.message);
        if (!r_.standing.trouble.empty()) unknown.push_back(r_.standing.trouble);
        if (!r_.standing.open.empty())
            unknown.push_back(
                fmt::format("{} of {} fibres that were asked for were not tested.", r_.standing.open.size(), r_.standing.wanted.size()));
        list("What is not known, or is to be seen to", unknown, ochre);
    }

    void pictures()
    {
        constexpr double side = 55, gap = 6;
        const auto& all = r_.standing.filed->pictures;
        if (all.empty()) return;
        p_.need(side + 12);
        const double top = p_.y;
        const std::size_t shown = std::min<std::size_t>(3, all.size());
        for (std::size_t i = 0; i < shown; ++i) {
            const auto& picture = all[i].what;
            const auto bytes = evidence_(picture.picture);
            const double x = double(i) * (side + gap);
            const std::string says = picture.says.empty() ? picture.pictureName : picture.says;
            p_.picture(bytes ? printedPicture(*bytes, picture.picture, 640) : Picture{}, x, top, side, side, says);
            p_.y = top + side + 4;
            p_.font(8);
            p_.words(x, says, soft, side);
        }
        p_.y = top + side + 7;
    }

    const Reported& r_;
    const reel::ReelReport& report_;
    const EvidenceSource& evidence_;
    const seal::SigningKey* key_;
    Page p_;
};

json recordOf(const Reported& r)
{
    const ReelState& filed = *r.standing.filed;
    json out = reel::toJson(r.delivery, filed.sampled ? std::optional(filed.sampled->what.sample) : std::nullopt, r.standing.report);
    out["format"] = "clendo-reel-report";
    out["format_version"] = 1;
    out["job"] = r.job;
    out["delivery"] = reel::toJson(r.delivery);
    out["decided"] = nullptr;
    if (filed.decided) {
        out["decided"] = filed.decided->what.body();
        out["decided"]["by"] = filed.decidedBy;
        out["decided"]["at"] = filed.decided->at;
        out["decided"]["overtaken"] = r.standing.decisionOvertaken;
    }
    out["fibres_not_tested"] = r.standing.open;
    out["draws"] = filed.draws;
    out["traces"] = json::array();
    for (const auto* shot : r.counting)
        out["traces"].push_back({{"fibre", shot->what.fibre},
                                 {"wavelength_nm", shot->what.wavelength.value()},
                                 {"launch_m", shot->what.launch.value()},
                                 {"sha256", shot->what.trace},
                                 {"name", shot->what.traceName},
                                 {"filed_at", shot->at}});
    out["pictures"] = json::array();
    for (const auto& picture : filed.pictures)
        out["pictures"].push_back({{"sha256", picture.what.picture}, {"name", picture.what.pictureName}, {"says", picture.what.says}});
    return out;
}

}  // namespace

Result<PlacedFiles> writeReelReport(const JobState& state, const std::string& name, const EvidenceSource& evidence, const QString& folder,
                                    const seal::SigningKey* key, std::int64_t now)
{
    Reported r{name, state.plan->job.name, standingOf(state, name), {}, {}};
    if (!r.standing.filed) return failure(Error::Code::NotThere, fmt::format("There is no reel {} in this job.", name));
    if (r.standing.filed->delivered) r.delivery = r.standing.filed->delivered->what.delivery;
    r.delivery.reel = name;
    r.counting = countingShots(*r.standing.filed);
    const Placed placed{
        "reel " + name, [&](FolderWriter& out, const std::string& stem, const QString&) -> Result<seal::Statement> {
            const auto add = [&](const std::string& path, const std::string& sha) -> Result<void> {
                const auto bytes = evidence(sha);
                return bytes ? out.add(path, *bytes) : tl::unexpected(bytes.error());
            };
            for (const auto* shot : r.counting)
                if (auto ok = add(fmt::format("traces/fibre-{:03}-{:.0f}.sor", shot->what.fibre, shot->what.wavelength.value()), shot->what.trace);
                    !ok)
                    return tl::unexpected(ok.error());
            for (std::size_t i = 0; i < r.standing.filed->pictures.size(); ++i)
                if (auto ok = add(fmt::format("pictures/{:02}", i + 1), r.standing.filed->pictures[i].what.picture); !ok)
                    return tl::unexpected(ok.error());
            const auto pdf = ReelPage(r, evidence, key, now).run();
            if (!pdf) return tl::unexpected(pdf.error());
            if (auto ok = out.add(stem + ".json", canonicalJson(recordOf(r))); !ok) return tl::unexpected(ok.error());
            if (auto ok = out.add(stem + ".pdf", *pdf); !ok) return tl::unexpected(ok.error());
            return statementOf(state, "reel " + name, stem + ".json", now);
        }};
    return placeCertificates({placed}, folder, key);
}

}  // namespace clendo
