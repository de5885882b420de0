#include <chrono>
#include <cmath>
#include <memory>

#include "cli/commands.h"
#include "face/face_json.h"
#include "files/files.h"
#include "pictures/decode.h"

namespace clendo::cli {
namespace {

struct FaceArguments {
    std::string className = "sm-upc", edition = "2015", fibres;
    double scale = 0, cladding = 125;
    std::vector<std::string> images;
};

nlohmann::json judgeImage(const std::string& image, const FaceArguments& arguments, const Profile& profile, const ConnectorCriteria& criteria)
{
    nlohmann::json out{{"image", image}};
    const auto bytes = readFile(image);
    if (!bytes) return out["error"] = toJson(bytes.error()), out;
    const auto picture = decodePicture(*bytes, image);
    if (!picture) return out["error"] = toJson(picture.error()), out;
    face::MeasureOptions options;
    if (arguments.scale > 0) options.scale = Scale(arguments.scale);
    options.cladding = Micrometre(arguments.cladding);
    if (arguments.fibres == "auto" || (arguments.fibres.empty() && criteria.rectangular))
        options.fibres.reset();
    else if (!arguments.fibres.empty())
        options.fibres = std::stoi(arguments.fibres);
    const auto start = std::chrono::steady_clock::now();
    out["width_px"] = picture->width;
    out["height_px"] = picture->height;
    out["faces"] = nlohmann::json::array();
    for (const auto& face : face::measure(*picture, options)) {
        std::optional<Verdict> verdict;
        if (face.usable()) verdict = judge(face.findings, criteria, profile);
        out["faces"].push_back(clendo::toJson(face, verdict, criteria));
    }
    out["elapsed_ms"] = rounded(std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - start).count(), 1);
    out["criteria"] = {
        {"name", profile.name}, {"version", profile.version}, {"class", criteria.name}, {"sha256", profile.hash}, {"checked", profile.checked}};
    return out;
}

void run(const FaceArguments& arguments, Outcome& outcome)
{
    const auto profile = loadProfile(arguments.edition, dataFolder());
    const auto criteria = profile.and_then([&](const Profile& p) { return p.find(arguments.className); });
    if (!criteria) {
        std::cerr << criteria.error().message << "\n";
        outcome.status = 2;
        return;
    }
    for (const auto& image : arguments.images) {
        const auto line = judgeImage(image, arguments, *profile, *criteria);
        if (line.contains("error")) outcome.status = 1;
        print(line);
    }
}

}  // namespace

void addFaceCommand(CLI::App& program, Outcome& outcome)
{
    auto arguments = std::make_shared<FaceArguments>();
    auto* command = program.add_subcommand("face", "Judge pictures of end faces");
    command->add_option("--class", arguments->className, "sm-upc, sm-apc, sm-pc, mm-pc, sm-multi, mm-multi");
    command->add_option("--edition", arguments->edition, "2009, 2015 or the path of a criteria file");
    command->add_option("--um-per-px", arguments->scale, "scale of a calibrated scope")->check(CLI::Range(0.01, 20.0));
    command->add_option("--cladding-um", arguments->cladding, "nominal cladding diameter")->check(CLI::Range(20.0, 1000.0));
    command->add_option("--fibers", arguments->fibres, "how many fibres the picture shows, or auto")
        ->check(CLI::Validator(
            [](const std::string& text) {
                const bool number =
                    !text.empty() && text.size() < 4 && text.find_first_not_of("0123456789") == std::string::npos && std::stoi(text) >= 1;
                return text == "auto" || number ? std::string() : std::string("a number from 1, or auto");
            },
            "N|auto"));
    command->add_option("images", arguments->images, "PNG, JPEG, TIFF or BMP files")->required();
    command->callback([arguments, &outcome] { run(*arguments, outcome); });
}

}  // namespace clendo::cli
