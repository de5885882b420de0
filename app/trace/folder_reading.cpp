#include "app/trace/folder_reading.h"

#include <QDir>
#include <QFileInfo>
#include <QtConcurrentMap>
#include <algorithm>
#include <cmath>

#include "record/rules/plan_match.h"
#include "result/guarded.h"

namespace clendo {

QStringList traceFilesOf(const QStringList& paths)
{
    QStringList out;
    for (const QString& path : paths) {
        if (!QFileInfo(path).isDir()) {
            out << path;
            continue;
        }
        for (const QFileInfo& file : QDir(path).entryInfoList({QStringLiteral("*.sor"), QStringLiteral("*.SOR")}, QDir::Files, QDir::Name))
            out << file.filePath();
    }
    return out;
}

std::string patternOf(const std::vector<FolderFile>& files, const JobPlan& plan)
{
    std::vector<std::string> stems;
    for (const auto& file : files)
        if (file.read) stems.push_back(QFileInfo(file.path).completeBaseName().toStdString());
    return patternFor(stems, plan);
}

void placeAll(std::vector<FolderFile>& files, const JobPlan& plan, const std::string& pattern, const std::vector<std::string>& inJob)
{
    for (auto& file : files) {
        if (!file.read) continue;
        file.leftOut = std::find(inJob.begin(), inJob.end(), (*file.read)->sha256) != inJob.end();
        if (file.byHand) continue;
        file.place = placeOf(plan, (*file.read)->trace, readName(pattern, QFileInfo(file.path).completeBaseName().toStdString()));
    }
    const auto alike = [](const FolderFile& a, const FolderFile& b) {
        return a.place.link == b.place.link && a.place.direction == b.place.direction &&
               std::abs(((*a.read)->trace.wavelength - (*b.read)->trace.wavelength).value()) < sameWavelength.value();
    };
    std::vector<FolderFile*> placed;
    for (auto& file : files)
        if (file.read && !file.leftOut && file.place.link && file.place.direction) placed.push_back(&file);
    std::stable_sort(placed.begin(), placed.end(), [](const FolderFile* a, const FolderFile* b) { return *a->place.link < *b->place.link; });
    for (std::size_t i = 0; i < placed.size(); ++i)
        for (std::size_t k = i + 1; k < placed.size() && placed[k]->place.link == placed[i]->place.link; ++k)
            if (alike(*placed[i], *placed[k]))
                for (const auto& [one, other] : {std::pair(placed[i], placed[k]), std::pair(placed[k], placed[i])})
                    if (!one->byHand && one->place.doubt.empty())
                        one->place.doubt = "The same fibre, end and wavelength as " + (*other->read)->file.name + ".";
}

FolderReading::FolderReading(QObject* parent) : QObject(parent)
{
    const auto follow = [this](auto& watcher, auto finished) {
        using Watcher = std::remove_reference_t<decltype(watcher)>;
        connect(&watcher, &Watcher::progressValueChanged, this, [this, &watcher](int done) { emit progressed(done, watcher.progressMaximum()); });
        connect(&watcher, &Watcher::finished, this, [&watcher, finished] {
            if (!watcher.isCanceled()) finished(watcher.future().results());
        });
    };
    follow(reading_, [this](const auto& files) { emit wasRead({files.begin(), files.end()}); });
    follow(analysing_, [this](const auto& shots) { emit wasAnalysed({shots.begin(), shots.end()}); });
}

FolderReading::~FolderReading()
{
    reading_.cancel();
    analysing_.cancel();
    reading_.waitForFinished();
    analysing_.waitForFinished();
}

void FolderReading::read(const QStringList& files)
{
    reading_.setFuture(QtConcurrent::mapped(files, [](const QString& path) {
        return FolderFile{path, guarded([&] { return readTrace(path.toStdString()); }), {}, false, false};
    }));
}

void FolderReading::analyse(const std::vector<FolderFile>& files, const otdr::Cords& fromA, const ShotCords& shotWith)
{
    QList<FolderFile> wanted;
    std::copy_if(files.begin(), files.end(), std::back_inserter(wanted), [](const FolderFile& f) { return f.willBeFiled(); });
    analysing_.setFuture(QtConcurrent::mapped(std::move(wanted), [fromA, shotWith](const FolderFile& file) {
        return analysedShot(**file.read, *file.place.link, *file.place.direction, fromA, shotWith);
    }));
}

}  // namespace clendo
