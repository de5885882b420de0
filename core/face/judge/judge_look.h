#pragma once
#include <optional>
#include <string>
#include <vector>

#include "criteria/judge.h"
#include "face/face_report.h"

namespace clendo::face {

/// What the criteria say of one look: a verdict, or why the picture is no evidence, in sentences.
struct LookVerdict {
    std::optional<Verdict> verdict;
    std::vector<std::string> reasons;  ///< empty where there is a verdict
};

/// The size of the smallest defect that a picture surely shows, by its scale and blur.
Micrometre resolves(const FaceMeasurement& look, const Criteria& criteria);

/// Judges a look. What is seen can fail a face at any magnification; a face passes only in a picture that shows what the criteria must see
/// (`Criteria::mustResolve`): a low magnification is good for loose dirt, the zones need a higher one.
LookVerdict judgeLook(const FaceMeasurement& look, const FaceClass& faceClass, const Criteria& criteria);

/// How many findings lie in the glass: those that touch zone A or B.
int countInGlass(const FaceMeasurement& look, const FaceClass& faceClass);

}  // namespace clendo::face
