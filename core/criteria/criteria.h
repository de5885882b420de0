#pragma once
#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "criteria/detection.h"
#include "criteria/finding.h"
#include "files/rule_files.h"
#include "result/result.h"

namespace clendo {

/// A ring of the face around the fibre's centre, by diameters: `from` included, `to` excluded.
struct ZoneRing {
    Zone zone = Zone::A;
    Micrometre from, to;
};

/// What a rule counts: findings of one kind; of any kind that looks like a crack.
enum class RuleKind { Scratch, Defect, Crack };

/// "In this zone at most `allowed` findings of this kind whose size lies in the band". A scratch's size is its width.
struct Rule {
    Zone zone = Zone::A;
    RuleKind kind = RuleKind::Defect;
    Micrometre lower;  ///< the band begins above this, or at it where `lowerIncluded`
    bool lowerIncluded = false;
    std::optional<Micrometre> upper;  ///< the band ends at this, included; nothing: no upper end
    std::optional<int> allowed;       ///< nothing: no limit
};

/// Zones and rules of one class of connector.
struct FaceClass {
    std::string name;   ///< "sm-upc"
    std::string title;  ///< for people
    bool multimode = false;
    bool rectangular = false;
    std::vector<ZoneRing> zones;  ///< from the centre outwards, without gap or overlap
    std::vector<Rule> rules;
};

/// Acceptance criteria as read from a file under data/criteria.
struct Criteria {
    std::string name, edition, version, source, note;
    std::string hash;      ///< SHA-256 of the file's bytes: which numbers a verdict rests on
    bool checked = false;  ///< whether its owner has compared it with a licensed copy
    Micrometre sizeUncertainty;
    double sizeUncertaintyShare = 0;  ///< of the size; the larger of the two counts
    Micrometre placeUncertainty;
    Micrometre mustResolve{2};        ///< a picture that shows only larger defects cannot pass a face
    DetectionTable detection;         ///< what pictures show; not part of the file, its own is beside it
    bool scratchInEveryZone = false;  ///< count a scratch in each zone that it crosses instead of the innermost only
    std::map<std::string, FaceClass, std::less<>> classes;

    /// The criteria of a class, or an Error that names the classes there are.
    [[nodiscard]] Result<FaceClass> find(std::string_view className) const;
};

/// Reads criteria. Refuses overlapping zones, negative counts, unknown words and anything missing, naming the place.
/// `detection`: what pictures show, by which it judges them.
Result<Criteria> parseCriteria(std::string_view json, DetectionTable detection = {});
/// `edition` is "2009", "2015", "pristine" or the path of a criteria file.
Result<Criteria> loadCriteria(std::string_view edition, const RuleFiles& rules);

/// The criteria as a file that parseCriteria reads: for copies that a house changes and hands on.
std::string criteriaText(const Criteria& criteria);

std::string_view name(RuleKind kind);
/// What a rule counts, for people: "defects 2 to 5 µm".
std::string bandWords(const Rule& rule);

}  // namespace clendo
