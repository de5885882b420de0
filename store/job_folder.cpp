#include "store/job_folder.h"

#include <fmt/format.h>

#include <QDir>
#include <QFileInfo>
#include <algorithm>
#include <nlohmann/json.hpp>

#include "files/canonical_json.h"
#include "files/files.h"
#include "files/json_reading.h"
#include "files/random_name.h"
#include "record/journal/chain.h"
#include "record/journal/losses.h"
#include "record/journal/order.h"
#include "store/job_file.h"

namespace clendo {
namespace {

using nlohmann::json;

constexpr std::size_t largestJournal = std::size_t{4} << 30;
constexpr std::string_view journalName = "journal.jsonl", headsName = "heads.json";
constexpr std::string_view readme =
    "A job of Clendo as plain files.\n\n"
    "journal.jsonl: one entry a line, in the order of the journal; the SHA-256 of a line (without its line end) is the entry's name, and "
    "\"previous\" names the\n"
    "entry before it of the same device. heads.json: the last entry of each device. evidence: pictures, traces and signed records, named by their "
    "SHA-256.\n\n"
    "“Job from a folder” in the window takes it in again.\n";

json headsToJson(const ChainHeads& heads)
{
    json out = json::object();
    for (const auto& [device, head] : heads) out[device] = {{"sequence", head.sequence}, {"entry", head.hash.hex()}};
    return {{"format", "clendo-job-folder"}, {"format_version", 1}, {"heads", out}};
}

tl::unexpected<Error> damaged(const std::string& what)
{
    return failure(Error::Code::JobDamaged, fmt::format("{} The folder is not as it was exported: nothing was made of it. Ask for it again.", what));
}

std::string path(const QString& folder, std::string_view name) { return folder.toStdString() + "/" + std::string(name); }

Result<void> writeAll(const JobStore& job, const QString& folder, JobFolder& count)
{
    if (!QDir().mkpath(folder + QStringLiteral("/evidence")))
        return failure(Error::Code::ExportFailed, fmt::format("The folder “{}” cannot be made. Choose another one.", folder.toStdString()));
    std::string lines;
    const auto records = job.records();
    count.entries = records.size();
    for (const auto& record : records) lines += canonicalEntry(record) + "\n";
    for (const auto& [name, bytes] : {std::pair<std::string_view, std::string>{journalName, lines},
                                      {headsName, canonicalJson(headsToJson(headsOf(headsIn(records)))) + "\n"},
                                      {"README.txt", std::string(readme)}})
        if (auto ok = writeFile(path(folder, name), bytes); !ok) return ok;
    for (const auto& sha : job.evidenceHashes()) {
        const auto bytes = job.evidence(sha);
        if (!bytes) return tl::unexpected(bytes.error());
        if (auto ok = writeFile(path(folder, "evidence/" + sha), *bytes, Sync::No); !ok) return ok;
        ++count.evidence;
    }
    return syncToDisk(path(folder, "evidence"));
}

/// One line of the journal; nothing where it cannot be one.
std::optional<EntryRecord> recordFrom(const std::string& line)
{
    const json value = json::parse(line, nullptr, false);
    const json* body = memberOf(value, "body");
    if (!body) return std::nullopt;
    JsonReading in(value, "");
    EntryRecord out;
    out.act = in.text("act");
    out.device = in.text("device");
    out.kind = in.text("kind");
    out.who = in.text("who");
    constexpr double latest = 9e15;  // whole numbers are exact until there
    out.filed = static_cast<std::int64_t>(in.number("filed", -latest, latest));
    out.happened = static_cast<std::int64_t>(in.number("happened", -latest, latest));
    out.sequence = static_cast<std::int64_t>(in.number("sequence", 0, latest));
    if (const json* previous = in.find("previous"); previous && previous->is_string())
        out.previous = Digest::parse(previous->get<std::string>()).value_or(Digest{});
    out.body = canonicalJson(*body);
    out.hash = digestOf(line);
    // whatever was read must say the same again: an entry is known by its hash
    return !in.problem() && canonicalEntry(out) == line ? std::optional(out) : std::nullopt;
}

Result<ChainHeads> headsFrom(const std::string& text)
{
    const json value = json::parse(text, nullptr, false);
    const json* heads = memberOf(value, "heads");
    if (!heads || !heads->is_object()) return damaged("“heads.json” cannot be read.");
    ChainHeads out;
    for (const auto& [device, head] : heads->items()) {
        JsonReading in(head, device);
        const auto entry = Digest::parse(in.text("entry"));
        const auto sequence = static_cast<std::int64_t>(in.number("sequence", 1, 9e15));
        if (in.problem() || !entry) return damaged("“heads.json” cannot be read.");
        out[device] = {sequence, *entry};
    }
    return out;
}

}  // namespace

Result<JobFolder> exportJob(const JobStore& job, const QString& folder)
{
    if (!job.wrong().empty())
        return failure(Error::Code::JobDamaged, fmt::format("This job is damaged: {} Save what is left of it first.", job.wrong().front().message));
    const QString stage = folder + QStringLiteral(".part-") + QString::fromStdString(randomName(8));
    JobFolder count;
    auto done = writeAll(job, stage, count).and_then([&] { return moveIntoPlace(stage.toStdString(), folder.toStdString(), false); });
    if (!done) {
        QDir(stage).removeRecursively();
        return tl::unexpected(done.error());
    }
    return count;
}

Result<JobFolder> importJob(const QString& folder, const QString& to)
{
    const auto journal = readFile(path(folder, journalName), largestJournal), headsText = readFile(path(folder, headsName));
    if (!journal || !headsText)
        return failure(Error::Code::JobNotClendo,
                       fmt::format("“{}” is no folder of a job: “{}” and “{}” belong into it.", folder.toStdString(), journalName, headsName));
    const auto heads = headsFrom(*headsText);
    if (!heads) return tl::unexpected(heads.error());
    std::vector<EntryRecord> records;
    for (std::size_t at = 0; at < journal->size();) {
        const auto end = journal->find('\n', at);
        if (end == std::string::npos) return damaged("The journal ends within an entry.");
        auto record = recordFrom(journal->substr(at, end - at));
        if (!record) return damaged(fmt::format("Line {} of the journal is no entry as it was filed.", records.size() + 1));
        records.push_back(std::move(*record));
        at = end + 1;
    }
    std::sort(records.begin(), records.end(), filedBefore);  // whatever the order of the lines
    std::vector<Entry> entries;
    for (const auto& r : records) entries.push_back(entryOf(r));
    const auto known = lossesIn(entries);
    if (const auto wrong = checkChains(headsIn(records), *heads, known); !wrong.empty()) return damaged(wrong.front().message);
    std::set<std::string> evidence = evidenceNamedBy(entries);
    for (const QString& name : QDir(folder + QStringLiteral("/evidence")).entryList(QDir::Files)) evidence.insert(name.toStdString());
    const auto source = [&](const std::string& sha) -> Result<std::string> {
        auto bytes = readFile(path(folder, "evidence/" + sha));
        if (bytes && sha256(*bytes) != sha) return damaged(fmt::format("“evidence/{}” was changed.", sha));
        return bytes;
    };
    for (const auto& sha : evidence)
        if (!isEvidenceNoted(known, sha))
            if (const auto bytes = source(sha); !bytes)
                return bytes.error().code == Error::Code::JobDamaged ? tl::unexpected(bytes.error())
                                                                     : damaged(fmt::format("“evidence/{}” is missing.", sha));
    return makeJobFile(to, records, evidence, source, Existing::Keep).map([&](const auto& missing) {
        return JobFolder{records.size(), evidence.size() - missing.size()};
    });
}

}  // namespace clendo
