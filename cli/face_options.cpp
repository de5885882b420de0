#include "cli/face_options.h"

#include <fmt/format.h>

#include <charconv>
#include <iostream>

#include "files/files.h"
#include "pictures/decode.h"

namespace clendo::cli {

CLI::Validator finiteIn(double low, double high)
{
    return CLI::Validator(
        [low, high](const std::string& text) {
            double value = 0;
            const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
            const bool good = error == std::errc{} && end == text.data() + text.size() && value >= low && value <= high;
            return good ? std::string() : fmt::format("a number from {} to {}", low, high);
        },
        fmt::format("{}..{}", low, high));
}

face::MeasureOptions FaceOptions::measuring(const FaceClass& faceClass) const
{
    face::MeasureOptions out;
    if (scale > 0) out.scale = Scale(scale);
    out.cladding = Micrometre(cladding);
    if (fibres == "auto" || (fibres.empty() && faceClass.rectangular))
        out.fibres.reset();
    else if (!fibres.empty())
        out.fibres = std::stoi(fibres);
    return out;
}

std::optional<FaceRules> rulesFor(const FaceOptions& options, const std::string& edition, Outcome& outcome)
{
    const auto criteria = loadCriteria(edition, dataFolder());
    const auto faceClass = criteria.and_then([&](const Criteria& c) { return c.find(options.className); });
    if (faceClass) return FaceRules{*criteria, *faceClass};
    std::cerr << faceClass.error().message << "\n";
    outcome.status = 2;
    return std::nullopt;
}

void addFaceOptions(CLI::App& command, FaceOptions& options)
{
    command.add_option("--class", options.className, "sm-upc, sm-apc, sm-pc, mm-pc, sm-multi, sm-multi-apc, mm-multi");
    command.add_option("--cladding-um", options.cladding, "nominal cladding diameter")->check(finiteIn(20.0, 1000.0));
}

Result<face::Picture> readPicture(const std::string& file)
{
    return readFile(file).and_then([&](const std::string& bytes) { return decodePicture(bytes, file); });
}

}  // namespace clendo::cli
