#include <fmt/format.h>

#include <QGuiApplication>
#include <chrono>
#include <memory>
#include <nlohmann/json.hpp>
#include <optional>

#include "cli/commands.h"
#include "files/files.h"
#include "power/applications.h"
#include "record/output/certificate.h"
#include "record/state/rules.h"
#include "report/certificate/delivery.h"
#include "session/job_service.h"

namespace clendo::cli {
namespace {

struct CertificateArguments {
    std::string job, out, subject, key, passphrase;
    bool wholeJob = false, summary = false, bare = false;
};

std::int64_t now() { return std::chrono::duration_cast<std::chrono::seconds>(std::chrono::system_clock::now().time_since_epoch()).count(); }

Result<std::optional<seal::SigningKey>> keyOf(const CertificateArguments& arguments)
{
    if (arguments.key.empty()) return std::nullopt;
    return readFile(arguments.key)
        .and_then([](const std::string& text) { return seal::readKeyFile(text); })
        .and_then([&](const seal::KeyFile& file) {
            return passphraseFrom(arguments.passphrase).and_then([&](const std::string& said) { return seal::SigningKey::open(file, said); });
        })
        .map([](seal::SigningKey key) { return std::optional(std::move(key)); });
}

/// The files of all subjects, or none of them.
Result<nlohmann::json> write(const JobSnapshot& job, const EvidenceSource& evidence, const std::vector<std::string>& subjects,
                             const CertificateArguments& arguments, const seal::SigningKey* key)
{
    const Rules rules(dataFolder());
    const auto applications = loadApplications(rules.files());
    if (!applications) return tl::unexpected(applications.error());
    std::vector<nlohmann::json> bodies;
    for (const auto& subject : subjects) {
        const auto signatures = signaturesIn(job.journal.all(), *job.state, rules, evidence, subject);
        auto body = certificate(*job.state, subject, {signatures, job.journal.all(), *applications});
        if (!body) return tl::unexpected(body.error());
        bodies.push_back(std::move(*body));
    }
    const auto files = writeCertificates(bodies, evidence, QString::fromStdString(arguments.out), {!arguments.summary, !arguments.bare, key, now()});
    if (!files) return tl::unexpected(files.error());
    auto lines = nlohmann::json::array();
    qsizetype at = 0;
    for (std::size_t i = 0; i < subjects.size(); ++i) {
        nlohmann::json line{{"subject", bodies[i]["subject"]},
                            {"files", nlohmann::json::array()},
                            {"signed_by", key ? nlohmann::json(key->holder()) : nlohmann::json(nullptr)}};
        for (qsizetype k = 0; k < files->each[i]; ++k) line["files"].push_back(files->paths[at++].toStdString());
        lines.push_back(std::move(line));
    }
    return lines;
}

Result<nlohmann::json> writeFrom(const CertificateArguments& arguments)
{
    auto read = readJob(QString::fromStdString(arguments.job), JobStore::Access::Read, noClock);
    if (!read) return tl::unexpected(read.error());
    JobService service(std::move(*read), {}, noClock);
    const JobSnapshot job = service.snapshot();
    if (!job.file->wrong.empty())
        return failure(
            Error::Code::JobDamaged,
            fmt::format("The job is damaged, and no certificate is written from a record that is not whole: {} “verify” says all that is wrong.",
                        job.file->wrong.front().message));
    std::vector<std::string> subjects;
    if (!arguments.subject.empty() || arguments.wholeJob)
        subjects.push_back(arguments.subject);
    else
        for (const auto& cable : job.state->plan->cables) subjects.push_back(cable.id);
    const auto key = keyOf(arguments);
    if (!key) return tl::unexpected(key.error());
    return write(job, service.evidenceSource(), subjects, arguments, *key ? &**key : nullptr);
}

void run(const CertificateArguments& arguments, Outcome& outcome)
{
    // reading pictures needs no display
    qputenv("QT_QPA_PLATFORM", "offscreen");
    int count = 1;
    char name[] = "clendo-cli";
    char* argv[] = {name, nullptr};
    const QGuiApplication application(count, argv);
    const auto lines = writeFrom(arguments);
    if (lines) {
        for (const auto& line : *lines) print(line);
        return;
    }
    nlohmann::json line{{"job", arguments.job}, {"error", toJson(lines.error())}};
    if (!arguments.subject.empty()) line["subject"] = arguments.subject;
    print(line);
    outcome.status = 1;
}

}  // namespace

void addCertificateCommand(CLI::App& program, Outcome& outcome)
{
    auto arguments = std::make_shared<CertificateArguments>();
    auto* command = program.add_subcommand(
        "certificate", "Write certificates of a job, each as a folder: PDF, JSON, CSV, a page for the browser, pictures and traces");
    command->add_option("job", arguments->job, "a .clendo file")->required();
    command->add_option("--out", arguments->out, "folder for the files")->required();
    auto* subject = command->add_option("--subject", arguments->subject, "a link or cable; all cables, one by one, where left out");
    command->add_flag("--job", arguments->wholeJob, "one certificate of the whole job")->excludes(subject);
    command->add_flag("--summary", arguments->summary, "no page per fibre in the PDF");
    command->add_flag("--bare", arguments->bare, "without pictures and traces beside it");
    auto* passphrase = command->add_option("--passphrase-file", arguments->passphrase, "its first line opens the key; - for standard input");
    command->add_option("--key", arguments->key, "sign with this key file (clendo-cli key make)")->needs(passphrase);
    command->callback([arguments, &outcome] { run(*arguments, outcome); });
}

}  // namespace clendo::cli
