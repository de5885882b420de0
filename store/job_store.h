#pragma once
#include <QString>
#include <QTemporaryFile>
#include <memory>
#include <optional>
#include <set>
#include <span>
#include <string>
#include <vector>

#include "record/journal/journal_store.h"
#include "store/job_file.h"
#include "store/job_lock.h"
#include "store/known_heads.h"
#include "store/sqlite.h"

namespace clendo {

/// One job = one SQLite file (docs/job-file.md): an append-only journal, a chain of hashes per device, and its evidence by SHA-256. Each act is one
/// transaction together with its evidence: wholly there or wholly not. One window writes; others read. A store belongs to one thread at a time.
class JobStore : public JournalStore {
public:
    enum class Access { Write, Read };

    /// Makes a new job file with what `founding` says; refuses to overwrite one.
    static Result<std::unique_ptr<JobStore>> create(const QString& path, const Act& founding = {});
    /// Opens a job and checks its journal. Where nothing can be filed (read-only, open elsewhere, damaged, from a newer version) it opens for
    /// reading, and readOnlyReason() says why. A job of schema 1 is carried over once; its file is kept beside it. `Read` locks and changes nothing.
    static Result<std::unique_ptr<JobStore>> open(const QString& path, Access access = Access::Write);
    ~JobStore() override;

    /// The file itself: a symbolic link was followed.
    [[nodiscard]] QString path() const { return path_; }
    /// A name for an act.
    static std::string newAct();
    /// Empty where facts can be filed.
    [[nodiscard]] const std::string& readOnlyReason() const { return readOnlyReason_; }
    /// Whether a person may take the lock over (JobLock::breakOpen), then open the job again.
    [[nodiscard]] bool lockCanBeTaken() const { return lockCanBeTaken_; }
    /// What is not as it was filed; empty: all is well.
    [[nodiscard]] const std::vector<Wrong>& wrong() const { return wrong_; }
    /// What has to be told of the job as it was opened: carried over, older than known here. Empty: nothing.
    [[nodiscard]] const std::string& notice() const { return notice_; }
    /// Whether this computer filed entries in this job that the file does not hold.
    [[nodiscard]] bool olderThanKnown() const { return olderThanKnown_; }

    /// All entries that are as they were filed, in the order of the journal, as they were when the job was opened.
    [[nodiscard]] const std::vector<Entry>& entries() const { return entries_; }
    [[nodiscard]] std::vector<Entry> takeEntries() { return std::move(entries_); }
    /// Chains that this computer goes on with, or went on with before.
    [[nodiscard]] std::set<std::string> ownDevices() const;

    /// On Error nothing of it is in the file, but for JobMoved: then the file is not where it was, and what was filed since then must go elsewhere
    /// (rescue()).
    Result<std::vector<Entry>> append(Act act, std::span<const Evidence> evidence) override;
    Result<std::vector<Entry>> append(Act act) { return append(std::move(act), {}); }
    Result<Came> since(StoreCursor cursor) const override;
    /// Behind all that was there when the job was opened.
    [[nodiscard]] StoreCursor opened() const { return opened_; }
    void subscribe(std::function<void()> heard) override { heard_.push_back(std::move(heard)); }
    void listen() override;
    /// Files from now on in a chain of its own: where the end of the one that it went on with may lie in a file that is lost.
    void beginNewChain();
    /// Takes entries of the same job from elsewhere, with their evidence; those that are there already are passed over.
    Result<void> adopt(std::span<const EntryRecord> entries, const EvidenceSource& source);
    Result<std::string> evidence(const std::string& sha256) const override;
    /// The hashes of all evidence.
    [[nodiscard]] std::set<std::string> evidenceHashes() const;
    /// The ends of the chains as the job says; whether that could be read.
    [[nodiscard]] const ChainHeads& heads() const { return heads_; }
    [[nodiscard]] bool headsKnown() const { return headsKnown_; }
    /// All entries as they are kept.
    [[nodiscard]] std::vector<EntryRecord> records() const;
    /// Every check there is: what open() checks, SQLite's own, canonical bodies, each piece of evidence.
    [[nodiscard]] std::vector<Wrong> checkAll() const;

    /// Lets go of the file's connection, which belongs to one thread: the next call, in whatever thread, connects anew.
    void handOver();

    /// Lets tests stand in for a full disk: the file may not grow beyond this.
    void limitPages(int pages);
    [[nodiscard]] int pageCount() const;

private:
    /// The file that was opened, whatever its name leads to later.
    struct Identity {
        std::uint64_t device = 0, file = 0;
        bool operator==(const Identity&) const = default;
    };
    explicit JobStore(QString path);
    [[nodiscard]] QSqlDatabase database() const;
    Result<void> connect(Access access);
    Result<void> readAll();
    void readSchema1();
    void checkEvidence(std::span<const LossesNoted> losses);
    void chooseChain();
    [[nodiscard]] std::optional<Identity> identityNow() const;
    [[nodiscard]] Result<void> stillThere() const;
    bool repair();

    QString path_, connection_, filePath_;  ///< filePath_: what is connected to; a repaired copy of a damaged file
    sqlite::Access access_ = sqlite::Access::Read;
    std::string readOnlyReason_, notice_;
    bool lockCanBeTaken_ = false, olderThanKnown_ = false, certainlyJob_ = false;
    int schema_ = 0;
    std::unique_ptr<JobLock> lock_;
    std::unique_ptr<QTemporaryFile> repaired_;
    std::vector<Entry> entries_;
    std::vector<EntryRecord> carried_;  ///< of a schema-1 job that is only read
    std::vector<Wrong> wrong_;
    ChainHeads heads_;
    bool headsKnown_ = false;
    ChainEnd end_;
    std::optional<KnownHeads> known_;
    std::optional<Identity> identity_;
    StoreCursor opened_;
    std::vector<std::function<void()>> heard_;
    qint64 dataVersion_ = 0;  ///< SQLite's own count of what other connections wrote; 0: not asked yet
};

/// The evidence that entries name, by its SHA-256.
std::set<std::string> evidenceNamedBy(std::span<const Entry> entries);

}  // namespace clendo
