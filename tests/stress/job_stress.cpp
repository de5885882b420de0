#include <fmt/format.h>
#include <signal.h>

#include <QDir>
#include <QElapsedTimer>
#include <QGuiApplication>
#include <QProcess>
#include <QStorageInfo>
#include <QTemporaryDir>
#include <QThread>
#include <iostream>
#include <map>
#include <random>

#include "record/output/certificate.h"
#include "report/certificate/delivery.h"
#include "seal/check_folder.h"
#include "tests/job_files.h"
#include "tests/varrow_journal.h"

/// job-stress SECONDS SEED [SMALL_DISK]: does to jobs and certificates what happens to them outside (kills, damaged bytes and pages, cuts, removed
/// and replaced files, full disks) and counts what was lost or passed in silence; 0 of both is the only good answer. SMALL_DISK: a folder on a file
/// system of a few megabytes, for full disks. Prints one JSON object; exits 1 where anything was lost or silent.
using namespace clendo;

namespace {

std::mt19937 chance;
std::size_t below(std::size_t n) { return chance() % n; }

struct Count {
    int tried = 0, told = 0, harmless = 0, bad = 0;
};
std::map<std::string, Count> counts;

void bad(const std::string& what, const std::string& why)
{
    ++counts[what].bad;
    std::cerr << what << ": " << why << "\n";
}

Act touch(int n) { return actOf({FaceHandled{{"VP-04/" + std::to_string(n), End::A, Side::Port}, "touched"}}, someDay + n * second); }

/// The child: files without end, and says each acknowledged fact on standard output.
int workOnJob(const QString& path)
{
    auto store = JobStore::open(path).value();
    for (int n = static_cast<int>(store->entries().size());; ++n) {
        const Evidence picture{"p.png", std::string(20'000, 'x') + std::to_string(n)};
        Act act = touch(n);
        act.facts.emplace_back(lookAt(sha256(picture.bytes), n));
        const auto filed = store->append(act, std::span(&picture, 1));
        if (!filed) return 3;
        std::cout << filed->back().hash.hex() << std::endl;  // NOLINT(performance-avoid-endl): acknowledged means said
    }
}

nlohmann::json bodyFor(int version, const std::string& subject)
{
    Journal j = mated();
    j.light(-7, -8.5);
    auto body = certificate(j.state(), subject).value();
    body["job"] = fmt::format("version {}", version);
    return body;
}

Result<std::string> noEvidence(const std::string&) { return failure(Error::Code::JobDamaged, "none"); }

/// The child: writes certificates over each other without end.
int workOnCertificates(const QString& folder)
{
    for (int n = 0;; ++n)
        if (!writeCertificates({bodyFor(n, "VP-04/1"), bodyFor(n, "VP-04")}, noEvidence, folder)) return 3;
}

/// Starts this program as a child and kills it after some milliseconds; gives the lines that it had said.
QList<QByteArray> killedChild(const QStringList& arguments, int most)
{
    QProcess child;
    child.start(QCoreApplication::applicationFilePath(), arguments);
    child.waitForStarted();
    child.waitForReadyRead(most);
    child.waitForFinished(static_cast<int>(below(static_cast<std::size_t>(most))));
    ::kill(static_cast<pid_t>(child.processId()), SIGKILL);
    child.waitForFinished();
    QByteArray said = child.readAllStandardOutput();
    said.truncate(said.lastIndexOf('\n') + 1);  // what was said whole
    return said.split('\n');
}

void killWhileFiling(const QString& path)
{
    Count& c = counts["kill -9 while filing"];
    ++c.tried;
    const auto said = killedChild({"work-on-job", path}, 150);
    auto job = JobStore::open(path);
    // killed between making its lock and writing it: "open it again in a moment"
    for (int again = 0; again < 30 && job && !(*job)->readOnlyReason().empty(); ++again) {
        QThread::msleep(100);
        job = JobStore::open(path);
    }
    if (!job) return bad("kill -9 while filing", job.error().message + " " + job.error().detail);
    for (const auto& wrong : (*job)->checkAll()) return bad("kill -9 while filing", wrong.what + " " + wrong.id + ": " + wrong.message);
    if (!(*job)->readOnlyReason().empty()) return bad("kill -9 while filing", (*job)->readOnlyReason());
    std::set<std::string> there;
    for (const auto& e : (*job)->entries()) there.insert(e.hash.hex());
    for (const auto& hash : said)
        if (!hash.isEmpty() && !there.contains(hash.toStdString())) return bad("kill -9 while filing", "an acknowledged fact is lost");
    ++c.harmless;
}

void killWhileCertifying(const QString& folder)
{
    Count& c = counts["kill -9 while writing certificates"];
    ++c.tried;
    killedChild({"work-on-certificates", folder}, 500);
    for (const QString& name : QDir(folder).entryList(QDir::Dirs | QDir::NoDotAndDotDot)) {
        const auto check = seal::checkFolder((folder + "/" + name).toStdString(), {});
        if (!check || check->wrong.size() != 1 || check->seal->signer)  // no key signed it, and that is all
            return bad("kill -9 while writing certificates", "a certificate is not whole");
    }
    ++c.harmless;
}

/// Changes a copy of a whole job, and asks what it is taken for.
void damage(const QByteArray& good, const QByteArray& tables, const QString& path)
{
    QByteArray copy = good;
    const auto size = static_cast<std::size_t>(copy.size());
    std::string what, where;
    switch (below(4)) {
        case 0:
            what = "one byte changed";
            {
                const auto at = static_cast<qsizetype>(below(size));
                copy[at] = static_cast<char>(copy[at] ^ (1 << below(8)));
                where = fmt::format("at byte {}", at);
            }
            break;
        case 1:
            what = "a page overwritten";
            copy.replace(static_cast<qsizetype>(below(size / 4096) * 4096), 4096, QByteArray(4096, static_cast<char>(below(2) ? 0 : below(256))));
            break;
        case 2:
            what = "cut off";
            copy.truncate(static_cast<qsizetype>(below(size)));
            break;
        default:
            what = "two pages exchanged";
            const auto a = static_cast<qsizetype>(below(size / 4096) * 4096), b = static_cast<qsizetype>(below(size / 4096) * 4096);
            const QByteArray first = copy.mid(a, 4096);
            copy.replace(a, 4096, copy.mid(b, 4096));
            copy.replace(b, 4096, first);
    }
    Count& c = counts[what];
    ++c.tried;
    putBytes(path, copy);
    const auto now = tablesOf(path);
    const bool same = now && *now == tables && copy.size() == good.size();
    const auto job = JobStore::open(path, JobStore::Access::Read);
    const bool told = !job || !(*job)->checkAll().empty();
    if (told)
        ++c.told;
    else if (same)
        ++c.harmless;
    else
        bad(what, "passed in silence " + where);
    if (job && told && !(*job)->entries().empty()) {
        const QString saved = path + ".saved.clendo";
        QFile::remove(saved);
        const std::size_t left = (*job)->entries().size();
        if (const auto done = saveWhatIsLeft(**job, saved, "stress", someDay);
            !done || JobStore::open(saved, JobStore::Access::Read).value()->entries().size() < left)
            bad(what, "what was left could not be saved");
    }
}

void moveUnderWindow(const QDir& root, const QByteArray& other, int n)
{
    const QString path = root.filePath(QString("moving-%1.clendo").arg(n)), copy = freeNameBeside(path, "rescued");
    auto store = jobWith(path, 3, 500);
    std::vector<Entry> entries = JobStore::open(path, JobStore::Access::Read).value()->takeEntries();
    const std::size_t way = below(3);
    const char* names[] = {"deleted under the window", "replaced under the window", "moved away under the window"};
    Count& c = counts[names[way]];
    ++c.tried;
    if (way == 0) QFile::remove(path);
    if (way == 1) putBytes(path + ".new", other), ::rename((path + ".new").toUtf8().constData(), path.toUtf8().constData());
    if (way == 2) QFile::rename(path, path + ".away");
    const auto filed = store->append(touch(1));
    if (filed) return bad(names[way], "a fact was acknowledged into a lost file");
    auto rescued = rescue(*store, entries, copy, "stress", someDay);
    if (!rescued || (*rescued)->entries().size() != entries.size() || !(*rescued)->checkAll().empty() || !(*rescued)->append(touch(1)))
        return bad(names[way], "not rescued");
    ++c.told;
    for (const auto& file : root.entryList({QString("moving-%1*").arg(n)}, QDir::Files)) QFile::remove(root.filePath(file));
}

void fillDisk(const QDir& small)
{
    constexpr qint64 smallDisk = 64 << 20;  // bytes: a larger one is not filled
    if (QStorageInfo(small).bytesTotal() > smallDisk) return;
    const QString path = small.filePath("full.clendo"), certificates = small.filePath("certificates");
    QFile::remove(path);
    Count& c = counts["full disk"];
    ++c.tried;
    auto store = JobStore::create(path, founding());
    if (!store) return bad("full disk", "no job could be made");
    const auto before = writeCertificates({bodyFor(1, "VP-04/1")}, noEvidence, certificates);
    if (!before) return bad("full disk", "no certificate could be written");
    const QByteArray old = bytesOf(before->paths.at(0));
    std::size_t filed = (*store)->entries().size();
    for (int n = 0; n < 10'000; ++n) {
        const Evidence picture{"p.png", std::string(1000 + below(60'000), 'x') + std::to_string(n)};
        const auto done = (*store)->append(actOf({lookAt(sha256(picture.bytes), n)}), std::span(&picture, 1));
        if (done) {
            ++filed;
            continue;
        }
        if (done.error().code != Error::Code::DiskFull) bad("full disk", "said otherwise: " + done.error().message + " " + done.error().detail);
        break;
    }
    QFile rest(small.filePath("rest"));  // the last kilobytes
    if (rest.open(QIODevice::WriteOnly))
        while (rest.write(QByteArray(1024, 'x')) == 1024 && rest.flush()) {
        }
    rest.close();
    if (writeCertificates({bodyFor(2, "VP-04/1")}, noEvidence, certificates)) bad("full disk", "a certificate is said to be written");
    if (bytesOf(before->paths.at(0)) != old) bad("full disk", "the old certificate is not as it was");
    rest.remove();
    store = JobStore::open(path);
    if (!store || (*store)->entries().size() != filed || !(*store)->checkAll().empty()) return bad("full disk", "the job is not whole");
    if (counts["full disk"].bad == 0) ++c.told;
    store->reset();
    QFile::remove(path);
    QDir(certificates).removeRecursively();
}

int run(int seconds, unsigned seed, const QString& smallDisk)
{
    chance.seed(seed);
    const QTemporaryDir root;
    qputenv("XDG_STATE_HOME", root.filePath("state").toUtf8());
    const QString job = root.filePath("killed.clendo"), good = root.filePath("good.clendo"), certificates = root.filePath("certificates");
    if (!jobWith(good, 60) || !JobStore::create(job, founding())) return 2;
    const QByteArray bytes = bytesOf(good), tables = *tablesOf(good);
    QElapsedTimer clock;
    clock.start();
    for (int n = 0; clock.elapsed() < seconds * 1000; ++n) {
        for (int i = 0; i < 12; ++i) damage(bytes, tables, root.filePath("copy.clendo"));
        moveUnderWindow(QDir(root.path()), bytes, n);
        killWhileFiling(job);
        if (n % 3 == 0) killWhileCertifying(certificates);
        if (!smallDisk.isEmpty() && n % 8 == 0) fillDisk(QDir(smallDisk));
    }
    nlohmann::json out{{"seconds", seconds}, {"seed", seed}};
    int wrong = 0;
    for (const auto& [what, c] : counts) {
        out["counts"][what] = {{"tried", c.tried}, {"told", c.told}, {"harmless", c.harmless}, {"lost_or_silent", c.bad}};
        wrong += c.bad;
    }
    std::cout << out.dump(1) << "\n";
    return wrong == 0 ? 0 : 1;
}

}  // namespace

int main(int argc, char** argv)
{
    qputenv("QT_QPA_PLATFORM", "offscreen");
    const QGuiApplication application(argc, argv);
    const QStringList arguments = QCoreApplication::arguments();
    if (arguments.value(1) == "work-on-job") return workOnJob(arguments.value(2));
    if (arguments.value(1) == "work-on-certificates") return workOnCertificates(arguments.value(2));
    if (argc < 3) {
        std::cerr << "usage: job-stress SECONDS SEED [SMALL_DISK]\n";
        return 2;
    }
    return run(arguments[1].toInt(), arguments[2].toUInt(), arguments.value(3));
}
