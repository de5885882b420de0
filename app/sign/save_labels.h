#pragma once
#include <QString>
#include <vector>

#include "record/output/labels.h"

namespace clendo {

class WindowFrame;

/// Asks for a file and writes a sheet of labels there, in the background. `of`: what they are of, for the file's name.
void saveLabels(WindowFrame& frame, const std::vector<Label>& labels, const QString& of);

}  // namespace clendo
