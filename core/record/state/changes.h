#pragma once
#include <set>
#include <string>

#include "plant/face_id.h"

namespace clendo {

/// What is different in a state from the one before it.
struct Changes {
    bool all = false;             ///< the plan, the rules or what an earlier entry meant: anything
    std::set<FaceId> faces;       ///< by what was filed, by age or by what they touched
    std::set<std::string> links;  ///< of which something is different, their faces included
    bool entries = false;         ///< something was filed
    [[nodiscard]] bool none() const { return !all && !entries && faces.empty() && links.empty(); }
    /// What is different after both.
    void add(const Changes& later);
};

inline void Changes::add(const Changes& later)
{
    all = all || later.all;
    entries = entries || later.entries;
    faces.insert(later.faces.begin(), later.faces.end());
    links.insert(later.links.begin(), later.links.end());
}

}  // namespace clendo
