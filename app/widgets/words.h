#pragma once
#include <QString>
#include <string_view>

namespace clendo {

/// What the core says, for a widget.
inline QString text(std::string_view words) { return QString::fromUtf8(words.data(), static_cast<qsizetype>(words.size())); }

}  // namespace clendo
