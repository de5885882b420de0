#pragma once
#include <QString>
#include <functional>
#include <memory>

#include "app/frame/job_session.h"
#include "otdr/trace.h"

class QWidget;

namespace clendo {

/// Asks where to, and writes a shot: its points or what was found as a table, all of it, or its file as it came with the plan's names in its header.
/// `said` gets what came of it.
void askToSaveTrace(QWidget* parent, JobSession& session, const TraceShot& shot, std::shared_ptr<const otdr::Trace> trace,
                    std::function<void(const QString& sentence, bool trouble)> said);

}  // namespace clendo
