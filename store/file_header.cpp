#include "store/file_header.h"

#include <fmt/format.h>

#include <QFile>
#include <QFileInfo>
#include <QTemporaryDir>
#include <QtEndian>

#include "store/job_file.h"
#include "store/job_schema.h"

namespace clendo {
namespace {

// https://www.sqlite.org/fileformat.html, section 1.3
constexpr qint64 headerBytes = 100;
constexpr int pageSizeAt = 16, logVersionAt = 19, pageCountAt = 28, applicationIdAt = 68, changeCounterAt = 24, validForAt = 92;
constexpr qint64 jobPage = 4096;  ///< SQLite's default, which all jobs have

quint32 bigEndian(const QByteArray& bytes, int at) { return qFromBigEndian<quint32>(bytes.constData() + at); }

void setBigEndian(QByteArray& bytes, int at, quint32 value) { qToBigEndian(value, bytes.data() + at); }

/// What SQLite needs to find any table of a job.
QByteArray freshFirstPage()
{
    const QTemporaryDir folder;
    const QString path = folder.filePath(QStringLiteral("fresh.clendo"));
    if (!makeJobFile(path, {}, {}, {}, Existing::Keep)) return {};
    QFile file(path);
    return file.open(QIODevice::ReadOnly) ? file.read(jobPage) : QByteArray();
}

}  // namespace

FileHeader readFileHeader(const QString& path)
{
    QFile file(path);
    if (!file.open(QIODevice::ReadOnly)) return {};
    const qint64 size = file.size();
    const QByteArray first = file.read(headerBytes);
    const bool named = path.endsWith(QLatin1String(".clendo"), Qt::CaseInsensitive);
    const bool sqlite = first.startsWith(QByteArray("SQLite format 3\0", 16));
    FileHeader out;
    out.certainlyJob = first.size() == headerBytes && bigEndian(first, applicationIdAt) == schema::applicationId;
    out.mayBeJob = sqlite || out.certainlyJob || named;
    if (size == 0) {
        out.trouble = "The file is empty.";
    } else if (first.size() < headerBytes) {
        out.trouble = fmt::format("The file is cut off after {} bytes.", size);
    } else if (!sqlite) {
        out.trouble = "The beginning of the file was overwritten.";
    } else {
        const qint64 pages = bigEndian(first, pageCountAt);
        const auto page = qFromBigEndian<quint16>(first.constData() + pageSizeAt);
        const qint64 expected = pages * (page == 1 ? 65536 : page);
        // of a log beside the file (schema 1) the pages are counted there
        const bool counted = bigEndian(first, changeCounterAt) == bigEndian(first, validForAt) && !QFileInfo::exists(path + QStringLiteral("-wal"));
        out.unusedLog = first[logVersionAt] == 2 && !QFileInfo::exists(path + QStringLiteral("-wal"));
        out.whole = !counted || size >= expected;
        if (!out.whole) out.trouble = fmt::format("The file is cut off: {} of {} bytes are there.", size, expected);
    }
    return out;
}

std::unique_ptr<QTemporaryFile> repairedCopy(const QString& path, FirstPage page)
{
    QFile file(path);
    auto copy = std::make_unique<QTemporaryFile>();
    if (!file.open(QIODevice::ReadOnly) || !copy->open()) return nullptr;
    constexpr qint64 piece = qint64{1} << 20;
    while (!file.atEnd()) {
        const QByteArray bytes = file.read(piece);
        if (bytes.isEmpty() || copy->write(bytes) != bytes.size()) return nullptr;
    }
    const qint64 pages = (file.size() + jobPage - 1) / jobPage;
    if (pages == 0 || !copy->resize(pages * jobPage)) return nullptr;
    copy->seek(0);
    QByteArray first = page == FirstPage::New ? freshFirstPage() : copy->read(jobPage);
    if (first.size() != jobPage) return nullptr;
    setBigEndian(first, pageCountAt, static_cast<quint32>(pages));
    setBigEndian(first, validForAt, bigEndian(first, changeCounterAt));
    copy->seek(0);
    if (copy->write(first) != jobPage || !copy->flush()) return nullptr;
    return copy;
}

}  // namespace clendo
