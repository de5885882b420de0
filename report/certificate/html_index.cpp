#include "report/certificate/html_index.h"

#include <fmt/format.h>

#include <algorithm>
#include <nlohmann/json.hpp>

#include "files/files.h"
#include "report/certificate/values.h"

namespace clendo {
namespace {

using nlohmann::json;

/// Whatever a person typed, as text of a page.
std::string safe(const std::string& text)
{
    std::string out;
    out.reserve(text.size());
    for (const char c : text) switch (c) {
            case '&': out += "&amp;"; break;
            case '<': out += "&lt;"; break;
            case '>': out += "&gt;"; break;
            case '"': out += "&quot;"; break;
            case '\'': out += "&#39;"; break;
            default: out += c;
        }
    return out;
}
std::string said(const json& value) { return safe(printed(value)); }

/// As a class of the style sheet.
std::string toneOf(const json& verdict)
{
    const std::string v = printed(verdict);
    if (v == "pass" || v == "fit") return "pass";
    if (v == "fail" || v == "damaged" || v == "not valid") return "fail";
    return "work";
}

std::string toned(const json& verdict) { return fmt::format("<span class=\"{}\">{}</span>", toneOf(verdict), said(verdict)); }
std::string number(const json& value, int digits) { return fmt::format("<td class=n>{}</td>", decimals(value, digits)); }

class Index {
public:
    Index(const json& c, std::string stem, const PageChoice& choice) : c_(c), stem_(std::move(stem)), choice_(choice)
    {
        for (const auto& e : c_["evidence"])
            if (e.value("enclosed", false)) files_[e["sha256"].get<std::string>()] = e["file"].get<std::string>();
    }

    std::string body()
    {
        head();
        check();
        lines();
        changes();
        for (const auto& cable : c_["cables"]) this->cable(cable);
        foot();
        return std::move(out_);
    }

private:
    void head()
    {
        out_ += fmt::format("<h1 dir=auto>Certificate {}</h1>\n<p class=soft dir=auto>{} · records until {}</p>\n", said(c_["subject"]),
                            said(c_["job"]), said(c_["records_until"]));
        const auto& verdicts = c_["summary"]["verdicts"];
        const bool bad = verdicts.contains("fail") || verdicts.contains("not valid");
        const bool good = verdicts.size() == 1 && verdicts.contains("pass");
        out_ += fmt::format("<p class=\"big {}\">{}</p>\n", bad ? "fail" : good ? "pass" : "work", said(c_["summary"]["sentence"]));
        out_ += fmt::format(
            "<p><a href=\"{0}.pdf\">The same as PDF</a> · <a href=\"{0}.json\">as JSON, with everything</a> · <a href=\"{0}.csv\">as a "
            "table</a></p>\n",
            stem_);
    }

    void check()
    {
        out_ +=
            "<div class=check><p><label for=folder>Was anything changed? Choose the folder in which this page lies; nothing leaves this "
            "computer.</label></p>\n<p><input id=folder type=file webkitdirectory multiple></p>\n<div id=said aria-live=polite></div>\n";
        out_ += choice_.signer ? fmt::format(
                                     "<p class=soft>Signed with the key <b>{}</b>, which says to be {}’s. A signature that holds shows that nothing "
                                     "was changed since that key signed it; not that what was measured is true, nor whose key it is. This page "
                                     "can be changed like any other file: who wants to be sure checks with “clendo-cli verify”.</p>",
                                     choice_.signer->key.spoken(), safe(choice_.signer->holder))
                               : "<p class=work>No key signed this certificate: whoever has it can change it, and nobody could tell.</p>";
        out_ += "</div>\n<noscript><p class=work>Scripts are off: this page cannot check the files.</p></noscript>\n";
    }

    void lines()
    {
        out_ += "<table>";
        for (const auto& line : c_["summary"]["lines"])
            out_ += fmt::format("<tr><th scope=row>{}</th><td class=soft>{}</td><td>{}</td></tr>\n", said(line["line"]), said(line["what"]),
                                said(line["says"]));
        out_ += "</table>\n";
        const auto& s = c_["summary"];
        out_ += fmt::format("<p>Signed off by a person: {} of {} fibres. Findings overruled by a person: {}. Exceptions: {}.</p>\n",
                            said(s["signed"]), said(s["fibres"]), said(s["overruled"]), said(s["exceptions"]));
        for (const auto& loss : c_["losses"])
            out_ += fmt::format("<p class=fail>This record is not whole. {}, noted {}.</p>\n", said(loss["what"]), said(loss["at"]));
    }

    void changes()
    {
        if (!c_["replaces"].is_object()) return;
        out_ += fmt::format(
            "<h2>What differs from the certificate before</h2><p class=soft>It replaces the record {}…</p>\n<table><tr><th>Fibre<th>What<th>Before"
            "<th>Now<th></tr>\n",
            said(c_["replaces"]["record_sha256"]).substr(0, 16));
        for (const auto& ch : c_["replaces"]["changes"])
            out_ += fmt::format("<tr><td>{}<td>{}<td>{}<td>{}<td>{}</tr>\n", said(ch["link"]), said(ch["about"]), said(ch["before"]),
                                toned(ch["now"]), said(ch["kind"]));
        out_ += "</table>\n";
    }

    void cable(const json& cable)
    {
        out_ += fmt::format("<h2 dir=auto>Cable {}</h2>\n<p class=soft dir=auto>{} to {} · {} × {} · {:.0f} m planned</p>\n", said(cable["id"]),
                            said(cable["from"]), said(cable["to"]), said(cable["fibres"]), said(cable["fibre"]), cable["length_m"].get<double>());
        for (const auto& link : cable["links"]) this->link(link);
    }

    void link(const json& link)
    {
        out_ += fmt::format("<details{}><summary><b>Fibre {}</b> <span class=soft>{}</span> {}{}</summary>\n", c_["scope"] == "fibre" ? " open" : "",
                            said(link["fibre"]), said(link["colour"]), toned(link["verdict"]),
                            link["verdict_because"].is_string() ? fmt::format(", because of: {}", said(link["verdict_because"])) : "");
        signOff(link["signature"]);
        parts(link);
        loss(link);
        faces(link);
        for (const auto& line : link["lines"]) this->line(line);
        traces(link);
        out_ += "</details>\n";
    }

    void signOff(const json& s)
    {
        if (!s.is_object()) return void(out_ += "<p class=soft>Not signed off.</p>\n");
        const bool stands = s["state"] == "stands";
        out_ += fmt::format("<p class={}>Signed off by {}, {}{}</p>\n", stands ? "soft" : "fail", said(s["by"]), said(s["at"]),
                            stands ? ": that stands." : ". Overtaken: what stands here is not what was signed off.");
    }

    void parts(const json& link)
    {
        out_ += "<table>";
        for (const auto& part : link["parts"]) {
            std::string says = part["says"].is_string() ? said(part["says"]) : "";
            for (const auto& lack : part["not_tested"]) says += fmt::format("{}not tested: {}", says.empty() ? "" : "; ", said(lack));
            out_ += fmt::format("<tr><td dir=auto>{}<td>{}<td>{}</tr>\n", said(part["about"]), says, toned(part["verdict"]));
        }
        out_ += "</table>\n";
        for (const auto& e : link["exceptions"]) out_ += fmt::format("<p class=work>Exception: {}</p>\n", said(e));
    }

    void loss(const json& link)
    {
        if (!link["loss"].is_object()) return;
        out_ +=
            "<div class=box><table><tr><th class=n>nm<th class=n>A to B, dB<th class=n>B to A, dB<th class=n>Limit, dB<th class=n>Margin, dB<th "
            "class=n>Uncertain by, dB<th>Loss</tr>\n";
        for (const auto& r : link["loss"]["results"])
            out_ += fmt::format("<tr>{}{}{}{}{}{}<td>{}</tr>\n", number(r["wavelength_nm"], 0), number(r["loss_ab_db"], 2),
                                number(r["loss_ba_db"], 2), number(r["limit_db"], 2), fmt::format("<td class=n>{}</td>", margin(r)),
                                number(r["uncertainty_db"], 2), toned(r["verdict"]));
        out_ += "</table></div>\n";
        for (const auto& w : link["loss"]["warnings"]) out_ += fmt::format("<p class=work>{}</p>\n", said(w["message"]));
    }

    void faces(const json& link)
    {
        out_ += "<div class=faces>";
        for (const auto& face : link["faces"]) {
            const auto& looks = face["looks"];
            for (std::size_t i = 0; i < looks.size(); ++i) {
                if (i > 0 && i + 1 < looks.size()) continue;
                const char* when = looks.size() == 1 ? "seen" : i == 0 ? "before" : "after";
                out_ += fmt::format("<figure>{}<figcaption>{}, {} {}: {}</figcaption></figure>\n", picture(looks[i], said(face["where"])),
                                    said(face["where"]), when, said(looks[i]["at"]), toned(looks[i]["verdict"]));
            }
        }
        out_ += "</div>\n";
    }

    [[nodiscard]] std::string picture(const json& look, const std::string& where) const
    {
        const auto it = files_.find(look["picture_sha256"].get<std::string>());
        if (it == files_.end()) return "<p class=work>The picture is not in this folder.</p>";
        return fmt::format("<a href=\"{0}\"><img loading=lazy src=\"{0}\" alt=\"End face, {1}\"></a>", it->second, where);
    }

    void line(const json& line)
    {
        out_ += fmt::format(
            "<h3>Traces, {} nm</h3><div class=box><table><tr><th>The line<th class=n>Plan, m from A<th class=n>Found, m<th class=n>Loss, dB<th "
            "class=n>Both ways, dB<th class=n>Allowed, dB<th class=n>Reflectance, dB</tr>\n",
            decimals(line["wavelength_nm"], 0));
        for (const auto& row : line["rows"])
            out_ +=
                fmt::format("<tr{}><td dir=auto>{}{}{}{}{}{}{}{}</tr>\n", row["over_limit"].get<bool>() ? " class=fail" : "", said(row["name"]),
                            row["where"].is_string() ? ", " + said(row["where"]) : "", number(row["planned_m"], 0), number(row["found_m"], 0),
                            number(row["loss_db"], 2), number(row["both_ways_db"], 2), number(row["limit_db"], 2), number(row["reflectance_db"], 1));
        out_ += "</table></div>\n";
    }

    void traces(const json& link)
    {
        for (const auto& t : link["traces"]) {
            const auto it = files_.find(t["trace_sha256"].get<std::string>());
            if (it != files_.end())
                out_ += fmt::format("<p><a href=\"{}\">Trace {} nm, {}, {}</a> <span class=soft>(SR-4731)</span></p>\n", it->second,
                                    decimals(t["wavelength_nm"], 0), t["direction"] == "ab" ? "A to B" : "B to A", said(t["at"]));
        }
    }

    void foot()
    {
        out_ += fmt::format("<p class=soft>The journal had {} entries, the last {}. Made with Clendo.</p>\n", said(c_["journal"]["entries"]),
                            said(c_["journal"]["last_entry"]));
    }

    const json& c_;
    std::string stem_;
    const PageChoice& choice_;
    std::map<std::string, std::string> files_;
    std::string out_;
};

}  // namespace

Result<std::string> htmlIndex(const json& certificate, const std::string& stem, const PageChoice& choice)
{
    const auto style = readFile(dataFolder() / "certificate/index.css"), script = readFile(dataFolder() / "certificate/check.js");
    if (!style || !script)
        return failure(Error::Code::ExportFailed, "Clendo’s data folder lacks the parts of the certificate’s page: install it again.");
    return fmt::format(
        "<!doctype html>\n<html lang=en><meta charset=utf-8><meta name=viewport content=\"width=device-width, initial-scale=1\">\n"
        "<meta http-equiv=\"Content-Security-Policy\" content=\"default-src 'none'; img-src 'self' file:; style-src 'unsafe-inline'; script-src "
        "'unsafe-inline'\">\n<title>Certificate {}</title>\n<style>\n{}</style>\n<main>\n{}</main>\n<script>\n{}</script>\n</html>\n",
        said(certificate["subject"]), *style, Index(certificate, stem, choice).body(), *script);
}

}  // namespace clendo
