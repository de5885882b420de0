// A cable of 288 fibres, read at two wavelengths both ways: what one more reading costs until it is painted.
#include <benchmark/benchmark.h>

#include "app/frame/job_session.h"
#include "app/loss/loss_desk.h"
#include "record/rules/cable_findings.h"
#include "tests/varrow_journal.h"
#include "tests/window_driver.h"

using namespace clendo;

namespace {

constexpr int fibres = 288;

std::string linkOf(int n) { return "VP-04/" + std::to_string(n); }

/// References first; then every fibre, a little unlike its neighbours.
std::vector<Fact> readings()
{
    std::vector<Fact> out;
    for (const auto d : {Direction::AtoB, Direction::BtoA})
        for (int n = 1; n <= fibres; ++n)
            for (const double nm : {1310.0, 1550.0})
                out.emplace_back(PowerRead{linkOf(n), Nanometre(nm), d, DecibelMilliwatt(-8.4 - 0.01 * (n * 7 % 23)), {}, {}});
    return out;
}

std::vector<Fact> references()
{
    std::vector<Fact> out;
    for (const auto d : {Direction::AtoB, Direction::BtoA})
        for (const double nm : {1310.0, 1550.0}) out.emplace_back(ReferenceSet{ReferenceMethod::OneCord, Nanometre(nm), d, DecibelMilliwatt(-7.02)});
    return out;
}

JobSettings settings()
{
    JobSettings job;
    job.name = "Varrow Point";
    job.policies["reference_fibres"] = "never";
    return job;
}

/// Every loss, limit and uncertainty of the cable, and its model, from the journal.
void CableIsComputed(benchmark::State& state)
{
    Journal j;
    j.set(settings());
    j.add(CablePlanned{varrowCable(fibres)});
    j.act(references());
    const auto set = j.state();
    auto facts = readings();
    for (auto& fact : facts) {
        auto& read = std::get<PowerRead>(fact);
        read.reference = set.reference(read.direction, read.wavelength)->entry;
    }
    j.act(std::move(facts));
    const Rules rules(dataFolder());
    for (auto _ : state) {
        const JobState now = fold(j.entries, rules, 0);
        if (!cableModel(now, now.plan->cables.front()) || !now.state(linkOf(fibres)).loss) return state.SkipWithError("nothing was computed");
    }
}
BENCHMARK(CableIsComputed)->Unit(benchmark::kMillisecond);

/// From filing a reading to the window painted with it: the disk, the fold, the advice, the cable's model, the view.
void ReadingIsPainted(benchmark::State& state)
{
    const QTemporaryDir folder;
    MainWindow window;
    window.resize(1280, 800);
    if (!created(window, folder.filePath(QStringLiteral("light.clendo")), QStringLiteral("Varrow Point"))) return state.SkipWithError("no job");
    JobSession& session = *window.session();
    const bool ready = filed(session, Filing{settingFacts(session.state().plan->job, settings()), {}, 0}) &&
                       filed(session, CablePlanned{varrowCable(fibres)}) && filed(session, references()) && filed(session, readings());
    if (!ready) return state.SkipWithError("not filed");
    window.choose({linkOf(144), End::A, Side::Port});
    window.showDesk(QStringLiteral("loss"));
    window.show();
    QApplication::processEvents();
    QImage picture(window.size(), QImage::Format_RGB32);
    int n = 0;
    for (auto _ : state) {
        const double level = -8.4 - 0.01 * (++n % 20);
        if (!filed(session, PowerRead{linkOf(144), Nanometre(1310), Direction::AtoB, DecibelMilliwatt(level), {}, {}}))
            return state.SkipWithError("not filed");
        QApplication::processEvents();
        window.render(&picture);
    }
}
BENCHMARK(ReadingIsPainted)->Unit(benchmark::kMillisecond)->UseRealTime();

}  // namespace
