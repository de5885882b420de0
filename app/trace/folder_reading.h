#pragma once
#include <QFutureWatcher>
#include <QObject>
#include <QStringList>
#include <vector>

#include "app/trace/read_trace.h"
#include "record/rules/trace_naming.h"

namespace clendo {

/// One file of a folder: what it is and where it belongs, as far as that is told.
struct FolderFile {
    QString path;
    Result<std::shared_ptr<const ReadTrace>> read;
    TracePlace place;
    bool byHand = false;   ///< a person said where it belongs: no doubt is left
    bool leftOut = false;  ///< it is in the job already
    [[nodiscard]] bool willBeFiled() const { return read && !leftOut && place.link && place.direction && (byHand || place.doubt.empty()); }
};

/// All trace files of a folder, or some that were chosen.
QStringList traceFilesOf(const QStringList& paths);

/// Says where each of them belongs, by its header and its name; those that a person placed stay. `inJob`: SHA-256 of traces that the job has. Two
/// files of the same fibre, end and wavelength are both in doubt.
void placeAll(std::vector<FolderFile>& files, const JobPlan& plan, const std::string& pattern, const std::vector<std::string>& inJob);

/// The pattern by which the names of these files say most.
std::string patternOf(const std::vector<FolderFile>& files, const JobPlan& plan);

/// Reads files, then finds the events of those that are to be filed; on all cores, and can be stopped.
class FolderReading : public QObject {
    Q_OBJECT
public:
    explicit FolderReading(QObject* parent = nullptr);
    ~FolderReading() override;
    void read(const QStringList& files);
    void analyse(const std::vector<FolderFile>& files, const otdr::Cords& fromA, const ShotCords& shotWith);

signals:
    void progressed(int done, int all);
    void wasRead(const std::vector<FolderFile>& files);
    void wasAnalysed(const std::vector<TraceShot>& shots);

private:
    QFutureWatcher<FolderFile> reading_;
    QFutureWatcher<TraceShot> analysing_;
};

}  // namespace clendo
