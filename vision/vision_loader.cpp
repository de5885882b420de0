#include <QCoreApplication>
#include <QLibrary>
#include <mutex>

#include "vision/vision.h"

namespace clendo {

Result<Vision> vision()
{
    static std::mutex once;
    static Vision loaded;
    const std::lock_guard guard(once);
    if (loaded.measure) return loaded;
    for (const QString& path :
         {QCoreApplication::applicationDirPath() + QStringLiteral("/../lib/clendo/clendo-vision.so"), QStringLiteral(CLENDO_VISION_BUILT)}) {
        QLibrary library(path);
        if (const auto entry = reinterpret_cast<void (*)(Vision*)>(library.resolve("clendo_vision"))) {
            entry(&loaded);
            return loaded;
        }
    }
    return failure(Error::Code::FileUnreadable, "A part of Clendo is missing (clendo-vision.so): pictures cannot be judged. Install Clendo again.");
}

}  // namespace clendo
