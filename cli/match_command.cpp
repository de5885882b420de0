#include <cmath>
#include <iostream>
#include <memory>
#include <nlohmann/json.hpp>
#include <optional>
#include <vector>

#include "cli/commands.h"
#include "cli/face_options.h"
#include "cli/qt_core.h"
#include "face/face_json.h"
#include "face/memory/match_faces.h"
#include "result/guarded.h"

namespace clendo::cli {
namespace {

struct MatchArguments {
    FaceOptions face;
    std::vector<std::string> images;  ///< the first is held against all others
};

/// The fibres that a picture shows, to be known again.
struct Shown {
    face::Picture picture;
    std::vector<std::optional<face::Fingerprint>> fibres;
    nlohmann::json reasons = nlohmann::json::array();  ///< why it is no evidence

    [[nodiscard]] bool evidence() const
    {
        return std::any_of(fibres.begin(), fibres.end(), [](const auto& f) { return f.has_value(); });
    }
};

Result<Shown> shownIn(const std::string& image, const face::MeasureOptions& options)
{
    const auto picture = readPicture(image);
    if (!picture) return tl::unexpected(picture.error());
    return guardedResult([&] {
        Shown out{*picture, {}};
        for (const auto& face : face::measure(*picture, options)) {
            out.fibres.push_back(face::fingerprintOf(*picture, face));
            for (const auto reason : face.retake) out.reasons.push_back(face::sentenceOf(reason));
        }
        return out;
    });
}

/// Of a ferrule with several fibres, the one that tells most: any of them tells the ferrule.
face::FaceMatch matched(const Shown& a, const Shown& b)
{
    std::vector<face::FaceMatch> all;
    for (std::size_t i = 0; i < std::min(a.fibres.size(), b.fibres.size()); ++i)
        if (a.fibres[i] && b.fibres[i]) all.push_back(face::matchFaces(*a.fibres[i], *b.fibres[i]));
    const auto tells = [](const face::FaceMatch& m) { return m.answer == face::SameFace::Same ? 2 : m.answer == face::SameFace::Different ? 1 : 0; };
    const auto best = std::max_element(all.begin(), all.end(), [&](const auto& x, const auto& y) {
        return tells(x) != tells(y) ? tells(x) < tells(y) : x.falseMatchRate > y.falseMatchRate;
    });
    return best == all.end() ? face::FaceMatch{} : *best;
}

nlohmann::json compared(const Shown& a, const Shown& b)
{
    if (a.evidence() && a.picture.width == b.picture.width && a.picture.pixels == b.picture.pixels)
        return {{"answer", name(face::SameFace::Same)},
                {"score", 1},
                {"false_match_rate", 0},
                {"turn_deg", 0},
                {"marks_used", 0},
                {"same_picture", true}};
    if (!a.evidence() || !b.evidence()) {
        nlohmann::json out{{"answer", name(face::SameFace::CannotTell)},
                           {"score", nullptr},
                           {"false_match_rate", nullptr},
                           {"turn_deg", nullptr},
                           {"marks_used", 0}};
        out["reasons"] = (a.evidence() ? b : a).reasons;
        return out;
    }
    const face::FaceMatch m = matched(a, b);
    return {{"answer", name(m.answer)},
            {"score", rounded(m.score, 3)},
            {"false_match_rate", m.falseMatchRate},
            {"turn_deg", m.turnDegrees ? nlohmann::json(rounded(*m.turnDegrees, 1)) : nlohmann::json()},
            {"marks_used", m.marksUsed}};
}

void run(const MatchArguments& arguments, Outcome& outcome)
{
    if (arguments.images.size() < 2) {
        std::cerr << "match needs a picture and at least one to hold against it.\n";
        outcome.status = 2;
        return;
    }
    const auto rules = rulesFor(arguments.face, "2015", outcome);
    if (!rules) return;
    const QtCore qt;  // pictures are read through Qt
    const auto options = arguments.face.measuring(rules->faceClass);
    const auto first = shownIn(arguments.images.front(), options);
    for (std::size_t i = 1; i < arguments.images.size(); ++i) {
        nlohmann::json line{{"image", arguments.images[i]}, {"against", arguments.images.front()}};
        const auto other = shownIn(arguments.images[i], options);
        if (const auto* failed = !first ? &first : !other ? &other : nullptr) {
            line["error"] = toJson(failed->error());
            outcome.status = 1;
        } else {
            line.update(compared(*first, *other));
        }
        print(line);
    }
}

}  // namespace

void addMatchCommand(CLI::App& program, Outcome& outcome)
{
    auto arguments = std::make_shared<MatchArguments>();
    auto* command = program.add_subcommand("match", "Is the face in the first picture the one in each of the others?");
    addFaceOptions(*command, arguments->face);
    command->add_option("images", arguments->images, "PNG, JPEG, TIFF or BMP files, the first held against all others")->required();
    command->callback([arguments, &outcome] { run(*arguments, outcome); });
}

}  // namespace clendo::cli
