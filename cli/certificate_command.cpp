#include <fmt/format.h>

#include <QGuiApplication>
#include <memory>
#include <nlohmann/json.hpp>

#include "cli/commands.h"
#include "files/files.h"
#include "record/output/certificate.h"
#include "record/state/fold.h"
#include "record/state/rules.h"
#include "report/certificate_pdf.h"
#include "store/job_store.h"

namespace clendo::cli {
namespace {

struct CertificateArguments {
    std::string job, out, subject;
};

/// The files of all subjects, or none of them.
Result<nlohmann::json> write(const JobStore& store, const JobState& state, const std::vector<std::string>& subjects, const std::string& folder)
{
    const EvidenceSource evidence = [&](const std::string& sha) { return store.evidence(sha); };
    std::vector<nlohmann::json> bodies;
    for (const auto& subject : subjects) {
        auto body = certificate(state, subject, signaturesIn(store.entries(), state, Rules(dataFolder()), evidence, subject));
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
    const auto store = JobStore::open(QString::fromStdString(arguments.job), JobStore::Access::Read);
    if (!store) return tl::unexpected(store.error());
    if (const auto& wrong = (*store)->wrong(); !wrong.empty())
        return failure(
            Error::Code::JobDamaged,
            fmt::format("The job is damaged, and no certificate is written from a record that is not whole: {} “verify” says all that is wrong.",
                        wrong.front().message));
    const JobState state = fold((*store)->entries(), Rules(dataFolder()));
    std::vector<std::string> subjects;
    if (!arguments.subject.empty())
        subjects.push_back(arguments.subject);
    else
        for (const auto& cable : state.cables) subjects.push_back(cable.id);
    return write(**store, state, subjects, arguments.out);
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
