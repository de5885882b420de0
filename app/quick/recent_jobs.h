#pragma once
#include <QStringList>

namespace clendo {

/// The jobs that were opened on this computer, the last one first; those that are gone are left out.
QStringList recentJobs();
void rememberJob(const QString& path);

}  // namespace clendo
