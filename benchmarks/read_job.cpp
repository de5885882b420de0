#include <QCoreApplication>
#include <chrono>
#include <cstdio>

#include "files/files.h"
#include "record/fold/fold.h"
#include "store/job_store.h"

/// Prints how many milliseconds reading and folding a job takes.
int main(int argc, char** argv)
{
    const QCoreApplication application(argc, argv);
    if (argc != 2) return 2;
    const auto start = std::chrono::steady_clock::now();
    const auto store = clendo::JobStore::open(QString::fromLocal8Bit(argv[1]));
    if (!store) return 1;
    const clendo::Rules rules(clendo::dataFolder());
    const auto state = clendo::fold((*store)->entries(), rules);
    std::printf("%.2f\n", std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - start).count());
    return state.plan->links.empty() ? 1 : 0;
}
