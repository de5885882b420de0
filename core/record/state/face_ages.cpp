#include "record/state/face_ages.h"

#include <utility>

namespace clendo {

void FaceAges::expect(const FaceId& face, std::optional<std::int64_t> at)
{
    forget(face);
    expected_.emplace(face, at);
    if (at) queue_.emplace(*at, face);
}

void FaceAges::forget(const FaceId& face)
{
    const auto known = expected_.find(face);
    if (known == expected_.end()) return;
    if (known->second) queue_.erase({*known->second, face});
    expected_.erase(known);
}

std::optional<std::int64_t> FaceAges::next() const { return queue_.empty() ? std::nullopt : std::optional(queue_.begin()->first); }

std::vector<FaceId> FaceAges::until(std::int64_t now)
{
    std::vector<FaceId> out;
    if (now < std::exchange(now_, now)) {
        for (const auto& [face, at] : expected_) out.push_back(face);
        expected_.clear();
        queue_.clear();
        return out;
    }
    while (!queue_.empty() && queue_.begin()->first <= now) {
        out.push_back(queue_.begin()->second);
        expected_.erase(queue_.begin()->second);
        queue_.erase(queue_.begin());
    }
    return out;
}

}  // namespace clendo
