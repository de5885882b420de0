#pragma once
#include <nlohmann/json_fwd.hpp>
#include <optional>
#include <span>
#include <string>
#include <vector>

#include "batch/cord_line.h"
#include "criteria/judge.h"
#include "face/face_report.h"
#include "face/judge/judge_look.h"

namespace clendo {

struct JudgedFace {
    face::FaceMeasurement measured;
    face::LookVerdict judged;
};

/// One picture of many.
struct SheetRow {
    std::string file;
    std::string cord;            ///< pictures of the same cord share it
    std::optional<Error> error;  ///< why the file could not be judged
    std::vector<JudgedFace> faces;
    std::string end{};  ///< "A" or "B" where the ends of a cord are looked at one by one

    [[nodiscard]] std::string called() const { return cordWords(cord, end); }
};

enum class SheetOutcome { NotFit, Retake, Broken, NearLimit, Fit };  ///< in the order in which a person wants to see them
std::string_view name(SheetOutcome outcome);
inline bool isFit(SheetOutcome outcome) { return outcome == SheetOutcome::Fit || outcome == SheetOutcome::NearLimit; }
/// Whether the picture says anything of the face.
inline bool isEvidence(SheetOutcome outcome) { return isFit(outcome) || outcome == SheetOutcome::NotFit; }
/// Of a picture with several fibres the worst counts.
SheetOutcome outcomeOf(const SheetRow& row);
/// "particle of 6.2 µm in zone B" of the finding that broke a rule, the reason for a retake, or the error.
std::string whyOf(const SheetRow& row, const FaceClass& faceClass);

/// How bad a row is. Computed once a row: sorting many compares it often.
struct Severity {
    SheetOutcome outcome = SheetOutcome::Fit;
    std::size_t breaking = 0;  ///< findings that break a rule
    Micrometre largest;        ///< of those
    /// Whether this row stands before the other.
    [[nodiscard]] bool worseThan(const Severity& other) const;
};
Severity severityOf(const SheetRow& row);

/// Worst first: not fit by how much breaks the rules, then what must be taken again, what cannot be read, what is near a limit, and the rest.
void sortWorstFirst(std::vector<SheetRow>& rows);

/// The cord that a file shows, by its name: "cord-012-try2.png" is another look at "cord-012".
std::string cordOfFile(std::string_view file);

/// Counts over rows in the order in which they were taken. A cord is right at the first time when the first look that was evidence
/// was fit, at each of its ends.
struct SheetTally {
    int pictures = 0, fit = 0, notFit = 0, retake = 0, broken = 0;
    int cords = 0, cordsFit = 0, firstTimeRight = 0;
};
SheetTally tallyOf(std::span<const SheetRow> rows);

/// One line per fibre with a head line; fields by RFC 4180. Text that a spreadsheet would run as a formula is made plain.
std::string sheetCsv(std::span<const SheetRow> rows, const FaceClass& faceClass);
/// The faces as clendo-cli prints them, with the tally and the criteria.
nlohmann::json sheetJson(std::span<const SheetRow> rows, const FaceClass& faceClass, const Criteria& criteria);

}  // namespace clendo
