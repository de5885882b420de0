// trace_fuzz SECONDS [SEED] TRACE...: breaks OTDR files and their traces in many ways, reads and analyses what is left of them. Meant for the asan
// preset: any finding of the sanitizers, any exception, any event that is no number, out of order or outside the trace ends it. Says how many were
// tried.
#include <chrono>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <nlohmann/json.hpp>
#include <source_location>
#include <vector>

#include "broken.h"
#include "files/files.h"
#include "otdr/bidirectional.h"
#include "otdr/level_rows.h"
#include "otdr/line_tools.h"
#include "otdr/sor_file.h"
#include "otdr/sor_reader.h"
#include "otdr/sor_writer.h"
#include "otdr/thin.h"
#include "otdr/trace_json.h"

using namespace clendo;

namespace {

/// Settings and counts: a word of two or four bytes anywhere in the first part becomes one of those that hurt.
std::string brokenSettings(std::string bytes, Random& random)
{
    constexpr std::uint32_t hurting[] = {0, 1, 0x7FFF, 0x8000, 0xFFFF, 0x7FFFFFFF, 0x80000000U, 0xFFFFFFFFU, 100, 32767};
    for (std::size_t n = 1 + below(random, 3); n > 0; --n) {
        const std::size_t length = below(random, 2) == 0 ? 2 : 4, at = below(random, std::min<std::size_t>(bytes.size(), 900));
        const std::uint32_t value = hurting[below(random, std::size(hurting))];
        for (std::size_t i = 0; i < length && at + i < bytes.size(); ++i) bytes[at + i] = static_cast<char>(value >> (8 * i) & 0xFFU);
    }
    return bytes;
}

/// Levels: cut off, upside down, of noise, of steps, of nothing; few points, points that lie far apart.
otdr::Trace brokenTrace(otdr::Trace t, Random& random)
{
    const std::size_t keep = below(random, 3) == 0 ? 1 + below(random, t.level.size()) : t.level.size();
    t.level.resize(keep);
    t.distance.resize(keep);
    t.dark.resize(keep);
    for (std::size_t n = below(random, 4); n > 0; --n) {
        const std::size_t kind = below(random, 7), from = below(random, keep), length = 1 + below(random, keep - from);
        const float level = -0.001F * float(below(random, 65535));
        for (std::size_t i = from; i < from + length; ++i) {
            float& y = t.level[i];
            if (kind == 0) y = level;
            if (kind == 1) y = -60 - y;
            if (kind == 2) y += float(below(random, 4000)) * 0.001F - 2;
            if (kind == 3) y += (i / (1 + n * 37)) % 2 == 0 ? 0 : level / 10;
            if (kind == 4) t.dark[i] = true;
            if (kind == 5) y = 0;
            if (kind == 6 && i % 97 == 0) y = level / 20;
        }
    }
    if (below(random, 4) == 0) t.pulse = Nanosecond(double(1 + below(random, 30000)));
    if (below(random, 6) == 0)
        for (auto& z : t.distance) z *= float(1 + below(random, 200));
    if (below(random, 6) == 0) t.wavelength = Nanometre(double(below(random, 2000)));
    if (below(random, 6) == 0) t.backscatter = Decibel(-double(below(random, 120)));
    return t;
}

void demand(bool holds, std::source_location where = std::source_location::current())
{
    if (holds) return;
    std::fprintf(stderr, "does not hold: line %u\n", static_cast<unsigned>(where.line()));
    std::abort();
}

/// Marks anywhere, and the trace as a row among others.
void byHand(const otdr::Trace& t, const otdr::Analysis& found, Random& random)
{
    const auto anywhere = [&] { return Metre(double(below(random, 100000)) - 1000); };
    const otdr::LevelRow row(t, found, anywhere(), anywhere(), below(random, 2) == 0);
    const auto map = otdr::differenceMap({&row, &row, &row}, Metre(0), Metre(double(below(random, 100000))), 1 + below(random, 50));
    otdr::standingOut(map, 1 + below(random, 50), Decibel(0.1));
    if (t.level.empty()) return;
    const otdr::Signal signal(t);
    const Metre a = anywhere(), b = anywhere();
    const auto points = otdr::twoPointLoss(signal, a, b);
    demand(!points || std::isfinite(points->value()));
    const auto line = otdr::leastSquaresLoss(signal, std::min(a, b), std::max(a, b));
    demand(!line || std::isfinite(line->loss.value() + line->uncertainty.value()));
    if (const auto marks = otdr::marksFor(t, found.events, otdr::snapped(found.events, a, Metre(1e9)))) {
        const auto loss = otdr::fiveMarkLoss(signal, *marks);
        demand(!loss || std::isfinite(loss->loss.value()));
    }
}

/// What can be written again is the same; with other labels it can be taken apart again.
void writtenAgain(const std::string& bytes)
{
    auto file = otdr::SorFile::read(bytes, "fuzz");
    if (!file) return;
    demand(file->write() == bytes);
    if (!file->label({"VP-04", "a longer name than it had", std::string("zero\0inside", 11), ""})) return;
    const auto again = otdr::SorFile::read(file->write(), "again");
    demand(again.has_value());
}

void analysed(const otdr::Trace& t, Random& random)
{
    const auto cord = [&] { return Metre(below(random, 2) == 0 ? 0 : double(below(random, 2000))); };
    const otdr::Cords cords{cord(), cord()};
    const auto found = otdr::analyse(t, cords);
    double last = -1e12;
    for (const auto& e : found.events) {
        demand(std::isfinite(e.at.value()) && e.at.value() >= last - 1e-6);
        demand(t.distance.empty() || e.at.value() <= double(t.distance.back()) + t.spacing().value() + 1);
        last = e.at.value();
        for (const auto& value : {e.loss, e.lossUncertainty, e.reflectance}) demand(!value || std::isfinite(value->value()));
    }
    demand(!found.span || (std::isfinite(found.span->from.value() + found.span->to.value()) && found.span->length() > Metre(0)));
    const auto json = otdr::toJson(found);
    demand(otdr::analysisFromJson(json).has_value());
    otdr::thin(t, Metre(0), Metre(double(below(random, 50000))), 1 + below(random, 800));
    if (below(random, 8) == 0) otdr::toJson(otdr::combine(t, t, cords));
    for (const auto& s : found.sections) demand(std::isfinite(s.from.value() + s.to.value() + s.excess.value()) && s.from < s.to);
    byHand(t, found, random);
}

}  // namespace

int main(int argc, char** argv)
{
    if (argc < 4) return 2;
    const double seconds = std::atof(argv[1]);
    Random random(static_cast<std::uint32_t>(std::atoi(argv[2])));
    std::vector<std::string> seeds;
    for (int i = 3; i < argc; ++i)
        if (auto bytes = readFile(argv[i])) seeds.push_back(std::move(*bytes));
    if (seeds.empty()) return 2;
    const auto until = std::chrono::steady_clock::now() + std::chrono::duration<double>(seconds);
    long tried = 0, read = 0;
    while (std::chrono::steady_clock::now() < until) {
        const std::string& seed = seeds[below(random, seeds.size())];
        ++tried;
        const std::size_t how = below(random, 3);
        const std::string bytes = how == 0 ? brokenFile(seed, random) : how == 1 ? brokenSettings(seed, random) : seed;
        writtenAgain(bytes);
        auto trace = otdr::readSor(bytes, "fuzz");
        if (!trace) continue;
        ++read;
        if (how == 2) *trace = brokenTrace(std::move(*trace), random);
        analysed(*trace, random);
        if (how != 2 && below(random, 6) == 0) demand(otdr::readSor(otdr::writeSor(*trace), "again").has_value() || trace->level.empty());
    }
    std::printf("%ld files, %ld of them read and analysed\n", tried, read);
    return 0;
}
