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

}  // namespace clendo
