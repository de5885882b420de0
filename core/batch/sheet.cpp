#include "batch/sheet.h"

#include <fmt/format.h>

#include <algorithm>
#include <cstdlib>
#include <filesystem>
#include <map>
#include <nlohmann/json.hpp>
#include <tuple>

#include "face/face_json.h"
#include "files/csv.h"

namespace clendo {
namespace {

using nlohmann::json;

std::string whyFace(const JudgedFace& face, const FaceClass& faceClass)
{
    if (!face.judged.verdict) return face.judged.reasons.empty() ? std::string() : face.judged.reasons.front();
    const RuleOutcome* broken = face.judged.verdict->broken();
    if (!broken) return face.judged.verdict->nearLimit ? "near a limit" : "";
    for (const auto& f : face.measured.findings) {
        if (broken->findings.empty() || f.id != broken->findings.front()) continue;
        const auto zone = zoneOf(f, faceClass);
        return fmt::format("{} of {:.1f} µm in zone {}{}", name(f.appearance), judgedSize(f).value(), zone ? name(*zone) : "?",
                           broken->counted > 1 ? fmt::format(", and {} more", broken->counted - 1) : "");
    }
    return "a rule is broken";
}

}  // namespace

std::string_view name(SheetOutcome outcome)
{
    switch (outcome) {
        case SheetOutcome::NotFit: return "fail";
        case SheetOutcome::Retake: return "take again";
        case SheetOutcome::Broken: return "cannot be read";
        case SheetOutcome::NearLimit: return "pass, near a limit";
        case SheetOutcome::Fit: return "pass";
    }
    return "cannot be read";
}

SheetOutcome outcomeOf(const SheetRow& row)
{
    if (row.error || row.faces.empty()) return SheetOutcome::Broken;
    auto worst = SheetOutcome::Fit;
    for (const auto& face : row.faces) {
        const auto one = !face.judged.verdict             ? SheetOutcome::Retake
                         : !face.judged.verdict->fit      ? SheetOutcome::NotFit
                         : face.judged.verdict->nearLimit ? SheetOutcome::NearLimit
                                                          : SheetOutcome::Fit;
        worst = std::min(worst, one);
    }
    return worst;
}

std::string whyOf(const SheetRow& row, const FaceClass& faceClass)
{
    if (row.error) return row.error->message;
    const auto outcome = outcomeOf(row);
    for (const auto& face : row.faces) {
        SheetRow alone{row.file, row.cord, {}, {face}};
        if (outcomeOf(alone) != outcome) continue;
        const std::string why = whyFace(face, faceClass);
        return row.faces.size() > 1 && !why.empty() ? fmt::format("fibre {}: {}", face.measured.fibre, why) : why;
    }
    return {};
}

bool Severity::worseThan(const Severity& other) const
{
    return outcome != other.outcome ? outcome < other.outcome : std::tie(breaking, largest) > std::tie(other.breaking, other.largest);
}

Severity severityOf(const SheetRow& row)
{
    Severity out{outcomeOf(row), 0, {}};
    for (const auto& face : row.faces) {
        if (!face.judged.verdict) continue;
        const auto ids = face.judged.verdict->breaking();
        out.breaking += ids.size();
        for (const auto& f : face.measured.findings)
            if (ids.contains(f.id)) out.largest = std::max(out.largest, judgedSize(f));
    }
    return out;
}

void sortWorstFirst(std::vector<SheetRow>& rows)
{
    std::vector<std::pair<Severity, std::size_t>> order;
    for (std::size_t i = 0; i < rows.size(); ++i) order.emplace_back(severityOf(rows[i]), i);
    std::stable_sort(order.begin(), order.end(), [](const auto& a, const auto& b) { return a.first.worseThan(b.first); });
    std::vector<SheetRow> sorted;
    for (const auto& [severity, i] : order) sorted.push_back(std::move(rows[i]));
    rows = std::move(sorted);
}

namespace {

/// The cord that a file shows, and the number of the look: "cord-012-try2.png" is the second at "cord-012", "cord-012.png" the first.
std::pair<std::string, unsigned long> cordAndLook(std::string_view file)
{
    std::string stem = std::filesystem::path(file).stem().string();
    const auto at = stem.rfind("-try");
    if (at == std::string::npos || at == 0 || at + 4 == stem.size()) return {stem, 1};
    if (stem.find_first_not_of("0123456789", at + 4) != std::string::npos) return {stem, 1};
    const unsigned long number = std::strtoul(stem.c_str() + at + 4, nullptr, 10);
    stem.resize(at);
    return {stem, number};
}

/// The rows in the order of looks: those of a folder come as they are judged, side by side, or sorted for people. Looks of the same number stay as
/// they are: on a line the order is that of the pictures.
std::vector<const SheetRow*> inOrderOfLooks(std::span<const SheetRow> rows)
{
    std::vector<std::pair<unsigned long, const SheetRow*>> numbered;
    for (const auto& row : rows) numbered.emplace_back(cordAndLook(row.file).second, &row);
    std::stable_sort(numbered.begin(), numbered.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
    std::vector<const SheetRow*> out;
    for (const auto& [number, row] : numbered) out.push_back(row);
    return out;
}

}  // namespace

std::string cordOfFile(std::string_view file) { return cordAndLook(file).first; }

SheetTally tallyOf(std::span<const SheetRow> rows)
{
    SheetTally t;
    struct End {
        bool firstRight = false, fit = false;
    };
    std::map<std::string, std::map<std::string, End>> cords;
    for (const SheetRow* const each : inOrderOfLooks(rows)) {
        const SheetRow& row = *each;
        ++t.pictures;
        const auto outcome = outcomeOf(row);
        const bool fit = isFit(outcome);
        t.fit += fit ? 1 : 0;
        t.notFit += outcome == SheetOutcome::NotFit ? 1 : 0;
        t.retake += outcome == SheetOutcome::Retake ? 1 : 0;
        t.broken += outcome == SheetOutcome::Broken ? 1 : 0;
        if (isEvidence(outcome)) cords[row.cord].try_emplace(row.end, End{fit, fit}).first->second.fit = fit;
    }
    t.cords = static_cast<int>(cords.size());
    for (const auto& [label, ends] : cords) {
        t.cordsFit += std::all_of(ends.begin(), ends.end(), [](const auto& e) { return e.second.fit; }) ? 1 : 0;
        t.firstTimeRight += std::all_of(ends.begin(), ends.end(), [](const auto& e) { return e.second.firstRight; }) ? 1 : 0;
    }
    return t;
}

std::string sheetCsv(std::span<const SheetRow> rows, const FaceClass& faceClass)
{
    std::string out = "file,cord,end,fibre,outcome,why,findings,largest_um,um_per_px,focus,class\r\n";
    for (const auto& row : rows) {
        if (row.error || row.faces.empty()) {
            out += fmt::format("{},{},{},,{},{},,,,,{}\r\n", csvField(row.file), csvField(row.cord), csvField(row.end), name(outcomeOf(row)),
                               csvField(whyOf(row, faceClass)), csvField(faceClass.name));
            continue;
        }
        for (const auto& face : row.faces) {
            int inZones = 0;
            Micrometre largest;
            for (const auto& f : face.measured.findings)
                if (zoneOf(f, faceClass)) ++inZones, largest = std::max(largest, judgedSize(f));
            const auto& m = face.measured;
            const bool located = m.claddingDiameter > Pixel(0);
            out += fmt::format("{},{},{},{},{},{},{},{:.1f},{},{},{}\r\n", csvField(row.file), csvField(row.cord), csvField(row.end), m.fibre,
                               name(outcomeOf({row.file, row.cord, {}, {face}})), csvField(whyFace(face, faceClass)), inZones, largest.value(),
                               located ? fmt::format("{:.4f}", m.scale.micrometresPerPixel()) : "", located ? fmt::format("{:.2f}", m.focus) : "",
                               csvField(faceClass.name));
        }
    }
    return out;
}

json sheetJson(std::span<const SheetRow> rows, const FaceClass& faceClass, const Criteria& criteria)
{
    const SheetTally t = tallyOf(rows);
    json pictures = json::array();
    for (const auto& row : rows) {
        json one{{"image", row.file},
                 {"cord", row.cord},
                 {"end", row.end.empty() ? json(nullptr) : json(row.end)},
                 {"outcome", name(outcomeOf(row))},
                 {"faces", json::array()}};
        if (row.error) one["error"] = {{"code", codeName(row.error->code)}, {"message", row.error->message}};
        for (const auto& face : row.faces) one["faces"].push_back(toJson(face.measured, face.judged, faceClass, criteria));
        pictures.push_back(std::move(one));
    }
    return {{"format", "clendo-sheet"},
            {"format_version", 1},
            {"criteria",
             {{"name", criteria.name},
              {"version", criteria.version},
              {"class", faceClass.name},
              {"sha256", criteria.hash},
              {"checked", criteria.checked}}},
            {"tally",
             {{"pictures", t.pictures},
              {"fit", t.fit},
              {"not_fit", t.notFit},
              {"retake", t.retake},
              {"not_read", t.broken},
              {"cords", t.cords},
              {"cords_fit", t.cordsFit},
              {"first_time_right", t.firstTimeRight}}},
            {"pictures", std::move(pictures)}};
}

}  // namespace clendo
