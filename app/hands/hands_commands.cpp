// What hands do in the demo's world, by keys.
#include "app/frame/command.h"
#include "app/frame/window_frame.h"
#include "app/hands/demo_hands.h"

namespace clendo {
namespace {

std::vector<Command> commandsOf(WindowFrame& frame)
{
    const auto demo = [&frame] {
        return DemoHands::of(frame) ? needsLink(frame)
                                    : QObject::tr("This works in the demo alone, where the world is simulated: start it with ./run-demo.");
    };
    std::vector<Command> out;
    const auto add = [&](const char* id, const QString& words, Qt::Key key, std::function<void(DemoHands&)> deed) {
        out.push_back(
            {id, CommandMenu::Step, QObject::tr("Hands: %1").arg(words), {Qt::CTRL | key}, [&frame, deed] { deed(*DemoHands::of(frame)); }, demo});
    };
    add("hands.reference", QObject::tr("meter on RC-1"), Qt::Key_1, [](DemoHands& h) { h.forReference(); });
    add("hands.proof", QObject::tr("RC-2 behind"), Qt::Key_2, [](DemoHands& h) { h.forProof(); });
    add("hands.fibre", QObject::tr("onto fibre"), Qt::Key_3, [](DemoHands& h) { h.ontoFibre(); });
    add("hands.off", QObject::tr("cords off"), Qt::Key_4, [](DemoHands& h) { h.cordsOff(); });
    add("hands.dry", QObject::tr("dry stroke"), Qt::Key_5, [](DemoHands& h) { h.clean("dry"); });
    add("hands.wet", QObject::tr("wet, dry"), Qt::Key_6, [](DemoHands& h) { h.clean("wet-then-dry"); });
    add("hands.touch", QObject::tr("touch"), Qt::Key_7, [](DemoHands& h) { h.onFace("touch"); });
    add("hands.mate", QObject::tr("mate"), Qt::Key_8, [](DemoHands& h) { h.matePair(); });
    add("hands.part", QObject::tr("part"), Qt::Key_9, [](DemoHands& h) { h.onFace("part"); });
    out.push_back({"hands.panel",
                   CommandMenu::View,
                   QObject::tr("In the demo, your hands"),
                   {Qt::Key_F6},
                   [&frame] { DemoHands::of(frame)->showPanel(); },
                   demo});
    return out;
}

const CommandGroup group(90, commandsOf);

}  // namespace
}  // namespace clendo
