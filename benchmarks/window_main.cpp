// The program around benchmarks that show something.
#include <benchmark/benchmark.h>

#include <QApplication>

#include "app/widgets/theme.h"

int main(int argc, char** argv)
{
    QApplication application(argc, argv);
    clendo::applyTheme(application, false);
    benchmark::Initialize(&argc, argv);
    benchmark::RunSpecifiedBenchmarks();
    return 0;
}
