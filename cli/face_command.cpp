#include <fmt/format.h>

#include <algorithm>
#include <atomic>
#include <chrono>
#include <cmath>
#include <condition_variable>
#include <filesystem>
#include <memory>
#include <mutex>
#include <nlohmann/json.hpp>
#include <thread>

#include "batch/sheet.h"
#include "cli/commands.h"
#include "cli/face_options.h"
#include "cli/qt_core.h"
#include "face/combine/combine_frames.h"
#include "face/face_json.h"
#include "files/files.h"
#include "result/guarded.h"

namespace clendo::cli {
namespace {

struct FaceArguments {
    FaceOptions face;
    std::string edition = "2015";
    bool combine = false;
    unsigned jobs = 1;
    std::string csv;
    std::vector<std::string> images;
};

/// Whether two paths lead to the same file, however they are written.
bool isInput(const std::string& path, const std::vector<std::string>& inputs)
{
    std::error_code ec;
    return std::any_of(inputs.begin(), inputs.end(),
                       [&](const std::string& input) { return input == path || std::filesystem::equivalent(input, path, ec); });
}

struct Judged {
    nlohmann::json line;
    SheetRow row;
};

Judged failed(const std::string& image, const Error& error)
{
    Judged out{{{"image", image}, {"error", toJson(error)}}, {}};
    out.row.file = image;
    out.row.cord = cordOfFile(image);
    out.row.error = error;
    return out;
}

/// What a picture shows, judged.
class Judging {
public:
    Judging(const FaceArguments& arguments, const FaceRules& rules)
        : options_(arguments.face.measuring(rules.faceClass)), criteria_(rules.criteria), class_(rules.faceClass)
    {
        if (arguments.jobs > 1) options_.cores = 1;  // the pictures are judged side by side
    }

    [[nodiscard]] Judged image(const std::string& file) const
    {
        const auto picture = readPicture(file);
        if (!picture) return failed(file, picture.error());
        return judged(file, *picture, std::chrono::steady_clock::now(), nlohmann::json::object());
    }

    /// All files are frames of one face: one answer, in the name of the first.
    [[nodiscard]] Judged combined(const std::vector<std::string>& files) const
    {
        std::vector<face::Picture> frames;
        std::vector<std::size_t> places;  // of the frames among the files
        nlohmann::json unread = nlohmann::json::array();
        std::optional<Error> unreadable;  // the first of them
        for (std::size_t i = 0; i < files.size(); ++i) {
            auto picture = readPicture(files[i]);
            if (!picture) {
                unread.push_back({{"image", files[i]}, {"error", toJson(picture.error())}});
                if (!unreadable) unreadable = picture.error();
                continue;
            }
            frames.push_back(std::move(*picture));
            places.push_back(i);
        }
        const auto start = std::chrono::steady_clock::now();
        nlohmann::json more{{"frames", files.size()}, {"frames_used", 0}};
        if (!unread.empty()) more["unread"] = unread;
        if (frames.empty()) {
            Judged out = failed(files.front(), *unreadable);
            out.line.update(more);
            return out;
        }
        const auto together = face::combineFrames(frames, options_);
        if (together) {
            more["frames_used"] = together->used.size();
            more["laid_over"] = files[places[together->used.front()]];
            more["best_frame"] = files[places[together->best]];
        }
        Judged out = judged(files.front(), together ? together->picture : frames.front(), start, more);
        out.row.error = unreadable;
        return out;
    }

private:
    [[nodiscard]] Judged judged(const std::string& file, const face::Picture& picture, std::chrono::steady_clock::time_point start,
                                const nlohmann::json& more) const
    {
        nlohmann::json out{{"image", file}, {"width_px", picture.width}, {"height_px", picture.height}, {"faces", nlohmann::json::array()}};
        SheetRow row{file, cordOfFile(file), {}, {}};
        for (const auto& face : face::measure(picture, options_)) {
            auto one = face::judgeLook(face, class_, criteria_);
            out["faces"].push_back(clendo::toJson(face, one, class_, criteria_));
            row.faces.push_back({face, std::move(one)});
        }
        out["elapsed_ms"] = rounded(std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - start).count(), 1);
        out["criteria"] = {{"name", criteria_.name},
                           {"version", criteria_.version},
                           {"class", class_.name},
                           {"sha256", criteria_.hash},
                           {"checked", criteria_.checked}};
        out.update(more);
        return {std::move(out), std::move(row)};
    }

    face::MeasureOptions options_;
    const Criteria& criteria_;
    const FaceClass& class_;
};

void run(const FaceArguments& arguments, Outcome& outcome)
{
    if (!arguments.csv.empty() && isInput(arguments.csv, arguments.images)) {
        std::cerr << "--csv names one of the pictures: it would be overwritten. Choose another name.\n";
        outcome.status = 2;
        return;
    }
    const auto rules = rulesFor(arguments.face, arguments.edition, outcome);
    if (!rules) return;
    // what Qt loads to read pictures belongs to the thread that touched Qt first: were that one of the readers, it would be taken down twice
    const QtCore qt;
    // pictures are judged by several threads and printed in their order, as soon as all before them are
    const Judging judging(arguments, *rules);
    std::vector<std::optional<Judged>> done(arguments.combine ? 1 : arguments.images.size());
    std::mutex mutex;
    std::condition_variable ready;
    std::atomic<std::size_t> next = 0;
    std::vector<std::jthread> threads;
    for (unsigned n = 0; n < std::min<std::size_t>(std::max(1U, arguments.jobs), done.size()); ++n)
        threads.emplace_back([&] {
            for (std::size_t i = next++; i < done.size(); i = next++) {
                const std::string& image = arguments.images[i];
                auto judged = guardedResult([&] { return arguments.combine ? judging.combined(arguments.images) : judging.image(image); });
                if (!judged) judged = failed(image, judged.error());
                const std::lock_guard lock(mutex);
                done[i] = std::move(*judged);
                ready.notify_one();
            }
        });
    std::vector<SheetRow> rows;
    for (auto& one : done) {
        std::unique_lock lock(mutex);
        ready.wait(lock, [&] { return one.has_value(); });
        if (one->row.error) outcome.status = 1;
        print(one->line);
        rows.push_back(std::move(one->row));
        one->line = nullptr;  // of 10,000 pictures only the rows are kept
    }
    if (arguments.csv.empty()) return;
    sortWorstFirst(rows);
    if (const auto written = writeFile(arguments.csv, sheetCsv(rows, rules->faceClass)); !written) {
        std::cerr << written.error().message << "\n";
        outcome.status = 1;
    }
}

}  // namespace

void addFaceCommand(CLI::App& program, Outcome& outcome)
{
    auto arguments = std::make_shared<FaceArguments>();
    auto* command = program.add_subcommand("face", "Judge pictures of end faces");
    addFaceOptions(*command, arguments->face);
    command->add_option("--edition", arguments->edition, "2009, 2015, pristine or the path of a criteria file");
    command->add_option("--um-per-px", arguments->face.scale, "scale of a calibrated scope")->check(finiteIn(0.01, 20.0));
    command->add_option("--fibers", arguments->face.fibres, "how many fibres the picture shows, or auto")
        ->check(CLI::Validator(
            [](const std::string& text) {
                const bool number =
                    !text.empty() && text.size() < 4 && text.find_first_not_of("0123456789") == std::string::npos && std::stoi(text) >= 1;
                return text == "auto" || number ? std::string() : std::string("a number from 1, or auto");
            },
            "N|auto"));
    command->add_flag("--combine", arguments->combine, "the pictures are frames of one face, held by hand: they are combined to one");
    command->add_option("--jobs", arguments->jobs, "how many pictures are judged at the same time")->check(CLI::Range(1, 256));
    command->add_option("--csv", arguments->csv, "also write a sheet, worst first");
    command->add_option("images", arguments->images, "PNG, JPEG, TIFF or BMP files")->required();
    command->callback([arguments, &outcome] { run(*arguments, outcome); });
}

}  // namespace clendo::cli
