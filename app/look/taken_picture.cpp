#include "app/look/taken_picture.h"

#include <QDateTime>
#include <QFileInfo>

#include "files/files.h"
#include "modules/vision.h"
#include "pictures/decode.h"

namespace clendo {
namespace {

face::MeasureOptions optionsFor(bool several)
{
    face::MeasureOptions options;
    if (several) options.fibres.reset();
    return options;
}

}  // namespace

Result<TakenPicture> readAndMeasure(const std::string& path, const std::string& name, bool several)
{
    auto bytes = readFile(path);
    if (!bytes) return tl::unexpected(bytes.error());
    auto taken = measureBytes(std::move(*bytes), name, several);
    if (taken) taken->at = QFileInfo(QString::fromStdString(path)).lastModified().toMSecsSinceEpoch() * 1000;
    return taken;
}

Result<TakenPicture> measureBytes(std::string bytes, const std::string& name, bool several)
{
    const auto picture = decodePicture(bytes, name);
    if (!picture) return tl::unexpected(picture.error());
    const auto module = vision();
    if (!module) return tl::unexpected(module.error());
    auto measured = module->measure(*picture, optionsFor(several));
    return TakenPicture{{name, std::move(bytes)}, std::move(measured)};
}

Result<TakenPicture> combineAndMeasure(const LiveCapture& captured, const std::string& name)
{
    constexpr std::size_t enough = 3;
    const auto& [best, frames, several] = captured;
    const auto module = vision();
    if (!module) return tl::unexpected(module.error());
    // what is filed is what anybody measures in the picture again: not what was found by the frames before it
    const auto single = [&] {
        return TakenPicture{{name, encodePng(*captured.best.frame)}, module->measure(*captured.best.frame, optionsFor(captured.several))};
    };
    if (frames.size() < enough) return single();
    std::vector<face::Picture> pictures;
    for (const Frame& frame : frames) pictures.push_back(*frame);
    const auto together = module->combine(pictures, optionsFor(several));
    if (!together || together->used.size() < enough) return single();
    LiveLook all{best.frame, module->measure(together->picture, optionsFor(several)), best.at};
    if (all.faces.size() != best.faces.size() || !all.usable()) return single();
    return TakenPicture{
        {name, encodePng(together->picture)},
        std::move(all.faces),
        TakenPicture::Combined{
            static_cast<int>(frames.size()), static_cast<int>(together->used.size()), {"one-frame-of-" + name, encodePng(*best.frame)}}};
}

}  // namespace clendo
