#include <fmt/format.h>

#include <QCoreApplication>
#include <algorithm>
#include <atomic>
#include <charconv>
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
#include "face/face_json.h"
#include "files/files.h"
#include "pictures/decode.h"
#include "result/guarded.h"

namespace clendo::cli {
namespace {

struct FaceArguments {
    std::string className = "sm-upc", edition = "2015", fibres;
    double scale = 0, cladding = 125;
    unsigned jobs = 1;
    std::string csv;
    std::vector<std::string> images;
};

/// A range that is no number's: every comparison with NaN is false, and so it would pass.
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

Judged judgeImage(const std::string& image, const FaceArguments& arguments, const Criteria& criteria, const FaceClass& faceClass)
{
    nlohmann::json out{{"image", image}};
    SheetRow row{image, cordOfFile(image), {}, {}};
    const auto picture = readFile(image).and_then([&](const std::string& bytes) { return decodePicture(bytes, image); });
    if (!picture) return failed(image, picture.error());
    face::MeasureOptions options;
    if (arguments.scale > 0) options.scale = Scale(arguments.scale);
    options.cladding = Micrometre(arguments.cladding);
    if (arguments.jobs > 1) options.cores = 1;  // the pictures are judged side by side
    if (arguments.fibres == "auto" || (arguments.fibres.empty() && faceClass.rectangular))
        options.fibres.reset();
    else if (!arguments.fibres.empty())
        options.fibres = std::stoi(arguments.fibres);
    const auto start = std::chrono::steady_clock::now();
    out["width_px"] = picture->width;
    out["height_px"] = picture->height;
    out["faces"] = nlohmann::json::array();
    for (const auto& face : face::measure(*picture, options)) {
        auto judged = face::judgeLook(face, faceClass, criteria);
        out["faces"].push_back(clendo::toJson(face, judged, faceClass, criteria));
        row.faces.push_back({face, std::move(judged)});
    }
    out["elapsed_ms"] = rounded(std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - start).count(), 1);
    out["criteria"] = {
        {"name", criteria.name}, {"version", criteria.version}, {"class", faceClass.name}, {"sha256", criteria.hash}, {"checked", criteria.checked}};
    return {std::move(out), std::move(row)};
}

void run(const FaceArguments& arguments, Outcome& outcome)
{
    if (!arguments.csv.empty() && isInput(arguments.csv, arguments.images)) {
        std::cerr << "--csv names one of the pictures: it would be overwritten. Choose another name.\n";
        outcome.status = 2;
        return;
    }
    const auto criteria = loadCriteria(arguments.edition, dataFolder());
    const auto faceClass = criteria.and_then([&](const Criteria& p) { return p.find(arguments.className); });
    if (!faceClass) {
        std::cerr << faceClass.error().message << "\n";
        outcome.status = 2;
        return;
    }
    // what Qt loads to read pictures belongs to the thread that touched Qt first: were that one of the readers, it would be taken down twice
    int count = 1;
    char name[] = "clendo-cli";
    char* argv[] = {name, nullptr};
    const QCoreApplication application(count, argv);
    // pictures are judged by several threads and printed in their order, as soon as all before them are
    std::vector<std::optional<Judged>> done(arguments.images.size());
    std::mutex mutex;
    std::condition_variable ready;
    std::atomic<std::size_t> next = 0;
    std::vector<std::jthread> threads;
    for (unsigned n = 0; n < std::min<std::size_t>(std::max(1U, arguments.jobs), done.size()); ++n)
        threads.emplace_back([&] {
            for (std::size_t i = next++; i < done.size(); i = next++) {
                const std::string& image = arguments.images[i];
                auto judged = guardedResult([&] { return judgeImage(image, arguments, *criteria, *faceClass); });
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
    if (const auto written = writeFile(arguments.csv, sheetCsv(rows, *faceClass)); !written) {
        std::cerr << written.error().message << "\n";
        outcome.status = 1;
    }
}

}  // namespace

void addFaceCommand(CLI::App& program, Outcome& outcome)
{
    auto arguments = std::make_shared<FaceArguments>();
    auto* command = program.add_subcommand("face", "Judge pictures of end faces");
    command->add_option("--class", arguments->className, "sm-upc, sm-apc, sm-pc, mm-pc, sm-multi, sm-multi-apc, mm-multi");
    command->add_option("--edition", arguments->edition, "2009, 2015, pristine or the path of a criteria file");
    command->add_option("--um-per-px", arguments->scale, "scale of a calibrated scope")->check(finiteIn(0.01, 20.0));
    command->add_option("--cladding-um", arguments->cladding, "nominal cladding diameter")->check(finiteIn(20.0, 1000.0));
    command->add_option("--fibers", arguments->fibres, "how many fibres the picture shows, or auto")
        ->check(CLI::Validator(
            [](const std::string& text) {
                const bool number =
                    !text.empty() && text.size() < 4 && text.find_first_not_of("0123456789") == std::string::npos && std::stoi(text) >= 1;
                return text == "auto" || number ? std::string() : std::string("a number from 1, or auto");
            },
            "N|auto"));
    command->add_option("--jobs", arguments->jobs, "how many pictures are judged at the same time")->check(CLI::Range(1, 256));
    command->add_option("--csv", arguments->csv, "also write a sheet, worst first");
    command->add_option("images", arguments->images, "PNG, JPEG, TIFF or BMP files")->required();
    command->callback([arguments, &outcome] { run(*arguments, outcome); });
}

}  // namespace clendo::cli
