#pragma once
#include <CLI/CLI.hpp>
#include <optional>
#include <string>

#include "cli/commands.h"
#include "criteria/judge.h"
#include "face/face_report.h"
#include "face/picture.h"

namespace clendo::cli {

/// What is said of a picture of end faces to every command that reads one.
struct FaceOptions {
    std::string className = "sm-upc", fibres;
    double scale = 0, cladding = 125;  ///< um a pixel, 0: from the cladding; um

    /// How pictures of this class are measured.
    [[nodiscard]] face::MeasureOptions measuring(const FaceClass& faceClass) const;
};

/// By what faces are judged.
struct FaceRules {
    Criteria criteria;
    FaceClass faceClass;
};
/// The criteria of an edition and the class that was asked for; nothing where one is not known: then the command was called wrongly, which is said.
std::optional<FaceRules> rulesFor(const FaceOptions& options, const std::string& edition, Outcome& outcome);

/// --class and --cladding-um.
void addFaceOptions(CLI::App& command, FaceOptions& options);
/// A range that is no number's: every comparison with NaN is false, and so it would pass.
CLI::Validator finiteIn(double low, double high);
/// The picture in a file.
Result<face::Picture> readPicture(const std::string& file);

}  // namespace clendo::cli
