#include <QGuiApplication>
#include <memory>
#include <nlohmann/json.hpp>

#include "cli/commands.h"
#include "files/files.h"
#include "record/certificate.h"
#include "report/certificate_pdf.h"
#include "store/job_store.h"

namespace clendo::cli {
namespace {

struct CertificateArguments {
    std::string job, out, subject;
};

nlohmann::json writeSubject(const JobStore& store, const JobState& state, const std::string& subject, const std::string& folder)
{
    nlohmann::json line{{"subject", subject}};
    const auto files = certificate(state, subject).and_then([&](const nlohmann::json& body) {
        return writeCertificate(
            body, [&](const std::string& sha) { return store.evidence(sha); }, QString::fromStdString(folder));
    });
    if (!files) return line["error"] = toJson(files.error()), line;
    for (const auto& path : *files) line["files"].push_back(path.toStdString());
    return line;
}

void run(const CertificateArguments& arguments, Outcome& outcome)
{
    // painting a PDF needs fonts but no display
    qputenv("QT_QPA_PLATFORM", "offscreen");
    int count = 1;
    char name[] = "clendo-cli";
    char* argv[] = {name, nullptr};
    const QGuiApplication application(count, argv);
    const auto store = JobStore::open(QString::fromStdString(arguments.job));
    const auto entries = store ? (*store)->entries() : tl::unexpected(store.error());
    if (!entries) {
        print({{"job", arguments.job}, {"error", toJson(entries.error())}});
        outcome.status = 1;
        return;
    }
    const Rules rules(dataFolder());
    const JobState state = fold(*entries, rules);
    std::vector<std::string> subjects;
    if (!arguments.subject.empty())
        subjects.push_back(arguments.subject);
    else
        for (const auto& cable : state.cables) subjects.push_back(cable.id);
    for (const auto& subject : subjects) {
        const auto line = writeSubject(**store, state, subject, arguments.out);
        if (line.contains("error")) outcome.status = 1;
        print(line);
    }
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
