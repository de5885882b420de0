#include <fmt/format.h>

#include <QGuiApplication>
#include <memory>
#include <nlohmann/json.hpp>

#include "cli/commands.h"
#include "files/files.h"
#include "record/output/certificate.h"
#include "record/state/rules.h"
#include "report/certificate_pdf.h"
#include "session/job_service.h"

namespace clendo::cli {
namespace {

struct CertificateArguments {
    std::string job, out, subject;
};

/// The files of all subjects, or none of them.
Result<nlohmann::json> write(const JobSnapshot& job, const EvidenceSource& evidence, const std::vector<std::string>& subjects,
                             const std::string& folder)
{
    std::vector<nlohmann::json> bodies;
    for (const auto& subject : subjects) {
        auto body = certificate(*job.state, subject, signaturesIn(job.journal.all(), *job.state, Rules(dataFolder()), evidence, subject));
        if (!body) return tl::unexpected(body.error());
        bodies.push_back(std::move(*body));
    }
    const auto files = writeCertificates(bodies, evidence, QString::fromStdString(folder));
    if (!files) return tl::unexpected(files.error());
    auto lines = nlohmann::json::array();
    constexpr std::size_t filesEach = 3;
    for (std::size_t i = 0; i < subjects.size(); ++i) {
        nlohmann::json line{{"subject", subjects[i]}, {"files", nlohmann::json::array()}};
        for (std::size_t k = 0; k < filesEach; ++k) line["files"].push_back(files->at(static_cast<qsizetype>(i * filesEach + k)).toStdString());
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
    if (!arguments.subject.empty())
        subjects.push_back(arguments.subject);
    else
        for (const auto& cable : job.state->plan->cables) subjects.push_back(cable.id);
    return write(job, service.evidenceSource(), subjects, arguments.out);
}

void run(const CertificateArguments& arguments, Outcome& outcome)
{
    // painting a PDF needs fonts but no display
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
    auto* command = program.add_subcommand("certificate", "Write certificates of a job: PDF, JSON and CSV");
    command->add_option("job", arguments->job, "a .clendo file")->required();
    command->add_option("--out", arguments->out, "folder for the files")->required();
    command->add_option("--subject", arguments->subject, "a link or cable; all cables where left out");
    command->callback([arguments, &outcome] { run(*arguments, outcome); });
}

}  // namespace clendo::cli
