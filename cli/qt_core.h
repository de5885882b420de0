#pragma once
#include <QCoreApplication>

namespace clendo::cli {

/// Qt's core for the time of a command: what it loads to read pictures and databases belongs to the thread that touched it first.
struct QtCore {
    int count = 1;
    char name[11] = "clendo-cli";
    char* arguments[2] = {name, nullptr};
    QCoreApplication application{count, arguments};
};

}  // namespace clendo::cli
