#include <QFileInfo>
#include <chrono>
#include <iostream>
#include <memory>
#include <nlohmann/json.hpp>

#include "cli/commands.h"
#include "cli/qt_core.h"
#include "files/files.h"
#include "record/fold/signatures.h"
#include "record/journal/time_text.h"
#include "record/state/rules.h"
#include "session/job_service.h"
#include "store/save_job.h"

namespace clendo::cli {
namespace {

using nlohmann::json;

struct VerifyArguments {
    std::vector<std::string> subjects, keys;
    std::string save;
};
struct MergeArguments {
    std::string a, b, out;
};

json wrongJson(const std::vector<Wrong>& wrong)
{
    auto out = json::array();
    for (const auto& w : wrong) out.push_back({{"what", w.what}, {"id", w.id.empty() ? json(nullptr) : json(w.id)}, {"message", w.message}});
    return out;
}

json signaturesJson(const JobSnapshot& job, const EvidenceSource& evidence)
{
    auto out = json::array();
    for (const auto& s : signaturesIn(job.journal.all(), *job.state, Rules(dataFolder()), evidence)) {
        json one{{"subject", s.subject},
                 {"by", s.by},
                 {"at", isoTime(s.at)},
                 {"entry", s.entry.hex()},
                 {"record_sha256", s.record.empty() ? json(nullptr) : json(s.record)},
                 {"remark", s.remark},
                 {"state", s.overtaken ? "overtaken" : "stands"}};
        one["since"] = s.overtaken && s.overtaken->since ? json(isoTime(*s.overtaken->since)) : json(nullptr);
        one["by_entry"] = s.overtaken && s.overtaken->by ? json(s.overtaken->by.hex()) : json(nullptr);
        one["differs"] = json::array();
        if (s.overtaken)
            for (const auto& d : s.overtaken->differs) one["differs"].push_back({{"about", d.about}, {"before", d.before}, {"now", d.now}});
        out.push_back(std::move(one));
    }
    return out;
}

json savedJson(const JobStore& job, const std::string& to)
{
    const auto now = std::chrono::duration_cast<std::chrono::microseconds>(std::chrono::system_clock::now().time_since_epoch()).count();
    const auto saved = saveWhatIsLeft(job, QString::fromStdString(to), "clendo-cli", now);
    if (!saved) return {{"error", toJson(saved.error())}};
    return {{"file", to},
            {"entries", saved->entries},
            {"evidence", saved->evidence},
            {"lost_entries", saved->lost.entries()},
            {"lost_evidence", saved->lost.evidence.size()},
            {"perhaps_more", saved->lost.perhapsMore}};
}

/// What is wrong with one job; an Error where it is no job, or nothing of it can be read.
json verified(const std::string& path, const std::string& save)
{
    json out{{"subject", QFileInfo(QString::fromStdString(path)).fileName().toStdString()}, {"kind", "job"}};
    auto job = readJob(QString::fromStdString(path), JobStore::Access::Read, noClock);
    if (!job) {
        const bool damaged = job.error().code == Error::Code::JobDamaged;
        out["ok"] = false;
        if (damaged)
            out.update({{"entries", 0}, {"evidence", 0}, {"wrong", wrongJson({{"file", "", job.error().message}})}, {"signatures", json::array()}});
        else
            out["error"] = toJson(job.error());
        return out;
    }
    JobService service(std::move(*job), {}, noClock);
    const JobSnapshot now = service.snapshot();
    const auto told = service
                          .withStore<json>([&save](JobStore& store) -> Result<json> {
                              const auto wrong = store.checkAll();
                              json of{{"evidence", store.evidenceHashes().size()},
                                      {"ok", wrong.empty()},
                                      {"older_than_known_here", store.olderThanKnown()},
                                      {"wrong", wrongJson(wrong)}};
                              if (!save.empty()) of["saved"] = savedJson(store, save);
                              return of;
                          })
                          .get();
    if (!told) {
        out["ok"] = false;
        out["error"] = toJson(told.error());
        return out;
    }
    out.update(*told);
    out["entries"] = now.journal.size();
    out["signatures"] = signaturesJson(now, service.evidenceSource());
    return out;
}

void verify(const VerifyArguments& arguments, Outcome& outcome)
{
    const QtCore qt;
    if (!arguments.save.empty() && arguments.subjects.size() > 1) {
        std::cerr << "--save takes what is left of one job.\n";
        outcome.status = 2;
        return;
    }
    for (const auto& subject : arguments.subjects) {
        const bool folder = QFileInfo(QString::fromStdString(subject)).isDir();
        const json line = folder ? verifiedFolder(subject, arguments.keys) : verified(subject, arguments.save);
        if (!line["ok"].get<bool>()) outcome.status = 1;
        print(line);
    }
}

Result<json> merged(const MergeArguments& arguments)
{
    const auto a = JobStore::open(QString::fromStdString(arguments.a), JobStore::Access::Read);
    if (!a) return tl::unexpected(a.error());
    const auto b = JobStore::open(QString::fromStdString(arguments.b), JobStore::Access::Read);
    if (!b) return tl::unexpected(b.error());
    return mergeJobs(**a, **b, QString::fromStdString(arguments.out)).map([](const Merged& m) {
        auto found = json::array();
        for (const auto& c : m.contradictions) found.push_back({{"what", c.what}, {"entries", c.entries}, {"message", c.message}});
        return json{{"entries", m.entries}, {"from_a", m.fromA}, {"from_b", m.fromB}, {"both", m.both}, {"contradictions", found}};
    });
}

void merge(const MergeArguments& arguments, Outcome& outcome)
{
    const QtCore qt;
    const auto result = merged(arguments);
    if (!result) outcome.status = 1;
    print(result ? *result : json{{"error", toJson(result.error())}});
}

}  // namespace

void addJobCommands(CLI::App& program, Outcome& outcome)
{
    auto check = std::make_shared<VerifyArguments>();
    auto* verifyCommand = program.add_subcommand("verify", "Check that nothing in a job, or in a certificate's folder, was changed or lost");
    verifyCommand->add_option("jobs", check->subjects, ".clendo files, or folders of certificates")->required();
    verifyCommand->add_option("--key", check->keys, "a public key by which a certificate must be signed: a file, or 64 hexadecimal digits");
    verifyCommand->add_option("--save", check->save, "write what is left of a damaged job to this new file");
    verifyCommand->callback([check, &outcome] { verify(*check, outcome); });
    auto both = std::make_shared<MergeArguments>();
    auto* mergeCommand = program.add_subcommand("merge", "Unite two copies of one job in a new file");
    mergeCommand->add_option("a", both->a, "a .clendo file")->required();
    mergeCommand->add_option("b", both->b, "another copy of the same job")->required();
    mergeCommand->add_option("--out", both->out, "the new file")->required();
    mergeCommand->callback([both, &outcome] { merge(*both, outcome); });
}

}  // namespace clendo::cli
