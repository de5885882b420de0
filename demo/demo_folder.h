#pragma once
#include <QString>
#include <functional>

#include "result/result.h"

namespace clendo {

/// Puts a demo into `folder`: `make` fills a folder beside it, and what it made takes its place when it is whole. A list of what was made, with
/// hashes, lies there from then on ("demo-made.json"); without it the demo is not finished. When it is made anew, files that are still as they were
/// made are replaced; what somebody changed is kept under another name; what was never made here stays where it is. A demo that is open is refused.
Result<void> placeDemo(const QString& folder, const std::function<Result<void>(const QString& fresh)>& make);

}  // namespace clendo
