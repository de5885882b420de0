#pragma once
#include <QString>
#include <vector>

#include "plant/plan_csv.h"
#include "result/result.h"

namespace clendo {

class WindowFrame;

/// Shows what would come of a table of cables, and plans what is accepted.
void importTable(WindowFrame& frame, const QString& path);
/// The same of cables that were read already; an Error is said.
void showImport(WindowFrame& frame, const Result<std::vector<PlanLine>>& lines);

}  // namespace clendo
