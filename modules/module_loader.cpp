#include <QCoreApplication>
#include <QLibrary>
#include <mutex>
#include <optional>

#include "modules/lines.h"
#include "modules/papers.h"
#include "modules/planning.h"
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

/// What a module fills when it is loaded: once, whoever asks first and from whichever thread.
template <class Module>
Result<Module> loadedOnce(const char* file, const char* name, const char* what)
{
    static std::mutex once;
    static std::optional<Module> loaded;
    const std::lock_guard guard(once);
    if (loaded) return *loaded;
    return entryOf<void (*)(Module*)>(file, name, what).map([](auto entry) {
        entry(&loaded.emplace());
        return *loaded;
    });
}

}  // namespace

Result<Vision> vision() { return loadedOnce<Vision>("clendo-vision.so", "clendo_vision", "pictures cannot be judged"); }
Result<Video> video() { return loadedOnce<Video>("clendo-video.so", "clendo_video", "no live pictures from cameras and files"); }
Result<Lines> lines() { return loadedOnce<Lines>("clendo-lines.so", "clendo_lines", "no instruments on lines"); }
Result<Papers> papers() { return loadedOnce<Papers>("clendo-papers.so", "clendo_papers", "no certificates can be written"); }
Result<Planning> planning() { return loadedOnce<Planning>("clendo-planning.so", "clendo_planning", "no cutting plan can be searched"); }
Result<Secrets> secrets() { return loadedOnce<Secrets>("clendo-secrets.so", "clendo_secrets", "the desktop’s keyring cannot be asked"); }
Result<Sounds> sounds() { return loadedOnce<Sounds>("clendo-sound.so", "clendo_sounds", "no sounds"); }

Result<TracePlot*> makeTracePlot(QWidget* parent)
{
    return entryOf<TracePlot* (*)(QWidget*)>("clendo-trace-plot.so", "clendo_trace_plot", "traces cannot be drawn").map([parent](auto make) {
        return make(parent);
    });
}

}  // namespace clendo
