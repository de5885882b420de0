#include "app/widgets/save_file.h"

#include <QtConcurrentRun>

#include "app/widgets/when_done.h"
#include "files/files.h"
#include "result/guarded.h"

namespace clendo {

void saveFile(QObject* context, const QString& path, std::function<std::string()> bytes, std::function<void(const Result<void>& saved)> then)
{
    whenDone(QtConcurrent::run([path = path.toStdString(), bytes = std::move(bytes)] { return guarded([&] { return writeFile(path, bytes()); }); }),
             context, std::move(then));
}

}  // namespace clendo
