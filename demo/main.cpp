#include <QCoreApplication>
#include <cstdio>

#include "demo/demo_job.h"

/// clendo-demo FOLDER: makes the demo job and prints where it lies.
int main(int argc, char** argv)
{
    const QCoreApplication application(argc, argv);
    if (argc != 2) {
        std::fputs("usage: clendo-demo FOLDER\n", stderr);
        return 2;
    }
    const auto made = clendo::makeDemo(QString::fromLocal8Bit(argv[1]));
    if (!made) {
        std::fprintf(stderr, "%s\n", made.error().message.c_str());
        return 1;
    }
    std::printf("%s\n", made->job.toLocal8Bit().constData());
    return 0;
}
