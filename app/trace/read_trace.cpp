#include "app/trace/read_trace.h"

#include <filesystem>

#include "files/files.h"
#include "otdr/sor_reader.h"

namespace clendo {

Result<std::shared_ptr<const ReadTrace>> readTrace(const std::string& path)
{
    auto bytes = readFile(path);
    if (!bytes) return tl::unexpected(bytes.error());
    auto name = std::filesystem::path(path).filename().string();
    auto trace = otdr::readSor(*bytes, name);
    if (!trace) return tl::unexpected(trace.error());
    auto sha = sha256(*bytes);
    return std::make_shared<const ReadTrace>(ReadTrace{{std::move(name), std::move(*bytes)}, std::move(sha), std::move(*trace)});
}

TraceShot analysedShot(const ReadTrace& read, const std::string& link, Direction direction, const otdr::Cords& fromA, const ShotCords& shotWith)
{
    TraceShot shot;
    shot.link = link;
    shot.direction = direction;
    shot.trace = read.sha256;
    shot.traceName = read.file.name;
    shot.wavelength = read.trace.wavelength;
    shot.cords = direction == Direction::AtoB ? fromA : otdr::Cords{fromA.tail, fromA.launch};
    shot.found = otdr::analyse(read.trace, shot.cords);
    shot.launchEnd = shotWith.launch;
    shot.tailEnd = shotWith.tail;
    return shot;
}

}  // namespace clendo
