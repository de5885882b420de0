#include "report/certificate_folder.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <stdio.h>  // renameat2 is no part of <cstdio>

#include <QDateTime>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QUuid>
#include <array>

#include "files/files.h"

namespace clendo {
namespace {

constexpr const char* stagePrefix = ".clendo-new-";
constexpr std::array<const char*, 3> endings{".pdf", ".json", ".csv"};
constexpr qint64 abandonedAfter = 600;  // seconds: no writing takes as long

/// Removes what Clendo wrote into a folder, and the folder where nothing else is in it.
void removeWritten(const QString& folder, const QString& name)
{
    for (const char* ending : endings) QFile::remove(folder + QLatin1Char('/') + name + QLatin1String(ending));
    QDir().rmdir(folder);
}

/// What a writing that was killed left behind.
void removeAbandoned(const QDir& folder)
{
    const auto stages = folder.entryInfoList({QLatin1String(stagePrefix) + QLatin1Char('*')}, QDir::Dirs | QDir::Hidden | QDir::NoDotAndDotDot);
    for (const QFileInfo& stage : stages) {
        if (stage.lastModified().secsTo(QDateTime::currentDateTime()) < abandonedAfter) continue;
        for (const QString& name : QDir(stage.filePath()).entryList(QDir::Dirs | QDir::NoDotAndDotDot))
            removeWritten(stage.filePath() + QLatin1Char('/') + name, name);
        QDir().rmdir(stage.filePath());
    }
}

/// A folder name for a subject; where files do not tell capitals apart, another subject may be there already.
QString freeName(const QDir& folder, const std::string& subject)
{
    const QString name = certificateName(subject);
    for (int n = 1;; ++n) {
        const QString tried = n == 1 ? name : name + QStringLiteral("=%1").arg(n);
        const auto there = readFile(folder.filePath(tried + QLatin1Char('/') + tried + QStringLiteral(".json")).toStdString());
        const auto body = there ? nlohmann::json::parse(*there, nullptr, false) : nlohmann::json();
        const auto said = body.is_object() ? body.value("subject", body.value("cord", nlohmann::json())) : nlohmann::json();
        if (!said.is_string() || said == subject) return tried;
    }
}

Result<void> write(const CertificateFiles& certificate, const QString& folder, const QString& name)
{
    if (!QDir().mkpath(folder))
        return failure(Error::Code::ExportFailed, fmt::format("The folder “{}” cannot be made. Choose another one.", folder.toStdString()));
    const std::array<std::string, 3> texts{certificate.pdf, certificate.body.dump(1, ' ', false, nlohmann::json::error_handler_t::replace) + "\n",
                                           certificate.csv};
    for (std::size_t i = 0; i < endings.size(); ++i) {
        const std::string path = (folder + QLatin1Char('/') + name).toStdString() + endings[i];
        if (auto ok = writeFile(path, texts[i]); !ok) return ok;
        if (const auto back = readFile(path, texts[i].size()); !back || *back != texts[i])
            return failure(Error::Code::ExportFailed, fmt::format("“{}” cannot be read back as it was written. Choose another folder.", path));
    }
    return syncToDisk(folder.toStdString());
}

/// What somebody put beside the old files goes on lying beside the new ones.
void keepOthers(const QString& old, const QString& place, const QString& name)
{
    for (const QString& file : QDir(old).entryList(QDir::AllEntries | QDir::Hidden | QDir::System | QDir::NoDotAndDotDot)) {
        const bool written = std::any_of(endings.begin(), endings.end(), [&](const char* ending) { return file == name + QLatin1String(ending); });
        if (!written) QFile::rename(old + QLatin1Char('/') + file, place + QLatin1Char('/') + file);
    }
}

Result<void> swapIn(const QString& fresh, const QString& place, const QString& name)
{
    if (!QFileInfo::exists(place) && !QFileInfo(place).isSymLink()) return moveIntoPlace(fresh.toStdString(), place.toStdString(), false);
    const QByteArray from = QFile::encodeName(fresh), to = QFile::encodeName(place);
    if (::renameat2(AT_FDCWD, from.constData(), AT_FDCWD, to.constData(), RENAME_EXCHANGE) == 0) {
        keepOthers(fresh, place, name);
        removeWritten(fresh, name);
    } else {
        // a file system that cannot exchange: the old one lies aside for a moment, and is never removed before the new one is there
        const QString aside = fresh + QStringLiteral(".old");
        if (!QFile::rename(place, aside)) return failure(Error::Code::ExportFailed, fmt::format("“{}” cannot be replaced.", place.toStdString()));
        if (auto ok = moveIntoPlace(fresh.toStdString(), place.toStdString(), false); !ok) {
            QFile::rename(aside, place);
            return ok;
        }
        keepOthers(aside, place, name);
        removeWritten(aside, name);
    }
    return syncToDisk(QFileInfo(place).path().toStdString());
}

}  // namespace

QString certificateName(const std::string& subject)
{
    QString out;
    for (const char c : subject) {
        const bool plain = (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') || c == '-';
        if (plain)
            out += QLatin1Char(c);
        else if (c == '/')
            out += QLatin1Char('_');
        else
            out += QString::fromStdString(fmt::format("={:02X}", static_cast<unsigned char>(c)));
    }
    return out;
}

Result<QStringList> placeCertificates(const std::vector<CertificateFiles>& certificates, const QString& folder)
{
    const QDir target(folder);
    const QString stage = target.filePath(QLatin1String(stagePrefix) + QUuid::createUuid().toString(QUuid::Id128).left(12));
    if (!QDir().mkpath(stage))
        return failure(Error::Code::ExportFailed, fmt::format("The folder “{}” cannot be made. Choose another one.", folder.toStdString()));
    removeAbandoned(target);
    QStringList names, paths;
    Result<void> ok;
    for (const auto& certificate : certificates) {
        names << freeName(target, certificate.subject);
        const QFileInfo place(target.filePath(names.back()));
        if (ok && (place.isSymLink() || (place.exists() && !place.isDir())))
            ok = failure(Error::Code::ExportFailed,
                         fmt::format("“{}” is no folder, and a certificate should be one there. Move it away, or choose another folder.",
                                     place.filePath().toStdString()));
        if (!ok) break;
        ok = write(certificate, stage + QLatin1Char('/') + names.back(), names.back());
    }
    for (const QString& name : names) {
        if (ok) ok = swapIn(stage + QLatin1Char('/') + name, target.filePath(name), name);
        removeWritten(stage + QLatin1Char('/') + name, name);
        for (const char* ending : endings) paths << target.filePath(name + QLatin1Char('/') + name + QLatin1String(ending));
    }
    QDir().rmdir(stage);
    if (!ok) return tl::unexpected(ok.error());
    return paths;
}

}  // namespace clendo
