// Files that lie beside the demo job: what an OTDR and a production line saved.
#include "demo/demo_files.h"

#include <fmt/format.h>

#include <QDir>

#include "demo/demo_plan.h"
#include "files/files.h"
#include "otdr/sor_writer.h"
#include "pictures/decode.h"
#include "world/face_world.h"

namespace clendo {
namespace {

constexpr int crossedA = 11, crossedB = 12;  // in the scenario

/// The port at the other end of a fibre.
int otherEndOf(int fibre) { return fibre == crossedA ? crossedB : fibre == crossedB ? crossedA : fibre; }

}  // namespace

QString demoTraceName(int n, Direction d, int nm)
{
    const std::string_view way = name(d);
    return QStringLiteral("VP-04-%1-%2-%3.sor")
        .arg(n, 2, 10, QLatin1Char('0'))
        .arg(nm)
        .arg(QString::fromLatin1(way.data(), static_cast<qsizetype>(way.size())));
}

Result<void> writeTraces(const QString& folder, int n, world::World bench, std::int64_t takenAt)
{
    for (const Direction d : {Direction::AtoB, Direction::BtoA}) {
        const End here = d == Direction::AtoB ? End::A : End::B, there = d == Direction::AtoB ? End::B : End::A;
        for (const char* cord : {"launch 1/B", "launch 2/A"}) static_cast<void>(bench.part(cord));
        const bool ready = bench.connect("otdr 1", "launch 1/A").has_value() && bench.mate("launch 1/B", portOf(n, here)).has_value() &&
                           bench.mate("launch 2/A", portOf(otherEndOf(n), there)).has_value();
        if (!ready) return failure(Error::Code::Unexpected, "The demo's launch cords do not fit.");
        for (const int nm : {1310, 1550}) {
            std::get<world::Otdr>(bench.instrument("otdr 1")->unit).wavelength = Nanometre(nm);
            bench.wait(Second(20));
            auto trace = bench.trace("otdr 1");
            if (!trace) return tl::unexpected(trace.error());
            trace->cable = "VP-04";
            trace->fibre = std::to_string(n);
            trace->locationA = d == Direction::AtoB ? "Tide Hall" : "Breakwater Hut";
            trace->locationB = d == Direction::AtoB ? "Breakwater Hut" : "Tide Hall";
            trace->takenAt = takenAt;
            const auto ok = writeFile(QDir(folder).filePath(demoTraceName(n, d, nm)).toStdString(), otdr::writeSor(*trace));
            if (!ok) return ok;
        }
    }
    return {};
}

Result<void> writeLinePictures(const QString& folder)
{
    using world::Story;
    Result<void> out;
    const auto save = [&](const std::string& name, Story story, int cleanings, Micrometre blur, std::size_t most) {
        const auto seed = static_cast<std::uint32_t>(std::hash<std::string>{}(name.substr(0, 8)) % 1000);
        world::Camera camera;
        camera.width = 640;
        camera.height = 480;
        camera.scale = Scale(0.5);
        camera.blur = blur;
        camera.seed = seed + static_cast<std::uint32_t>(cleanings);
        const auto png = encodePng(world::takePicture(world::cleaned(world::makeFace(story, seed), cleanings, seed), camera));
        const auto ok = writeFile(QDir(folder).filePath(QString::fromStdString(name)).toStdString(), png.substr(0, most));
        if (!ok && out) out = ok;
    };
    constexpr auto whole = std::string::npos;
    constexpr Micrometre sharp{0.45}, blurred{3.5};
    for (const int n : {1, 2, 4, 5, 8, 10, 11}) save(fmt::format("cord-{:03}.png", n), Story::Clean, 0, sharp, whole);
    for (const int n : {3, 7}) {
        save(fmt::format("cord-{:03}.png", n), Story::SomeDust, 0, sharp, whole);
        save(fmt::format("cord-{:03}-try2.png", n), Story::SomeDust, 3, sharp, whole);
    }
    save("cord-006.png", Story::Scratched, 0, sharp, whole);
    save("cord-009.png", Story::Clean, 0, blurred, whole);
    save("cord-012.png", Story::Pitted, 0, sharp, whole);
    save("cord-013.png", Story::Clean, 0, sharp, 9000);
    return out;
}

}  // namespace clendo
