#include <QCoreApplication>
#include <QLibrary>
#include <mutex>

#include "modules/lines.h"
#include "modules/papers.h"
#include "modules/secrets.h"
#include "modules/sounds.h"
#include "modules/trace_plot.h"
#include "modules/video.h"
#include "modules/vision.h"

namespace clendo {
namespace {

/// The function `name` of the module in `file`: beside the installed program, or in the next folder of the build.
template <class Function>
Result<Function> entryOf(const char* file, const char* name, const char* what)
{
    for (const QString& folder : {QCoreApplication::applicationDirPath() + QStringLiteral("/../lib/clendo"),
                                  QCoreApplication::applicationDirPath() + QStringLiteral("/../modules")}) {
        QLibrary library(folder + QLatin1Char('/') + QString::fromLatin1(file));
        if (const auto entry = reinterpret_cast<Function>(library.resolve(name))) return entry;
    }
    return failure(Error::Code::FileUnreadable, std::string("A part of Clendo is missing (") + file + "): " + what + ". Install Clendo again.");
}

}  // namespace

Result<Vision> vision()
{
    static std::mutex once;
    static Vision loaded;
    const std::lock_guard guard(once);
    if (loaded.measure) return loaded;
    return entryOf<void (*)(Vision*)>("clendo-vision.so", "clendo_vision", "pictures cannot be judged").map([](auto entry) {
        entry(&loaded);
        return loaded;
    });
}

Result<Video> video()
{
    static Video loaded;  // the window's thread only
    if (loaded.file) return loaded;
    return entryOf<void (*)(Video*)>("clendo-video.so", "clendo_video", "no live pictures from cameras and files").map([](auto entry) {
        entry(&loaded);
        return loaded;
    });
}

Result<Lines> lines()
{
    static Lines loaded;  // the window's thread only
    if (loaded.bench) return loaded;
    return entryOf<void (*)(Lines*)>("clendo-lines.so", "clendo_lines", "no instruments on lines").map([](auto entry) {
        entry(&loaded);
        return loaded;
    });
}

Result<Papers> papers()
{
    static std::mutex once;
    static Papers loaded;
    const std::lock_guard guard(once);
    if (loaded.writeCord) return loaded;
    return entryOf<void (*)(Papers*)>("clendo-papers.so", "clendo_papers", "no certificates can be written").map([](auto entry) {
        entry(&loaded);
        return loaded;
    });
}

Result<Secrets> secrets()
{
    static Secrets loaded;  // the window's thread only
    if (loaded.read) return loaded;
    return entryOf<void (*)(Secrets*)>("clendo-secrets.so", "clendo_secrets", "the desktop’s keyring cannot be asked").map([](auto entry) {
        entry(&loaded);
        return loaded;
    });
}

Result<Sounds> sounds()
{
    static std::mutex once;
    static Sounds loaded;
    const std::lock_guard guard(once);
    if (loaded.play) return loaded;
    return entryOf<void (*)(Sounds*)>("clendo-sound.so", "clendo_sounds", "no sounds").map([](auto entry) {
        entry(&loaded);
        return loaded;
    });
}

Result<TracePlot*> makeTracePlot(QWidget* parent)
{
    return entryOf<TracePlot* (*)(QWidget*)>("clendo-trace-plot.so", "clendo_trace_plot", "traces cannot be drawn").map([parent](auto make) {
        return make(parent);
    });
}

}  // namespace clendo
