#include "report/certificate/folder.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <stdio.h>  // renameat2 is no part of <cstdio>
#include <unistd.h>

#include <QDateTime>
#include <QDir>
#include <QDirIterator>
#include <QFile>
#include <QFileInfo>
#include <QUuid>
#include <algorithm>
#include <nlohmann/json.hpp>

#include "files/files.h"
#include "files/plain_name.h"

namespace clendo {
namespace {

constexpr const char* stagePrefix = ".clendo-new-";
constexpr qint64 abandonedAfter = 3600;  // seconds: no writing takes as long
constexpr std::size_t largestSeal = std::size_t{64} << 20;

QString inside(const QString& folder, const std::string& path) { return folder + QLatin1Char('/') + QString::fromStdString(path); }

/// What the signature in a folder says of it; nothing: there is none that can be read.
std::optional<seal::Seal> sealIn(const QString& folder)
{
    const auto text = readFile(inside(folder, std::string(seal::sealName)).toStdString(), largestSeal);
    const auto seal = text.and_then([](const std::string& t) { return seal::readSeal(t); });
    return seal ? std::optional(*seal) : std::nullopt;
}

/// What Clendo wrote into a folder, by its signature; in folders of earlier versions by the names.
std::set<std::string> writtenIn(const QString& folder, const std::string& stem)
{
    std::set<std::string> out{std::string(seal::sealName)};
    for (const char* ending : {".pdf", ".json", ".csv"}) out.insert(stem + ending);
    if (const auto seal = sealIn(folder))
        for (const auto& f : seal->statement.files) out.insert(f.path);
    return out;
}

/// Removes those files, and the folders in which nothing is left.
void removeWritten(const QString& folder, const std::set<std::string>& files)
{
    for (const auto& file : files) QFile::remove(inside(folder, file));
    for (const char* sub : {"pictures", "traces"}) QDir().rmdir(inside(folder, sub));
    QDir().rmdir(folder);
}

/// What a writing that was killed left behind.
void removeAbandoned(const QDir& folder)
{
    const auto stages = folder.entryInfoList({QLatin1String(stagePrefix) + QLatin1Char('*')}, QDir::Dirs | QDir::Hidden | QDir::NoDotAndDotDot);
    for (const QFileInfo& stage : stages)
        if (stage.lastModified().secsTo(QDateTime::currentDateTime()) >= abandonedAfter) QDir(stage.filePath()).removeRecursively();
}

/// Whose certificate a folder holds; empty: nobody's that can be told.
std::string subjectIn(const QString& folder, const std::string& stem)
{
    if (const auto seal = sealIn(folder)) return seal->statement.subject;
    const auto text = readFile(inside(folder, stem + ".json").toStdString());
    const auto body = text ? nlohmann::json::parse(*text, nullptr, false) : nlohmann::json();
    const auto said = body.is_object() ? body.value("subject", body.value("cord", nlohmann::json())) : nlohmann::json();
    return said.is_string() ? said.get<std::string>() : std::string();
}

/// A folder's name for a subject; where files do not tell capitals apart, another subject may be there already.
QString freeName(const QDir& folder, const std::string& subject)
{
    const std::string stem = plainName(subject);
    for (int n = 1;; ++n) {
        const QString tried = QString::fromStdString(n == 1 ? stem : fmt::format("{}={}", stem, n));
        const std::string there = subjectIn(folder.filePath(tried), stem);
        if (there.empty() || there == subject) return tried;
    }
}

/// What somebody put beside the old files goes on lying beside the new ones.
void keepOthers(const QString& old, const QString& place, const std::set<std::string>& written)
{
    QStringList others;
    for (QDirIterator it(old, QDir::Files | QDir::Hidden | QDir::System, QDirIterator::Subdirectories); it.hasNext();) {
        const QString path = QDir(old).relativeFilePath(it.next());
        if (!written.contains(path.toStdString())) others << path;
    }
    for (const QString& path : others) {
        QDir().mkpath(QFileInfo(place + QLatin1Char('/') + path).path());
        QFile::rename(old + QLatin1Char('/') + path, place + QLatin1Char('/') + path);
    }
    for (const QString& path : others)
        for (QDir dir = QFileInfo(old + QLatin1Char('/') + path).dir(); dir.path().size() > old.size() && dir.rmdir(dir.path());) dir.cdUp();
}

Result<void> swapIn(const QString& fresh, const QString& place, const std::string& stem)
{
    if (!QFileInfo::exists(place) && !QFileInfo(place).isSymLink()) return moveIntoPlace(fresh.toStdString(), place.toStdString(), false);
    const auto written = writtenIn(place, stem);
    const QByteArray from = QFile::encodeName(fresh), to = QFile::encodeName(place);
    QString old = fresh;
    if (::renameat2(AT_FDCWD, from.constData(), AT_FDCWD, to.constData(), RENAME_EXCHANGE) != 0) {
        // a file system that cannot exchange: the old one lies aside for a moment, and is never removed before the new one is there
        old = fresh + QStringLiteral(".old");
        if (!QFile::rename(place, old)) return failure(Error::Code::ExportFailed, fmt::format("“{}” cannot be replaced.", place.toStdString()));
        if (auto ok = moveIntoPlace(fresh.toStdString(), place.toStdString(), false); !ok) {
            QFile::rename(old, place);
            return ok;
        }
    }
    keepOthers(old, place, written);
    removeWritten(old, written);
    // a file of somebody's that has the name of a new one: it lies beside, and not where a stage is cleared away
    if (QFileInfo::exists(old)) QFile::rename(old, place + QStringLiteral("=others-") + QFileInfo(fresh).dir().dirName().right(6));
    return syncToDisk(QFileInfo(place).path().toStdString());
}

/// All that was written is on the disk, at once and not file by file.
Result<void> syncAll(const QString& folder)
{
    const int file = ::open(QFile::encodeName(folder).constData(), O_RDONLY | O_CLOEXEC);
    const bool done = file >= 0 && ::syncfs(file) == 0;
    if (file >= 0) ::close(file);
    if (done) return {};
    return failure(Error::Code::ExportFailed, fmt::format("“{}” could not be put on the disk. Choose another folder.", folder.toStdString()));
}

Result<std::vector<std::string>> writeOne(const Placed& certificate, const QString& stage, const QString& before, const seal::SigningKey* key)
{
    if (!QDir().mkpath(stage))
        return failure(Error::Code::ExportFailed, fmt::format("The folder “{}” cannot be made. Choose another one.", stage.toStdString()));
    FolderWriter out(stage);
    auto statement = certificate.write(out, plainName(certificate.subject), before);
    if (!statement) return tl::unexpected(statement.error());
    statement->files = out.files();
    std::vector<std::string> paths;
    for (const auto& f : statement->files) paths.push_back(f.path);
    paths.emplace_back(seal::sealName);
    return writeFile(inside(stage, std::string(seal::sealName)).toStdString(), seal::sealText(*statement, key), Sync::No).map([&] { return paths; });
}

}  // namespace

Result<void> FolderWriter::add(const std::string& path, std::string_view bytes)
{
    if (!seal::plainPath(path)) return failure(Error::Code::Unexpected, fmt::format("“{}” cannot be a file of a certificate.", path));
    const QString place = inside(folder_, path);
    if (!QDir().mkpath(QFileInfo(place).path()))
        return failure(Error::Code::ExportFailed, fmt::format("The folder of “{}” cannot be made. Choose another one.", place.toStdString()));
    if (auto ok = writeFile(place.toStdString(), bytes, Sync::No); !ok) return ok;
    if (const auto back = readFile(place.toStdString(), bytes.size()); !back || *back != bytes)
        return failure(Error::Code::ExportFailed,
                       fmt::format("“{}” cannot be read back as it was written. Choose another folder.", place.toStdString()));
    files_.push_back({path, bytes.size(), digestOf(bytes)});
    return {};
}

Result<PlacedFiles> placeCertificates(const std::vector<Placed>& certificates, const QString& folder, const seal::SigningKey* key)
{
    const QDir target(folder);
    const QString stage = target.filePath(QLatin1String(stagePrefix) + QUuid::createUuid().toString(QUuid::Id128).left(12));
    if (!QDir().mkpath(stage))
        return failure(Error::Code::ExportFailed, fmt::format("The folder “{}” cannot be made. Choose another one.", folder.toStdString()));
    removeAbandoned(target);
    QStringList names;
    PlacedFiles out;
    Result<void> ok;
    for (const auto& certificate : certificates) {
        names << freeName(target, certificate.subject);
        const QString place = target.filePath(names.back());
        const QFileInfo there(place);
        if (there.isSymLink() || (there.exists() && !there.isDir())) {
            ok = failure(Error::Code::ExportFailed,
                         fmt::format("“{}” is no folder, and a certificate should be one there. Move it away, or choose another folder.",
                                     place.toStdString()));
            break;
        }
        const auto paths = writeOne(certificate, stage + QLatin1Char('/') + names.back(), place, key);
        if (!paths) {
            ok = tl::unexpected(paths.error());
            break;
        }
        for (const auto& path : *paths) out.paths << inside(place, path);
        out.each.push_back(static_cast<qsizetype>(paths->size()));
    }
    if (ok) ok = syncAll(stage);
    for (qsizetype i = 0; ok && i < names.size(); ++i)
        ok = swapIn(stage + QLatin1Char('/') + names[i], target.filePath(names[i]), plainName(certificates[static_cast<std::size_t>(i)].subject));
    if (!ok) {
        QDir(stage).removeRecursively();
        return tl::unexpected(ok.error());
    }
    QDir().rmdir(stage);  // what is still in it is somebody's file that could not be moved
    return out;
}

}  // namespace clendo
