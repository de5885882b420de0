#pragma once
#include <QString>
#include <QTemporaryFile>
#include <memory>
#include <string>

namespace clendo {

/// What a file's first bytes say, before SQLite is asked.
struct FileHeader {
    bool mayBeJob = false;      ///< an SQLite file, or what is left of a job
    bool certainlyJob = false;  ///< it says that it is a Clendo job
    bool whole = false;         ///< its size is what its header says
    bool unusedLog = false;     ///< of a kind that has a log beside it (schema 1), and there is none: reading it must not make one
    std::string trouble;        ///< why it is not whole; empty: it is
};
FileHeader readFileHeader(const QString& path);

enum class FirstPage { AsItIs, New };
/// A copy that SQLite can read as far as anything is left: its last page is filled up, its size is what the header says. `New`: with another first
/// page, because those of all jobs are alike. Nothing where no copy can be made.
std::unique_ptr<QTemporaryFile> repairedCopy(const QString& path, FirstPage page);

}  // namespace clendo
