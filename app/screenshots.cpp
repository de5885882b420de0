// clendo-screenshots DEMO-FOLDER OUT-FOLDER [light|dark [WIDTHxHEIGHT]]: one picture of each main view of the demo job, for docs/screenshots.
#include <QApplication>
#include <QDir>
#include <QDockWidget>
#include <QElapsedTimer>
#include <QKeyEvent>
#include <QPushButton>
#include <QTimer>
#include <cmath>
#include <nlohmann/json.hpp>

#include "app/batch/batch_desk.h"
#include "app/batch/batch_view.h"
#include "app/budget/budget_dialog.h"
#include "app/frame/main_window.h"
#include "app/frame/open_job.h"
#include "app/hands/demo_hands.h"
#include "app/look/contacts_dialog.h"
#include "app/look/look_desk.h"
#include "app/loss/loss_desk.h"
#include "app/plan/plan_dialog.h"
#include "app/reel/reel_desk.h"
#include "app/trace/cable_glance.h"
#include "app/trace/trace_desk.h"
#include "app/widgets/live_picture.h"
#include "app/widgets/theme.h"
#include "demo/demo_job.h"
#include "files/files.h"
#include "modules/vision.h"
#include "otdr/sor_writer.h"
#include "pictures/decode.h"
#include "sim/simulation.h"
#include "world/face_world.h"
#include "world/scenario.h"

namespace {

/// Fibre 9 of the demo once more, somebody having bent it since.
bool shootAgain(const QString& demo, const QString& to)
{
    using namespace clendo;
    auto world = readFile((demo + QStringLiteral("/world.json")).toStdString()).and_then([](const std::string& text) {
        return world::readScenario(text, dataFolder());
    });
    if (!world) return false;
    for (const char* cord : {"launch 1/B", "launch 2/A"}) static_cast<void>(world->part(cord));
    const std::string near = "VP-04/9/A/port", far = "VP-04/9/B/port";
    for (const auto& port : {near, far})
        for (int i = 0; i < 3; ++i) static_cast<void>(world->clean(port, world::Cleaning::WetThenDry));
    const bool ready = world->connect("otdr 1", "launch 1/A") && world->mate("launch 1/B", near) && world->mate("launch 2/A", far) &&
                       world->bend(near, Metre(1500), Decibel(0.7));
    if (!ready) return false;
    std::get<world::Otdr>(world->instrument("otdr 1")->unit).wavelength = Nanometre(1550);
    auto trace = world->trace("otdr 1");
    if (!trace) return false;
    trace->locationA = "Tide Hall";
    trace->locationB = "Breakwater Hut";
    return writeFile(to.toStdString(), otdr::writeSor(*trace)).has_value();
}

/// What a scope with a round window would show of a face of the demo.
bool pictureInAWindow(const clendo::FaceId& face, const QString& to)
{
    using namespace clendo;
    const auto module = vision();
    if (!module) return false;
    constexpr int cleanings = 0;
    face::Picture picture = module->simulatedPicture(face, cleanings);
    constexpr double share = 0.49, soft = 6;  // of the height; px
    const double radius = share * picture.height;
    for (int y = 0; y < picture.height; ++y)
        for (int x = 0; x < picture.width; ++x) {
            const double inside = radius - std::hypot(x - picture.width / 2.0, y - picture.height / 2.0);
            auto& grey = picture.pixels[static_cast<std::size_t>(y) * static_cast<std::size_t>(picture.width) + static_cast<std::size_t>(x)];
            grey = static_cast<std::uint8_t>(4 + (grey - 4) / (1 + std::exp(-inside / soft)));
        }
    return writeFile(to.toStdString(), encodePng(picture)).has_value();
}

}  // namespace

int main(int argc, char** argv)
{
    using namespace clendo;
    QApplication application(argc, argv);
    if (argc < 3) return 2;
    const bool dark = argc > 3 && QByteArray(argv[3]) == "dark";
    const QStringList sides = QString::fromLocal8Bit(argc > 4 ? argv[4] : "1280x800").split(QLatin1Char('x'));
    const QSize size(sides.value(0).toInt(), sides.value(1).toInt());
    const bool all = !dark || argc > 4;  // docs/ shows one in the dark
    applyTheme(application, dark);
    const auto demo = makeDemo(QString::fromLocal8Bit(argv[1]));
    if (!demo) return 1;
    const QDir out(QString::fromLocal8Bit(argv[2]));
    const auto speck = world::takePicture(world::makeFace(world::Story::SomeDust, 5), {});
    if (!writeFile((QString::fromLocal8Bit(argv[1]) + QStringLiteral("/quick-look.png")).toStdString(), encodePng(speck))) return 1;
    MainWindow window;
    window.openJob(demo->job);
    window.resize(size);
    window.show();
    while (window.opening()) QApplication::processEvents();
    if (!window.session()) return 1;
    const auto wait = [](int ms) {
        QElapsedTimer settle;
        for (settle.start(); settle.elapsed() < ms;) QApplication::processEvents();
    };
    const auto press = [&](Qt::Key key, Qt::KeyboardModifiers with = Qt::NoModifier) {
        QKeyEvent event(QEvent::KeyPress, key, with);
        QApplication::sendEvent(&window, &event);
    };
    const auto shoot = [&](const char* name, const char* desk, const char* link, End end, Side side) {
        window.choose({link, end, side});
        window.showDesk(QString::fromLatin1(desk));
        wait(400);
        window.grab().save(out.filePath(QString::fromLatin1(name) + (dark ? QStringLiteral("-dark.png") : QStringLiteral(".png"))));
    };
    if (all) {
        const QString framed = QString::fromLocal8Bit(argv[1]) + QStringLiteral("/round-window.png");
        if (!pictureInAWindow({"VP-04/7", End::A, Side::Port}, framed)) return 1;
        window.choose({"VP-04/7", End::A, Side::Port});
        window.deskOf<LookDesk>().take(framed);
        while (window.job()->pictures->busy() > 0) wait(100);
        shoot("look-needs-work", "look", "VP-04/7", End::A, Side::Port);
        shoot("ferrule", "look", "VP-11/8", End::A, Side::Cord);
        window.choose({"VP-04/7", End::A, Side::Cord});
        window.showDesk(QStringLiteral("batch"));
        window.deskOf<BatchDesk>().sheet().judgeFolder(QString::fromLocal8Bit(argv[1]) + QStringLiteral("/line"));
        wait(3000);
        shoot("many-at-once", "batch", "VP-04/7", End::A, Side::Cord);
        window.deskOf<LookDesk>().live().useSimulatedScope();
        window.choose({"VP-04/10", End::A, Side::Port});
        press(Qt::Key_V);
        for (int turned = 0; turned < 5; ++turned, wait(300)) press(Qt::Key_Period);
        wait(1200);
        shoot("live", "look", "VP-04/10", End::A, Side::Port);
        press(Qt::Key_V);
        shoot("sign-off", "sign", "VP-04/2", End::A, Side::Cord);
    }
    if (all) {
        const auto shootDialog = [&](QDialog&& dialog, const char* name, bool large = true) {
            if (large) dialog.resize(size * 0.93);  // the screen that there is without one is small
            dialog.show();
            wait(300);
            dialog.grab().save(out.filePath(QString::fromLatin1(name)));
        };
        const FaceId suspect{"VP-04/11", End::A, Side::Port};
        shootDialog(ContactsDialog(window.session()->state(), suspect, &window), "contacts.png", false);
        auto ends = window.session()->state().plan->cables.front();
        ends.endB.connector = "SC";
        ends.endB.className = ends.endB.cordClass = "sm-apc";
        shootDialog(PlanDialog(window.session()->state().plan->cables, window.session()->state().plan->connectors, &ends, &window), "plan.png");
        shoot("journal", "journal", "VP-04/7", End::A, Side::Port);
        shoot("learned", "learn", "VP-04/7", End::A, Side::Port);
        // the short reel of the delivery, all of its traces taken in
        const QDir reels(QString::fromLocal8Bit(argv[1]) + QStringLiteral("/reels"));
        QStringList traces;
        for (const QString& file : reels.entryList({QStringLiteral("SW-2-*")})) traces << reels.filePath(file);
        window.deskOf<ReelDesk>().choose("SW-2");
        window.deskOf<ReelDesk>().takeTraces(traces);
        wait(4000);
        shoot("reels", "reel", "VP-04/7", End::A, Side::Port);
        // what the demo leaves out: two fibres that are crossed, one that is dark
        for (const auto& seen : {LightSeen{"VP-04", 5, 6}, LightSeen{"VP-04", 6, 5}, LightSeen{"VP-04", 7, 7}, LightSeen{"VP-04", 8, {}}})
            window.session()->file(seen);
        window.session()->settle();
        shoot("right-fibre", "right-fibre", "VP-04/5", End::A, Side::Port);
    }
    if (all) {
        BudgetDialog budget(window.session()->state(), window.session()->state().link("VP-04/4"), &window);
        budget.resize(size * 0.93);
        budget.show();
        wait(300);
        budget.grab().save(out.filePath(QStringLiteral("budget.png")));
        // the meter and the source of the demo's world, and hands that move the cords
        const QString folder = QString::fromLocal8Bit(argv[1]);
        auto world = readFile((folder + QStringLiteral("/world.json")).toStdString()).and_then([](const std::string& text) {
            return world::readScenario(text, dataFolder());
        });
        if (!world) return 1;
        sim::Simulation simulation(std::move(*world), 5);
        if (!simulation.start()) return 1;
        const QString ready = folder + QStringLiteral("/simulation.json");
        if (!writeFile(ready.toStdString(), simulation.ready().dump() + "\n")) return 1;
        if (!DemoHands::attach(window, ready, folder + QStringLiteral("/scope"))) return 1;
        LightRun& run = window.deskOf<LossDesk>().run();
        wait(1000);  // until the lines stand
        auto& hands = *DemoHands::of(window);
        const auto read = [&](std::string_view command) {
            wait(300);
            window.run(command);
            for (int i = 0; i < 100 && run.running(); ++i) wait(100);
        };
        window.choose({"VP-04/5", End::A, Side::Port});
        window.showDesk(QStringLiteral("loss"));
        hands.forReference();
        read("loss.reference");
        hands.forProof();
        wait(300);
        LightGear gear = window.deskOf<LossDesk>().gear();
        gear.provenCord = "RC-2";
        run.readOnce(LightRun::Purpose::Proof, std::move(gear));
        for (int i = 0; i < 100 && run.running(); ++i) wait(100);
        hands.forReference();
        read("light.check");
        window.run("light.measure");
        hands.ontoFibre();
        for (int i = 0; i < 150 && !(run.shown().all > 2 && run.shown().done >= 2); ++i) wait(100);
        window.choose({"VP-04/6", End::A, Side::Port});
        hands.ontoFibre();
        for (int i = 0; i < 100 && run.shown().done < 3; ++i) wait(100);
        window.findChild<QDockWidget*>(QStringLiteral("handsPanel"))->close();
        shoot("loss", "loss", "VP-04/6", End::A, Side::Port);
        run.stop();
        static_cast<void>(run.use({}, {}));
    }
    if (all) {
        MainWindow fresh;
        fresh.resize(size);
        fresh.show();
        fresh.takeFile(QString::fromLocal8Bit(argv[1]) + QStringLiteral("/quick-look.png"));
        wait(2500);
        fresh.grab().save(out.filePath(QStringLiteral("quick-look.png")));
    }
    if (dark) shoot("trace-before", "trace", "VP-04/9", End::A, Side::Port);
    if (!all) return 0;
    shoot("trace", "trace", "VP-04/3", End::A, Side::Cord);
    // all that the OTDR saved, and one fibre that was shot again with a bend in it
    auto& desk = window.deskOf<TraceDesk>();
    const auto later = [&] { return window.findChild<QDialog*>(QStringLiteral("folderDialog")); };
    QTimer accepting;
    QObject::connect(&accepting, &QTimer::timeout, &window, [&] {
        auto* dialog = later();
        auto* button = dialog ? dialog->findChild<QPushButton*>(QStringLiteral("accept")) : nullptr;
        if (button && button->isEnabled()) button->click();
    });
    constexpr int often = 300;  // ms
    accepting.start(often);
    desk.takeAll({demo->traces});
    accepting.stop();
    const auto again = QString::fromLocal8Bit(argv[1]) + QStringLiteral("/VP-04-09-1550-ab.sor");
    if (!shootAgain(QString::fromLocal8Bit(argv[1]), again)) return 1;
    window.choose({"VP-04/9", End::A, Side::Port});
    desk.take(again);
    wait(1500);
    press(Qt::Key_H, Qt::ShiftModifier);
    shoot("then-and-now", "trace", "VP-04/9", End::A, Side::Port);
    press(Qt::Key_H, Qt::ShiftModifier);
    press(Qt::Key_G, Qt::ShiftModifier);
    wait(2500);
    for (int shots = 0; shots < 4 && !desk.glance()->says().contains(QStringLiteral("fibre 9 ")); ++shots, wait(800)) press(Qt::Key_D);
    shoot("cable-at-a-glance", "trace", "VP-04/9", End::A, Side::Port);
    // the face behind port 8, looked at live, and looked at once more and filed under port 5: what it remembers is said
    const FaceId held{"VP-04/8", End::A, Side::Port}, meant{"VP-04/5", End::A, Side::Port};
    LivePicture& live = window.deskOf<LookDesk>().live();
    live.useSimulatedScope();
    window.showDesk(QStringLiteral("look"));
    for (const FaceId& as : {held, meant}) {
        window.choose(held);
        press(Qt::Key_V);
        for (int turned = 0; as == held && turned < 5; ++turned, wait(300)) press(Qt::Key_Period);  // it stays where it was turned to
        wait(2500);
        const auto captured = live.capture();
        if (!captured) return 1;
        window.job()->pictures->takeFrames(*captured, as);
        while (window.job()->pictures->busy() > 0) wait(100);
    }
    window.choose(meant);
    wait(8000);  // until it was held against all others
    shoot("another-face", "look", "VP-04/5", End::A, Side::Port);
    return 0;
}
