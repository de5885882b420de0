#include <benchmark/benchmark.h>

#include <QApplication>
#include <QDir>
#include <QImage>
#include <QPainter>
#include <QScrollArea>
#include <QScrollBar>
#include <QTableView>
#include <QTemporaryDir>

#include "app/frame/job_session.h"
#include "app/frame/round_view.h"
#include "app/journal/journal_view.h"
#include "app/widgets/theme.h"
#include "files/files.h"
#include "record/advice/next_step.h"
#include "record/fold/fold.h"
#include "record/fold/growing_fold.h"
#include "record/state/rules.h"
#include "tests/varrow_journal.h"

using namespace clendo;

namespace {

constexpr int manyEntries = 100'000;

/// A long season at one cable: looks with a few findings, cleanings, matings, readings, and test cords that go about.
std::vector<Fact> longJournal()
{
    std::vector<Fact> out;
    JobSettings job;
    job.name = "Long season";
    out = settingFacts(job);
    out.emplace_back(CablePlanned{varrowCable(864)});
    out.emplace_back(KitKept{"RC-1", "cord", {"LC"}, {}, 0, 500, "sm-upc", false});
    std::uint32_t random = 7;
    const auto next = [&](std::uint32_t below) {
        random = random * 1664525U + 1013904223U;
        return (random >> 8) % below;
    };
    while (out.size() < manyEntries) {
        const FaceId face{"VP-04/" + std::to_string(next(864) + 1), next(2) ? End::A : End::B, next(2) ? Side::Cord : Side::Port};
        FaceSeen seen{face, std::string(64, 'a'), "picture.png", {}, {}};
        seen.measured.claddingDiameter = Pixel(300);
        for (std::uint32_t n = 0; n < next(5); ++n) {
            Finding f;
            f.id = static_cast<int>(n) + 1;
            f.size = f.width = f.length = Micrometre(1 + next(60) / 10.0);
            f.centre = {Micrometre(next(100)), Micrometre(next(100))};
            f.nearest = Micrometre(f.centre.radius());
            seen.measured.findings.push_back(f);
        }
        out.emplace_back(seen);
        switch (next(5)) {
            case 0: out.emplace_back(FaceCleaned{face, "dry", 1}); break;
            case 1: out.emplace_back(Mated{face.link, face.connection}); break;
            case 2: out.emplace_back(Joined{face, {"RC-1", End::A, Side::Cord}}); break;
            case 3: out.emplace_back(PowerRead{face.link, Nanometre(1310), Direction::AtoB, DecibelMilliwatt(-8.5), {}, {}}); break;
            default: out.emplace_back(FaceHandled{face, "touched"}); break;
        }
    }
    return out;
}

/// The job file, made once.
const QString& longJob()
{
    static QTemporaryDir folder;
    static const QString path = [] {
        const QString file = folder.filePath(QStringLiteral("long.clendo"));
        constexpr std::int64_t at = 1'794'902'400'000'000;
        const Evidence picture{"picture.png", "a picture"};
        const auto store = JobStore::create(file, {"technician 1", settingFacts(JobSettings{}), at, at});
        auto facts = longJournal();
        for (auto& fact : facts)
            if (auto* seen = std::get_if<FaceSeen>(&fact)) seen->picture = sha256(picture.bytes);
        // acts as people do them, a minute apart, in one transaction each thousand
        for (std::size_t n = 0; store && n < facts.size(); n += 1000) {
            const std::int64_t then = at + static_cast<std::int64_t>(n) * 60'000'000;
            const std::vector<Fact> some(facts.begin() + static_cast<std::ptrdiff_t>(n),
                                         facts.begin() + static_cast<std::ptrdiff_t>(std::min(n + 1000, facts.size())));
            if (!(*store)->append({"technician 1", some, then, then}, std::span(&picture, 1))) return QString();
        }
        return file;
    }();
    return path;
}

ReadJob& job()
{
    static ReadJob read = *readJob(longJob());
    return read;
}

JobSnapshot snapshot()
{
    static const auto state = job().fold.share();
    return {1, state, job().journal, std::make_shared<const JobFile>(), {}};
}

void JobOf100000EntriesOpens(benchmark::State& state)
{
    longJob();
    for (auto _ : state) {
        auto read = readJob(longJob());
        if (!read || read->journal.size() < manyEntries) return state.SkipWithError("the job cannot be read");
        state.PauseTiming();  // closing it is not opening it
        read = tl::unexpected(Error{});
        state.ResumeTiming();
    }
}
BENCHMARK(JobOf100000EntriesOpens)->Unit(benchmark::kMillisecond)->UseRealTime();

void FoldOf100000Entries(benchmark::State& state)
{
    const auto entries = job().journal.all();
    const Rules rules(dataFolder());
    for (auto _ : state) benchmark::DoNotOptimize(fold(entries, rules, 1794902400).faces.size());
}
BENCHMARK(FoldOf100000Entries)->Unit(benchmark::kMillisecond);

/// What a filing costs beyond writing it to the disk.
void EntryIsAddedTo100000(benchmark::State& state)
{
    std::vector<Entry> entries(job().journal.all().begin(), job().journal.all().end());
    GrowingFold fold{Rules(dataFolder())};
    fold.update(entries, 1794902400);
    FaceHandled touched;
    touched.face = {"VP-04/1", End::A, Side::Cord};
    touched.how = "touched";
    const Fact fact = touched;
    ChainEnd end{"benchmark", {}, {}};
    end.clock.heard(entries.back().filed);
    Act act;
    act.who = "technician 1";
    act.id = "act";
    act.happened = act.now = entries.back().filed;
    act.facts.push_back(fact);
    for (auto _ : state) {
        for (auto& record : recordsOf(act, end)) entries.push_back(entryOf(std::move(record)));
        fold.update(entries, 1794902400);
        benchmark::DoNotOptimize(fold.state().lastEntryAt);
    }
}
BENCHMARK(EntryIsAddedTo100000)->Unit(benchmark::kMillisecond);

/// From the key to the acknowledgement: an entry with its hash, on the disk.
void ActIsFiledInto100000(benchmark::State& state)
{
    const QTemporaryDir folder;
    const QString copy = folder.filePath(QStringLiteral("copy.clendo"));
    QFile::copy(longJob(), copy);
    const auto store = JobStore::open(copy);
    if (!store || !(*store)->readOnlyReason().empty()) return state.SkipWithError("the job cannot be written");
    FaceHandled touched;
    touched.face = {"VP-04/1", End::A, Side::Cord};
    touched.how = "touched";
    Act act;
    act.who = "technician 1";
    act.facts.emplace_back(touched);
    for (auto _ : state) {
        act.happened = act.now = timeOfDay();
        if (!(*store)->append(act)) return state.SkipWithError("not filed");
    }
}
BENCHMARK(ActIsFiledInto100000)->Unit(benchmark::kMillisecond)->UseRealTime();

std::unique_ptr<JobService> longService(const QTemporaryDir& folder)
{
    const QString copy = folder.filePath(QStringLiteral("served.clendo"));
    QFile::copy(longJob(), copy);
    auto read = readJob(copy);
    auto service = read ? std::make_unique<JobService>(std::move(*read)) : nullptr;
    // what is filed first brings the rules that the job uses: once in its life
    if (service && !service->post("technician 1", Filing{{KitKept{"RC-9", "cord", {"LC"}, {}, 0, 0, "sm-upc", false}}, {}, 0}).get()) return nullptr;
    return service;
}

/// A reading of one link of many, with a reference for some.
Filing reading(int n)
{
    PowerRead read{"VP-04/" + std::to_string(n % 864 + 1), Nanometre(1310), Direction::AtoB, DecibelMilliwatt(-8.5), {}, {}};
    return {{std::move(read)}, {}, 0};
}

/// What posting costs who posts; nothing is waited for.
void ReadingIsPosted(benchmark::State& state)
{
    const QTemporaryDir folder;
    const auto service = longService(folder);
    if (!service) return state.SkipWithError("the job cannot be read");
    int n = 0;
    for (auto _ : state) {
        auto done = service->post("technician 1", reading(++n));
        state.PauseTiming();
        if (!done.get()) return state.SkipWithError("not filed");
        state.ResumeTiming();
    }
}
BENCHMARK(ReadingIsPosted)->Unit(benchmark::kMillisecond)->UseRealTime()->Iterations(200);

/// From posting to the snapshot that has it, the disk included.
void SnapshotOfAReadingIsThere(benchmark::State& state)
{
    const QTemporaryDir folder;
    const auto service = longService(folder);
    if (!service) return state.SkipWithError("the job cannot be read");
    int n = 0;
    for (auto _ : state)
        if (!service->post("technician 1", reading(++n)).get()) return state.SkipWithError("not filed");
}
BENCHMARK(SnapshotOfAReadingIsThere)->Unit(benchmark::kMillisecond)->UseRealTime();

std::vector<Entry> largePlan()
{
    Journal j;
    for (int n = 1; n <= 20; ++n) {
        CablePlan cable = varrowCable(288);
        cable.id = "VP-" + std::to_string(n + 20);
        j.add(CablePlanned{cable});
    }
    return j.entries;
}

/// 20 cables of 288 fibres, from the journal to what is to be done.
void LargePlanIsFoldedAndListed(benchmark::State& state)
{
    const auto entries = largePlan();
    const Rules rules(dataFolder());
    for (auto _ : state) benchmark::DoNotOptimize(roundOf(fold(entries, rules, 1794902400)).all);
}
BENCHMARK(LargePlanIsFoldedAndListed)->Unit(benchmark::kMillisecond);

/// One frame of the round of that plan, scrolled by a page.
void RoundScrollsAPage(benchmark::State& state)
{
    const auto shown = std::make_shared<const JobState>(fold(largePlan(), Rules(dataFolder()), 1794902400));
    RoundView view;
    view.resize(300, 700);
    view.show(shown, roundOf(*shown), nextSteps(*shown, roundOf(*shown).left, {}), {"VP-21/1", End::A, Side::Cord}, {});
    view.QWidget::show();
    QApplication::processEvents();
    auto* area = view.findChild<QScrollArea*>();
    QImage picture(area->size(), QImage::Format_RGB32);
    int at = 0;
    for (auto _ : state) {
        at = (at + 500) % std::max(1, area->verticalScrollBar()->maximum());
        area->verticalScrollBar()->setValue(at);
        area->render(&picture);
    }
}
BENCHMARK(RoundScrollsAPage)->Unit(benchmark::kMillisecond);

/// The round after a key, with all that it lists and counts.
void RoundIsShown(benchmark::State& state)
{
    const auto shown = std::make_shared<const JobState>(fold(largePlan(), Rules(dataFolder()), 1794902400));
    RoundView view;
    view.resize(300, 700);
    for (auto _ : state) {
        view.show(shown, roundOf(*shown), nextSteps(*shown, roundOf(*shown).left, {}), {"VP-21/1", End::A, Side::Cord}, {});
        benchmark::DoNotOptimize(view.grab().width());
    }
}
BENCHMARK(RoundIsShown)->Unit(benchmark::kMillisecond);

void JournalOf100000EntriesIsShown(benchmark::State& state)
{
    (void)job();
    JournalView desk;
    desk.resize(900, 600);
    for (auto _ : state) {
        desk.show(snapshot(), {"VP-04/1", End::A, Side::Cord});
        benchmark::DoNotOptimize(desk.grab().width());
    }
}
BENCHMARK(JournalOf100000EntriesIsShown)->Unit(benchmark::kMillisecond);

void JournalScrollsAPage(benchmark::State& state)
{
    JournalView desk;
    desk.resize(900, 600);
    desk.QWidget::show();
    desk.show(snapshot(), {"VP-04/1", End::A, Side::Cord});
    QApplication::processEvents();
    auto* table = desk.findChild<QTableView*>();
    QImage picture(table->size(), QImage::Format_RGB32);
    int at = 0;
    for (auto _ : state) {
        at = (at + 977) % std::max(1, table->verticalScrollBar()->maximum());
        table->verticalScrollBar()->setValue(at);
        table->render(&picture);
    }
}
BENCHMARK(JournalScrollsAPage)->Unit(benchmark::kMillisecond);

void JournalIsSearched(benchmark::State& state)
{
    (void)job();
    for (auto _ : state) benchmark::DoNotOptimize(journalMatches(job().journal.all(), job().fold.state(), {"touched port 17", {}, {}, {}}).size());
}
BENCHMARK(JournalIsSearched)->Unit(benchmark::kMillisecond);

}  // namespace
