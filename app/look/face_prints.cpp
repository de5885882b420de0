#include "app/look/face_prints.h"

#include "pictures/decode.h"

namespace clendo {
namespace {

constexpr std::size_t mostKept = 500;  // fingerprints: a third of a megabyte each

}  // namespace

std::vector<LookHeld> lastLooks(const JobState& state, const FaceId& first, const std::string& notThis)
{
    std::vector<LookHeld> out;
    for (const auto& [id, one] : state.faces)
        for (auto look = one.looks.rbegin(); look != one.looks.rend(); ++look) {
            if (look->seen.picture == notThis || !look->seen.measured.usable()) continue;
            out.insert(id == first ? out.begin() : out.end(), LookHeld{id, look->seen.picture, look->seen.measured, look->at});
            break;
        }
    return out;
}

FacePrints::Print FacePrints::of(const Vision& module, const LookHeld& look, const EvidenceSource& evidence)
{
    const std::string key = look.picture + look.face.text();
    {
        const std::lock_guard lock(mutex_);
        if (const auto it = prints_.find(key); it != prints_.end()) return it->second;
    }
    const auto picture = pictureOf(look.picture, evidence);
    const Print print = picture ? module.fingerprint(*picture, look.measured) : nullptr;
    const std::lock_guard lock(mutex_);
    if (prints_.size() >= mostKept) prints_.clear();
    prints_.emplace(key, print);
    return print;
}

std::shared_ptr<const face::Picture> FacePrints::pictureOf(const std::string& sha, const EvidenceSource& evidence)
{
    {
        const std::lock_guard lock(mutex_);
        if (last_.first == sha) return last_.second;
    }
    const auto bytes = evidence(sha);
    auto decoded = bytes ? decodePicture(*bytes, sha) : tl::unexpected(bytes.error());
    if (!decoded) return nullptr;
    auto picture = std::make_shared<const face::Picture>(std::move(*decoded));
    const std::lock_guard lock(mutex_);
    last_ = {sha, picture};
    return picture;
}

}  // namespace clendo
