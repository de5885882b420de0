#include "demo/demo_folder.h"

#include <fmt/format.h>

#include <QDateTime>
#include <QDir>
#include <QDirIterator>
#include <QFile>
#include <QFileInfo>
#include <QTemporaryDir>
#include <map>
#include <nlohmann/json.hpp>

#include "files/files.h"
#include "store/job_file.h"
#include "store/job_lock.h"

namespace clendo {
namespace {

using Made = std::map<std::string, std::string>;  ///< SHA-256 by path within the folder

constexpr const char* listName = "demo-made.json";
constexpr qint64 abandonedAfter = 600;  // seconds: no making takes as long

/// What an earlier run made there; nothing where there was none, or it was not finished.
Made listedIn(const QDir& folder)
{
    const auto text = readFile(folder.filePath(QLatin1String(listName)).toStdString(), std::size_t{1} << 20);
    const auto list = text ? nlohmann::json::parse(*text, nullptr, false) : nlohmann::json();
    Made out;
    if (!list.is_object()) return out;
    for (const auto& [path, sha] : list.items())
        if (sha.is_string() && !path.starts_with('/') && path.find("..") == std::string::npos) out[path] = sha.get<std::string>();
    return out;
}

Result<Made> hashesIn(const QDir& folder)
{
    Made out;
    QDirIterator files(folder.path(), QDir::Files, QDirIterator::Subdirectories);
    while (files.hasNext()) {
        const QString path = files.next();
        const auto bytes = readFile(path.toStdString());
        if (!bytes) return tl::unexpected(bytes.error());
        out[folder.relativeFilePath(path).toStdString()] = sha256(*bytes);
    }
    return out;
}

/// Makes room for a new file: one that is as it was made goes, any other is kept under another name.
bool makeRoom(const QString& place, const std::string& madeAs)
{
    if (!QFileInfo::exists(place)) return true;
    const auto bytes = readFile(place.toStdString());
    if (bytes && sha256(*bytes) == madeAs) return QFile::remove(place);
    return QFile::rename(place, freeNameBeside(place, QStringLiteral("kept")));
}

}  // namespace

Result<void> placeDemo(const QString& folder, const std::function<Result<void>(const QString& fresh)>& make)
{
    const QDir target(folder);
    const auto unwritable = [&] {
        return failure(Error::Code::ExportFailed, fmt::format("The demo cannot be put into “{}”. Choose another folder.", folder.toStdString()));
    };
    if (!target.mkpath(QStringLiteral("."))) return unwritable();
    const Made before = listedIn(target);
    std::vector<JobLock::Answer> locks;
    for (const auto& job : target.entryInfoList({QStringLiteral("*.clendo")}, QDir::Files)) {
        locks.push_back(JobLock::take(job.filePath()));
        if (!locks.back().lock)
            return failure(Error::Code::JobInUse, fmt::format("The demo job in “{}” is open. Close it first.", folder.toStdString()));
    }
    for (const auto& left : target.entryInfoList({QStringLiteral(".making-*")}, QDir::Dirs | QDir::Hidden))  // of a making that was killed
        if (left.lastModified().secsTo(QDateTime::currentDateTime()) > abandonedAfter) QDir(left.filePath()).removeRecursively();
    const QTemporaryDir fresh(target.filePath(QStringLiteral(".making-XXXXXX")));
    if (!fresh.isValid()) return unwritable();
    if (auto ok = make(fresh.path()); !ok) return ok;
    const auto made = hashesIn(QDir(fresh.path()));
    if (!made) return tl::unexpected(made.error());
    QFile::remove(target.filePath(QLatin1String(listName)));  // from here to the end it is not finished
    for (const auto& [path, sha] : before)
        if (!made->contains(path))
            if (const auto bytes = readFile(target.filePath(QString::fromStdString(path)).toStdString()); bytes && sha256(*bytes) == sha)
                QFile::remove(target.filePath(QString::fromStdString(path)));
    auto list = nlohmann::json::object();
    for (const auto& [path, sha] : *made) {
        const QString place = target.filePath(QString::fromStdString(path));
        const auto known = before.find(path);
        if (!target.mkpath(QFileInfo(place).path()) || !makeRoom(place, known == before.end() ? std::string() : known->second)) return unwritable();
        if (auto ok = moveIntoPlace(fresh.filePath(QString::fromStdString(path)).toStdString(), place.toStdString(), false); !ok) return ok;
        list[path] = sha;
    }
    target.mkpath(QStringLiteral("scope"));
    return writeFile(target.filePath(QLatin1String(listName)).toStdString(), list.dump(1) + "\n");
}

}  // namespace clendo
