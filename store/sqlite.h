#pragma once
#include <QSqlDatabase>
#include <QSqlError>
#include <QSqlQuery>
#include <QString>

#include "result/result.h"

namespace clendo::sqlite {

/// The Error of a write that failed, by SQLite's own code.
Error errorOf(const QSqlError& error);
Result<void> run(QSqlQuery& query);
Result<void> run(const QSqlDatabase& db, const QString& statement);
/// The first value of a query; nothing where it gives none.
QVariant valueOf(const QSqlDatabase& db, const QString& query);

enum class Access { Write, Read, ReadAsItStands };
/// Opens a file under the name `connection`. ReadAsItStands asks for no locks and heeds no rollback journal: for copies, and for files in folders
/// that cannot be written. False where SQLite cannot read it.
bool connectTo(const QString& connection, const QString& path, Access access);
/// Removes the rollback journal that SQLite leaves beside a closed file, where nothing is in it.
void removeEmptyLog(const QString& path);
/// Lets go of it, in the thread that made it.
void disconnect(const QString& connection);

}  // namespace clendo::sqlite
