// A certificate of 288 fibres at two wavelengths, both ways, with 1,152 traces and 1,152 pictures of 1280 x 960.
#include <benchmark/benchmark.h>
#include <sys/resource.h>

#include <QTemporaryDir>
#include <nlohmann/json.hpp>

#include "otdr/sor_writer.h"
#include "pictures/decode.h"
#include "record/output/certificate.h"
#include "report/certificate/delivery.h"
#include "report/certificate/pages.h"
#include "seal/check_folder.h"
#include "tests/varrow_journal.h"
#include "world/simulated_faces.h"
#include "world/trace_world.h"

using namespace clendo;

namespace {

constexpr int fibres = 288;

/// The largest that this program was, in MB.
double peak()
{
    rusage used{};
    getrusage(RUSAGE_SELF, &used);
    return static_cast<double>(used.ru_maxrss) / 1024;
}

class LargeJob {
public:
    LargeJob()
    {
        for (int n = 0; n < 8; ++n) pictures_.push_back(encodePng(simulatedPicture({"VP-04/" + std::to_string(n + 1), End::A, Side::Port}, n % 3)));
        for (const double nm : {1310.0, 1550.0}) {
            world::Shot shot;
            shot.wavelength = Nanometre(nm);
            traces_.push_back(otdr::writeSor(world::shoot({{Metre(150), DecibelPerKilometre(0.35), Decibel(0.3), Decibel(-50)},
                                                           {Metre(1180), DecibelPerKilometre(0.35), Decibel(0.1), {}},
                                                           {Metre(1220), DecibelPerKilometre(0.35), Decibel(0.3), Decibel(-45)},
                                                           {Metre(150), DecibelPerKilometre(0.35), Decibel(30), Decibel(-15)}},
                                                          shot)));
        }
        Journal j;
        CablePlan cable = varrowCable(fibres);
        j.add(CablePlanned{cable});
        j.light(-7, -8.5);
        for (int n = 1; n <= fibres; ++n) fibre(j, "VP-04/" + std::to_string(n));
        state = j.state();
        entries = std::move(j.entries);
    }

    [[nodiscard]] EvidenceSource source() const
    {
        return [this](const std::string& sha) -> Result<std::string> {
            const auto it = evidence_.find(sha);
            if (it == evidence_.end()) return failure(Error::Code::JobDamaged, "gone");
            return it->second;
        };
    }
    [[nodiscard]] nlohmann::json body() const { return certificate(state, "VP-04", {{}, entries, {}}).value(); }

    JobState state;
    std::vector<Entry> entries;

private:
    /// The same picture, another file: what stands behind the last chunk of a PNG is nobody's.
    std::string keep(const std::string& bytes)
    {
        std::string own = bytes + std::to_string(evidence_.size());
        std::string sha = sha256(own);
        evidence_.emplace(sha, std::move(own));
        return sha;
    }
    void fibre(Journal& j, const std::string& id)
    {
        for (const End end : {End::A, End::B}) {
            for (const Side side : {Side::Cord, Side::Port}) {
                FaceSeen seen{{id, end, side}, keep(pictures_[evidence_.size() % pictures_.size()]), "p.png", {}, {}};
                seen.measured.claddingDiameter = Pixel(400);
                j.add(seen);
            }
            j.add(SleeveCleaned{id, end}).add(Mated{id, end});
        }
        for (const auto d : {Direction::AtoB, Direction::BtoA})
            for (const double nm : {1310.0, 1550.0}) {
                j.add(PowerRead{id, Nanometre(nm), d, DecibelMilliwatt(-8.5), {}, {}});
                TraceShot taken = shot(d, 0.1, nm);
                taken.link = id;
                taken.trace = keep(traces_[nm > 1400 ? 1 : 0]);
                j.add(taken);
            }
    }

    std::vector<std::string> pictures_, traces_;
    std::map<std::string, std::string> evidence_;
};

const LargeJob& job()
{
    static const LargeJob made;
    return made;
}

void recordOfTheCable(benchmark::State& state)
{
    for (auto _ : state) benchmark::DoNotOptimize(job().body());
}
BENCHMARK(recordOfTheCable)->Unit(benchmark::kMillisecond);

void pdf(benchmark::State& state)
{
    const auto body = job().body();
    std::size_t bytes = 0;
    for (auto _ : state) bytes = certificatePdf(body, job().source(), {state.range(0) == 1, {}, 5}).value().size();
    state.counters["MB"] = static_cast<double>(bytes) / 1e6;
    state.counters["peak_MB"] = peak();
}
BENCHMARK(pdf)->ArgName("fibre_pages")->Arg(0)->Arg(1)->Unit(benchmark::kMillisecond)->UseRealTime();

void folder(benchmark::State& state)
{
    const QTemporaryDir dir;
    const auto body = job().body();
    const auto key = seal::SigningKey::make("technician 1");
    for (auto _ : state) benchmark::DoNotOptimize(writeCertificates({body}, job().source(), dir.path(), {true, true, &key, 5}).value());
    state.counters["peak_MB"] = peak();
}
BENCHMARK(folder)->Unit(benchmark::kMillisecond)->UseRealTime();

void verify(benchmark::State& state)
{
    const QTemporaryDir dir;
    const auto key = seal::SigningKey::make("technician 1");
    const auto files = writeCertificates({job().body()}, job().source(), dir.path(), {true, true, &key, 5}).value();
    std::size_t bytes = 0;
    for (auto _ : state) {
        const auto check = seal::checkFolder(dir.filePath("VP-04").toStdString(), {}).value();
        if (!check.ok()) state.SkipWithError("changed");
        bytes = 0;
        for (const auto& f : check.seal->statement.files) bytes += f.bytes;
    }
    state.counters["folder_MB"] = static_cast<double>(bytes) / 1e6;
    state.counters["files"] = static_cast<double>(files.paths.size());
}
BENCHMARK(verify)->Unit(benchmark::kMillisecond)->UseRealTime();

}  // namespace

int main(int argc, char** argv)
{
    benchmark::Initialize(&argc, argv);
    benchmark::DoNotOptimize(job());  // made before anything is timed
    benchmark::RunSpecifiedBenchmarks();
    return 0;
}
