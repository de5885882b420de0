#include "app/trace/save_trace.h"

#include <QFileDialog>
#include <QFileInfo>

#include "app/widgets/save_file.h"
#include "files/files.h"
#include "otdr/sor_file.h"
#include "otdr/trace_export.h"
#include "store/job_store.h"

namespace clendo {
namespace {

/// The file as it came, with the plan's names in its header; all else stays byte for byte.
Result<std::string> labelled(const std::string& bytes, const TraceShot& shot, const otdr::SorLabels& labels)
{
    return otdr::SorFile::read(bytes, shot.traceName).and_then([&](otdr::SorFile file) {
        return file.label(labels).map([&] { return file.write(); });
    });
}

}  // namespace

void askToSaveTrace(QWidget* parent, JobSession& session, const TraceShot& shot, std::shared_ptr<const otdr::Trace> trace,
                    std::function<void(const QString& sentence, bool trouble)> said)
{
    const QString points = QObject::tr("Points (*.csv)"), events = QObject::tr("What was found (*.csv)"), all = QObject::tr("Everything (*.json)"),
                  file = QObject::tr("The file, with the plan's names in it (*.sor)");
    QString chosen = events;
    const QString path =
        QFileDialog::getSaveFileName(parent, QObject::tr("Save the trace"), QFileInfo(QString::fromStdString(shot.traceName)).completeBaseName(),
                                     QStringList{events, points, all, file}.join(QStringLiteral(";;")), &chosen);
    if (path.isEmpty()) return;
    const auto done = [path, said](const Result<void>& saved) {
        said(saved ? QObject::tr("Saved as %1.").arg(path) : QString::fromStdString(saved.error().message), !saved);
    };
    if (chosen == file || path.endsWith(QLatin1String(".sor"))) {
        const Link* link = session.state().link(shot.link);
        if (!link) return;
        const bool fromA = shot.direction == Direction::AtoB;
        const CablePlan& cable = *link->cable;
        const otdr::SorLabels labels{cable.id, std::to_string(link->fibre), fromA ? cable.placeA : cable.placeB, fromA ? cable.placeB : cable.placeA};
        session.withStore<bool>(
            [shot, labels, to = path.toStdString()](JobStore& store) -> Result<bool> {
                return store.evidence(shot.trace)
                    .and_then([&](const std::string& bytes) { return labelled(bytes, shot, labels); })
                    .and_then([&](const std::string& bytes) { return writeFile(to, bytes); })
                    .map([] { return true; });
            },
            [done](bool) { done({}); });
        return;
    }
    const bool json = chosen == all || path.endsWith(QLatin1String(".json"));
    saveFile(
        parent, path,
        [shot, trace, json, onlyPoints = chosen == points] {
            return json ? otdr::everythingJson(*trace, shot.found) : onlyPoints ? otdr::pointsCsv(*trace) : otdr::eventsCsv(shot.found);
        },
        done);
}

}  // namespace clendo
