#include "report/certificate/between_looks.h"

#include <fmt/format.h>

#include <nlohmann/json.hpp>
#include <optional>
#include <utility>

#include "files/canonical_json.h"
#include "record/journal/time_text.h"
#include "report/certificate/parts_of_pages.h"
#include "report/certificate/printed.h"
#include "report/certificate/statement.h"

namespace clendo {
namespace {

using namespace pdf;

class BetweenPage {
public:
    BetweenPage(const BetweenLooks& between, const std::string& job, const EvidenceSource& evidence, const seal::SigningKey* key, std::int64_t now)
        : b_(between),
          job_(job),
          evidence_(evidence),
          key_(key),
          p_({fmt::format("Who could it have been: {}", between.where), job, key ? key->holder() : "", now}, [this](Page& page) { footer(page); })
    {
    }

    Result<std::string> run()
    {
        std::optional<Page::Tagged> document(p_.tag(Role::Document));
        {
            const auto tagged = p_.tag(Role::Title);
            p_.font(16, true);
            p_.words(0, fmt::format("Who could it have been: {}", b_.where));
        }
        p_.down(7);
        p_.font(10);
        p_.paragraph(b_.sentence);
        p_.down(3);
        pictures();
        deeds();
        p_.down(3);
        pages::keyWords(p_, key_);
        document.reset();
        return p_.finish();
    }

private:
    void footer(Page& page) const
    {
        const double keep = std::exchange(page.y, Page::height - 2);
        page.font(7);
        page.words(0, fmt::format("{} · {} · page {}", job_, b_.face.text(), page.number()), soft);
        page.y = keep;
    }

    void pictures()
    {
        constexpr double side = 62, gap = 8;
        const double top = p_.y;
        double lowest = top + side;
        const auto one = [&](double x, const std::string& sha, const std::string& title, const BetweenLooks::Deed* deed, Colour tone) {
            const auto bytes = sha.empty() ? Result<std::string>(failure(Error::Code::NotThere, "")) : evidence_(sha);
            if (deed)
                p_.picture(bytes ? printedPicture(*bytes, sha, 640) : Picture{}, x, top, side, side, title);
            else
                p_.box(x, top, side, side, faint);
            p_.y = top + side + 4.5;
            p_.font(9, true);
            p_.words(x, title, tone, side);
            p_.down(4.5);
            p_.font(8.5);
            if (deed) p_.y = p_.column(x, fmt::format("{} by {}", timeText(deed->at), deed->who), soft, side);
            if (!deed) p_.y = p_.column(x, "nobody saw it fit in this job", soft, side);
            lowest = std::max(lowest, p_.y);
        };
        one(0, b_.fitPicture, "last seen fit", b_.fit ? &*b_.fit : nullptr, b_.fit ? deep : ochre);
        one(side + gap, b_.badPicture, "found bad", &b_.bad, wine);
        p_.font(8.5);
        for (const auto& rule : b_.broken) p_.y = p_.column(side + gap, rule, wine, side);
        p_.y = std::max(lowest, p_.y) + 3;
    }

    void deeds()
    {
        pages::subHeading(p_, b_.fit ? "What was filed of it between" : "What was filed of it before", 12);
        p_.font(8.5);
        if (b_.between.empty()) return p_.paragraph("Nothing.", soft);
        const auto table = p_.tag(Role::Table);
        p_.font(8, true);
        pages::tableRow(
            p_, Role::HeadCell,
            {{0, "When", soft, 36}, {37, "Who", soft, 30}, {69, "What", soft, 60}, {131, "What touched it, and what was known of that", soft, 49}});
        p_.down(4.6);
        p_.font(8);
        for (const auto& d : b_.between) {
            const std::string met = d.met.empty() ? std::string("–") : fmt::format("{}: {}", d.met, d.metBefore);
            p_.need(std::max(p_.heightOf(d.says, 60), p_.heightOf(met, 49)));
            const auto row = p_.tag(Role::Row);
            const auto cell = [&](double x, const std::string& text, Colour tone, double room) {
                const auto tagged = p_.tag(Role::Cell);
                return p_.column(x, text, tone, room);
            };
            cell(0, timeText(d.at), soft, 36);
            double next = cell(37, d.who, ink, 30);
            next = std::max(next, cell(69, d.says, ink, 60));
            next = std::max(next, cell(131, met, d.metBefore.starts_with("seen fit") || d.met.empty() ? ink : ochre, 49));
            p_.y = next + 0.8;
        }
    }

    const BetweenLooks& b_;
    const std::string& job_;
    const EvidenceSource& evidence_;
    const seal::SigningKey* key_;
    Page p_;
};

}  // namespace

Result<PlacedFiles> writeBetweenLooks(const BetweenLooks& between, const JobState& state, const EvidenceSource& evidence, const QString& folder,
                                      const seal::SigningKey* key, std::int64_t now)
{
    const std::string job = state.plan->job.name;
    const Placed placed{"who touched " + between.face.text(),
                        [&](FolderWriter& out, const std::string& stem, const QString&) -> Result<seal::Statement> {
                            for (const auto& [path, sha] : {std::pair<const char*, std::string>{"pictures/last-seen-fit.png", between.fitPicture},
                                                            {"pictures/found-bad.png", between.badPicture}}) {
                                const auto bytes = sha.empty() ? Result<std::string>(failure(Error::Code::NotThere, "")) : evidence(sha);
                                if (!bytes) continue;
                                if (auto ok = out.add(path, *bytes); !ok) return tl::unexpected(ok.error());
                            }
                            const auto pdf = BetweenPage(between, job, evidence, key, now).run();
                            if (!pdf) return tl::unexpected(pdf.error());
                            const auto record = toJson(between, state);
                            if (auto ok = out.add(stem + ".json", canonicalJson(record)); !ok) return tl::unexpected(ok.error());
                            if (auto ok = out.add(stem + ".pdf", *pdf); !ok) return tl::unexpected(ok.error());
                            return statementOf(state, between.face.text(), stem + ".json", now);
                        }};
    return placeCertificates({placed}, folder, key);
}

}  // namespace clendo
