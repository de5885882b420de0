// clendo-screenshots DEMO-FOLDER OUT-FOLDER: one picture of each main view of the demo job, for docs/screenshots.
#include <QApplication>
#include <QDir>
#include <QElapsedTimer>
#include <QKeyEvent>

#include "app/batch_view.h"
#include "app/contacts_dialog.h"
#include "app/kit_dialog.h"
#include "app/live_desk.h"
#include "app/main_window.h"
#include "app/plan_dialog.h"
#include "app/policy_dialog.h"
#include "app/profiles_dialog.h"
#include "app/theme.h"
#include "demo/demo_job.h"

int main(int argc, char** argv)
{
    using namespace clendo;
    QApplication application(argc, argv);
    if (argc < 3) return 2;
    const bool dark = argc > 3 && QByteArray(argv[3]) == "dark";
    applyTheme(application, dark);
    const auto demo = makeDemo(QString::fromLocal8Bit(argv[1]));
    if (!demo) return 1;
    const QDir out(QString::fromLocal8Bit(argv[2]));
    MainWindow window;
    if (!window.openJob(demo->job)) return 1;
    window.show();
    const auto wait = [](int ms) {
        QElapsedTimer settle;
        for (settle.start(); settle.elapsed() < ms;) QApplication::processEvents();
    };
    const auto press = [&](Qt::Key key) {
        QKeyEvent event(QEvent::KeyPress, key, Qt::NoModifier);
        QApplication::sendEvent(&window, &event);
    };
    const auto shoot = [&](const char* name, Desk desk, const char* link, End end, Side side) {
        window.choose({link, end, side});
        window.showDesk(desk);
        wait(400);
        window.grab().save(out.filePath(QString::fromLatin1(name) + (dark ? QStringLiteral("-dark.png") : QStringLiteral(".png"))));
    };
    if (!dark) {
        shoot("look-needs-work", Desk::Look, "VP-04/7", End::A, Side::Port);
        shoot("tries-damaged", Desk::Look, "VP-04/8", End::A, Side::Port);
        press(Qt::Key_U);
        shoot("unrolled", Desk::Look, "VP-04/8", End::A, Side::Port);
        press(Qt::Key_U);
        shoot("ferrule", Desk::Look, "VP-11/8", End::A, Side::Cord);
        window.choose({"VP-04/7", End::A, Side::Cord});
        window.showDesk(Desk::Batch);
        window.batch().judgeFolder(QString::fromLocal8Bit(argv[1]) + QStringLiteral("/line"));
        wait(3000);
        shoot("many-at-once", Desk::Batch, "VP-04/7", End::A, Side::Cord);
        window.live().useSimulatedScope();
        window.choose({"VP-04/10", End::A, Side::Port});
        press(Qt::Key_V);
        for (int turned = 0; turned < 5; ++turned, wait(300)) press(Qt::Key_Plus);
        wait(1200);
        shoot("live", Desk::Look, "VP-04/10", End::A, Side::Port);
        press(Qt::Key_V);
        shoot("loss", Desk::Loss, "VP-04/4", End::A, Side::Cord);
        shoot("sign-off", Desk::Sign, "VP-04/2", End::A, Side::Cord);
        shoot("sign-off-stands", Desk::Sign, "VP-04/1", End::A, Side::Cord);
    }
    if (!dark) {
        ProfilesDialog profiles(*window.session(), {"VP-04/7", End::A, Side::Cord}, &window);
        profiles.findChild<QComboBox*>(QStringLiteral("rightProfile"))->setCurrentText(QStringLiteral("House rule"));
        profiles.show();
        wait(300);
        profiles.grab().save(out.filePath(QStringLiteral("profiles.png")));
    }
    if (!dark) {
        const auto shootDialog = [&](QDialog&& dialog, const char* name) {
            dialog.show();
            wait(300);
            dialog.grab().save(out.filePath(QString::fromLatin1(name)));
        };
        const FaceId suspect{"VP-04/11", End::A, Side::Port};
        shootDialog(ContactsDialog(window.session()->state(), suspect, &window), "contacts.png");
        shootDialog(KitDialog(*window.session(), &window), "kit.png");
        shootDialog(PolicyDialog(window.session()->state().job, &window), "policy.png");
        auto ends = window.session()->state().cables.front();
        ends.endB.connector = "SC";
        ends.endB.criteria = ends.endB.cordCriteria = "sm-apc";
        shootDialog(PlanDialog(window.session()->state().cables, window.session()->state().connectors, &ends, &window), "plan.png");
        shoot("journal", Desk::Journal, "VP-04/7", End::A, Side::Port);
        shoot("learned", Desk::Learn, "VP-04/7", End::A, Side::Port);
    }
    shoot("trace", Desk::Trace, "VP-04/3", End::A, Side::Cord);
    return 0;
}
