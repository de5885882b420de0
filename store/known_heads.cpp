#include "store/known_heads.h"

#include <QDir>
#include <nlohmann/json.hpp>

#include "files/files.h"
#include "files/json_reading.h"
#include "files/log_file.h"

namespace clendo {
namespace {

QString folder() { return QString::fromStdString((stateFolder() / "heads").string()); }

}  // namespace

KnownHeads::KnownHeads(const Digest& job) : path_(QDir(folder()).filePath(QString::fromStdString(job.hex()) + QStringLiteral(".json")))
{
    const auto text = readFile(path_.toStdString(), std::size_t{1} << 20);
    const auto known = text ? nlohmann::json::parse(*text, nullptr, false) : nlohmann::json();
    if (!known.is_object()) return;
    for (const auto& [device, end] : known.items()) {
        JsonReading in(end, device);
        const auto sequence = static_cast<std::int64_t>(in.number("sequence", 1, 1e15));
        const auto hash = Digest::parse(in.text("hash"));
        if (!in.problem() && hash) ends_[device] = {sequence, *hash};
    }
}

void KnownHeads::filed(const std::string& device, const ChainHead& head)
{
    ends_[device] = head;
    auto known = nlohmann::json::object();
    for (const auto& [name, end] : ends_) known[name] = {{"sequence", end.sequence}, {"hash", end.hash.hex()}};
    if (QDir().mkpath(folder())) (void)writeFile(path_.toStdString(), known.dump(), Sync::No);
}

}  // namespace clendo
