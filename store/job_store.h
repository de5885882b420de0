#pragma once
#include <QLockFile>
#include <QSqlDatabase>
#include <QString>
#include <memory>
#include <span>
#include <string>
#include <vector>

#include "record/facts.h"

namespace clendo {

/// A file that was seen or shot, kept as it came.
struct Evidence {
    std::string name;  ///< as the file was called
    std::string bytes;
};

/// One job = one SQLite file (docs/job-file.md): an append-only journal and its evidence by SHA-256. Each fact is one
/// transaction together with its evidence: wholly there or wholly not. One window writes; others read.
class JobStore {
public:
    /// Makes a new job file; refuses to overwrite one.
    static Result<std::unique_ptr<JobStore>> create(const QString& path);
    /// Opens a job. Where it cannot be written (read-only, open elsewhere, from a newer version) it opens for reading, and
    /// readOnlyReason() says why.
    static Result<std::unique_ptr<JobStore>> open(const QString& path);
    ~JobStore();
    JobStore(const JobStore&) = delete;
    JobStore& operator=(const JobStore&) = delete;

    [[nodiscard]] QString path() const { return path_; }
    /// Empty where facts can be filed.
    [[nodiscard]] const std::string& readOnlyReason() const { return readOnlyReason_; }

    /// All entries in order; those that cannot be read are left out and counted in `unreadable`.
    Result<std::vector<Entry>> entries(int* unreadable = nullptr) const;
    /// Files one fact with its evidence. On Error nothing of it is in the file.
    Result<Entry> file(const Fact& fact, const std::string& who, std::int64_t at, const Evidence* evidence = nullptr);
    /// The same for several facts: all of them are in the file, or none.
    Result<std::vector<Entry>> file(std::span<const Fact> facts, const std::string& who, std::int64_t at, const Evidence* evidence = nullptr);
    /// The evidence's bytes as they came.
    Result<std::string> evidence(const std::string& sha256) const;

    /// Lets go of the file's connection, which belongs to one thread: the next call, in whatever thread, connects anew.
    void handOver();

    /// Lets tests stand in for a full disk: the file may not grow beyond this.
    void limitPages(int pages);
    [[nodiscard]] int pageCount() const;

private:
    JobStore(QString path, QString connection) : path_(std::move(path)), connection_(std::move(connection)) {}
    [[nodiscard]] QSqlDatabase database() const;

    QString path_, connection_;
    std::string readOnlyReason_;
    std::unique_ptr<QLockFile> lock_;
};

}  // namespace clendo
