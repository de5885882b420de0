#include "app/look/taken_picture.h"

#include <QDateTime>
#include <QFileInfo>

#include "files/files.h"
#include "modules/vision.h"
#include "pictures/decode.h"

namespace clendo {

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
    face::MeasureOptions options;
    if (several) options.fibres.reset();
    auto measured = module->measure(*picture, options);
    return TakenPicture{{name, std::move(bytes)}, std::move(measured)};
}

Result<TakenPicture> combineAndMeasure(const std::vector<Frame>& frames, const LiveLook& best, const std::string& name)
{
    constexpr std::size_t enough = 3;
    TakenPicture single{{name, encodePng(*best.frame)}, best.faces};
    const auto module = vision();
    if (!module || frames.size() < enough) return single;
    std::vector<face::Picture> pictures;
    for (const Frame& frame : frames) pictures.push_back(*frame);
    const auto together = module->combine(pictures, {});
    if (!together || together->used.size() < enough) return single;
    auto faces = module->measure(together->picture, {});
    if (faces.size() != 1 || !faces.front().usable()) return single;
    single.evidence.name = "one-frame-of-" + name;
    return TakenPicture{{name, encodePng(together->picture)},
                        std::move(faces),
                        TakenPicture::Combined{static_cast<int>(frames.size()), static_cast<int>(together->used.size()), std::move(single.evidence)}};
}

}  // namespace clendo
