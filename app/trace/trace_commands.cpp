// What can be done with traces, by keys and menu.
#include "app/frame/command.h"
#include "app/trace/cable_glance.h"
#include "app/trace/trace_desk.h"
#include "app/trace/trace_view.h"
#include "record/advice/command_ids.h"

namespace clendo {

static const CommandGroup group(35, [](WindowFrame& frame) -> std::vector<Command> {
    const auto link = [&frame] { return needsLink(frame); };
    const QString here = QStringLiteral("trace");
    const auto desk = [&frame](auto work) { return [&frame, work] { work(frame.deskOf<TraceDesk>()); }; };
    // what both views do in their own way
    const auto both = [&frame](auto ofOne, auto ofAll) {
        return [&frame, ofOne, ofAll] {
            auto& traces = frame.deskOf<TraceDesk>();
            if (TraceView* view = traces.traces()) ofOne(*view);
            if (CableGlance* glance = traces.glance()) ofAll(*glance);
        };
    };
    const auto of = [both](auto work) { return both(work, [](CableGlance&) {}); };
    constexpr double closer = 1.6, aside = 0.4;
    constexpr CommandMenu menu = CommandMenu::Light;
    return {
        {std::string(command::openTrace), menu, QObject::tr("Open a trace …"), {Qt::Key_O}, desk([](TraceDesk& d) { d.openTrace(); }), link, here},
        {"trace.folder", menu, QObject::tr("A folder of traces …"), {Qt::SHIFT | Qt::Key_A}, desk([](TraceDesk& d) { d.openFolder(); }), link, here},
        {"trace.watch",
         menu,
         QObject::tr("Take in what the OTDR saves …"),
         {Qt::SHIFT | Qt::Key_P},
         desk([](TraceDesk& d) { d.askWhatToWatch(); }),
         link,
         here},
        {"trace.glance",
         menu,
         QObject::tr("The cable at a glance, or one fibre"),
         {Qt::SHIFT | Qt::Key_G},
         desk([](TraceDesk& d) { d.toggleGlance(); }),
         link,
         here},
        {"trace.next",
         menu,
         QObject::tr("Other shot"),
         {Qt::Key_D},
         both([](TraceView& v) { v.nextShot(); }, [](CableGlance& g) { g.nextShots(); }),
         link,
         here},
        {"trace.then",
         menu,
         QObject::tr("Then and now: beside the first shot, or the reel’s"),
         {Qt::SHIFT | Qt::Key_H},
         of([](TraceView& v) { v.nextThen(); }),
         link,
         here},
        {"trace.closer",
         menu,
         QObject::tr("Trace closer"),
         {Qt::Key_Plus, Qt::Key_Equal},
         both([](TraceView& v) { v.zoomBy(closer); }, [](CableGlance& g) { g.map().zoomBy(closer); }),
         link,
         here},
        {"trace.wider",
         menu,
         QObject::tr("Trace wider"),
         {Qt::Key_Minus},
         both([](TraceView& v) { v.zoomBy(1 / closer); }, [](CableGlance& g) { g.map().zoomBy(1 / closer); }),
         link,
         here},
        {"trace.whole",
         menu,
         QObject::tr("The whole trace"),
         {Qt::Key_0},
         both([](TraceView& v) { v.showWhole(); }, [](CableGlance& g) { g.map().showWhole(); }),
         link,
         here},
        {"trace.to-a",
         menu,
         QObject::tr("Along the trace, towards A"),
         {Qt::SHIFT | Qt::Key_Left},
         both([](TraceView& v) { v.panBy(-aside); }, [](CableGlance& g) { g.map().panBy(-aside); }),
         link,
         here},
        {"trace.to-b",
         menu,
         QObject::tr("Along the trace, towards B"),
         {Qt::SHIFT | Qt::Key_Right},
         both([](TraceView& v) { v.panBy(aside); }, [](CableGlance& g) { g.map().panBy(aside); }),
         link,
         here},
        {"trace.joint-b", menu, QObject::tr("Next joint on the trace"), {Qt::Key_Period}, of([](TraceView& v) { v.toJoint(true); }), link, here},
        {"trace.joint-a", menu, QObject::tr("Joint before on the trace"), {Qt::Key_Comma}, of([](TraceView& v) { v.toJoint(false); }), link, here},
        {"trace.marks",
         menu,
         QObject::tr("Measure by marks: two, five, none"),
         {Qt::SHIFT | Qt::Key_U},
         of([](TraceView& v) { v.nextMarks(); }),
         link,
         here},
        {"trace.mark-left", menu, QObject::tr("Mark to the left"), {Qt::ALT | Qt::Key_Left}, of([](TraceView& v) { v.nudgeMark(-1); }), link, here},
        {"trace.mark-right", menu, QObject::tr("Mark to the right"), {Qt::ALT | Qt::Key_Right}, of([](TraceView& v) { v.nudgeMark(1); }), link, here},
        {"trace.mark-before",
         menu,
         QObject::tr("The mark before"),
         {Qt::ALT | Qt::Key_Up},
         of([](TraceView& v) { v.chooseMark(false); }),
         link,
         here},
        {"trace.mark-next", menu, QObject::tr("The next mark"), {Qt::ALT | Qt::Key_Down}, of([](TraceView& v) { v.chooseMark(true); }), link, here},
        {"trace.export", menu, QObject::tr("Save the trace …"), {Qt::Key_X}, of([](TraceView& v) { v.askForExport(); }), link, here}};
});

}  // namespace clendo
