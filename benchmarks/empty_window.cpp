#include <QApplication>
#include <QMainWindow>
#include <QTimer>
#include <cstdio>

/// The least that a Qt program can do before its window stands.
int main(int argc, char** argv)
{
    QApplication application(argc, argv);
    QMainWindow window;
    window.resize(1280, 800);
    window.show();
    QTimer::singleShot(0, &application, [] {
        std::puts("usable");
        std::fflush(stdout);
        QApplication::quit();
    });
    return QApplication::exec();
}
