#pragma once
#include <QString>
#include <functional>
#include <string>

#include "result/result.h"

class QObject;

namespace clendo {

/// Makes the bytes of a file and writes it, both in another thread; then goes on in the thread of `context`, unless that is gone by then.
void saveFile(QObject* context, const QString& path, std::function<std::string()> bytes, std::function<void(const Result<void>& saved)> then);

}  // namespace clendo
