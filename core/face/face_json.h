#pragma once
#include <nlohmann/json_fwd.hpp>

#include "criteria/judge.h"
#include "face/face_report.h"
#include "face/judge/judge_look.h"
#include "files/flat_json.h"

namespace clendo {

/// Findings, rules and faces as docs/cli.md describes them; values rounded to what the measurement can tell.
nlohmann::json toJson(const Finding& finding, std::optional<Zone> zone);
nlohmann::json toJson(const RuleOutcome& outcome);
/// One face with what the criteria say of it.
nlohmann::json toJson(const face::FaceMeasurement& face, const face::LookVerdict& judged, const FaceClass& faceClass, const Criteria& criteria);

/// A measurement as the journal keeps it, and back. Reading refuses what cannot be (sizes below zero, unknown words).
nlohmann::json measurementToJson(const face::FaceMeasurement& face);
Result<face::FaceMeasurement> measurementFromJson(FlatJson::Value value);

/// A number rounded to `digits` decimals, for output only.
double rounded(double value, int digits);

}  // namespace clendo
