#include "app/trace/trace_desk.h"

#include <QFileDialog>
#include <QFileInfo>

#include "app/frame/open_job.h"
#include "app/trace/trace_view.h"
#include "record/advice/command_ids.h"
#include "record/advice/face_advice.h"
#include "record/advice/link_advice.h"

namespace clendo {

static const DeskEntry entry(30, [](WindowFrame& frame) -> std::unique_ptr<Desk> { return std::make_unique<TraceDesk>(frame); });

QWidget* TraceDesk::view()
{
    if (!view_) {
        view_ = new TraceView(frame_.widget());
        connect(view_, &TraceView::said, this, [this](const QString& sentence, bool trouble) { frame_.say(sentence, trouble); });
    }
    return view_;
}

void TraceDesk::show(const Shown& shown) { view_->show(*shown.session, shown.link); }

Advice TraceDesk::advice(const Shown& shown) const { return shown.link ? traceAdvice(shown.state(), *shown.link) : emptyJobAdvice(); }

bool TraceDesk::accepts(const QString& file) const { return QFileInfo(file).suffix().toLower() == QLatin1String("sor"); }

void TraceDesk::take(const QString& file)
{
    const Link* link = frame_.link();
    if (!link) return frame_.say(tr("Choose a fibre first."), true);
    frame_.job()->traces->take(file, *link, view_ ? view_->cords() : ShotCords());
    frame_.showDesk(id());
}

void TraceDesk::openTrace()
{
    const QString path = QFileDialog::getOpenFileName(frame_.widget(), tr("Open a trace"), QFileInfo(frame_.session()->path()).path(),
                                                      tr("OTDR traces (*.sor *.SOR);;All files (*)"));
    if (!path.isEmpty()) take(path);
}

void TraceDesk::nextShot()
{
    if (view_) view_->nextShot();
}

static const CommandGroup group(35, [](WindowFrame& frame) -> std::vector<Command> {
    const auto link = [&frame] { return needsLink(frame); };
    const QString here = QStringLiteral("trace");
    const auto of = [&frame](auto work) {
        return [&frame, work] {
            if (TraceView* view = frame.deskOf<TraceDesk>().traces()) work(*view);
        };
    };
    constexpr double closer = 1.6, aside = 0.4;
    return {
        {std::string(command::openTrace),
         CommandMenu::Light,
         QObject::tr("Open a trace …"),
         {Qt::Key_O},
         [&frame] { frame.deskOf<TraceDesk>().openTrace(); },
         link,
         here},
        {"trace.next", CommandMenu::Light, QObject::tr("Other shot"), {Qt::Key_D}, [&frame] { frame.deskOf<TraceDesk>().nextShot(); }, link, here},
        {"trace.closer",
         CommandMenu::Light,
         QObject::tr("Trace closer"),
         {Qt::Key_Plus, Qt::Key_Equal},
         of([](TraceView& v) { v.zoomBy(closer); }),
         link,
         here},
        {"trace.wider", CommandMenu::Light, QObject::tr("Trace wider"), {Qt::Key_Minus}, of([](TraceView& v) { v.zoomBy(1 / closer); }), link, here},
        {"trace.whole", CommandMenu::Light, QObject::tr("The whole trace"), {Qt::Key_0}, of([](TraceView& v) { v.showWhole(); }), link, here},
        {"trace.to-a",
         CommandMenu::Light,
         QObject::tr("Along the trace, towards A"),
         {Qt::SHIFT | Qt::Key_Left},
         of([](TraceView& v) { v.panBy(-aside); }),
         link,
         here},
        {"trace.to-b",
         CommandMenu::Light,
         QObject::tr("Along the trace, towards B"),
         {Qt::SHIFT | Qt::Key_Right},
         of([](TraceView& v) { v.panBy(aside); }),
         link,
         here},
        {"trace.export", CommandMenu::Light, QObject::tr("Save the trace …"), {Qt::Key_X}, of([](TraceView& v) { v.askForExport(); }), link, here},
        {"trace.joint-b",
         CommandMenu::Light,
         QObject::tr("Next joint on the trace"),
         {Qt::Key_Period},
         of([](TraceView& v) { v.toJoint(true); }),
         link,
         here},
        {"trace.joint-a",
         CommandMenu::Light,
         QObject::tr("Joint before on the trace"),
         {Qt::Key_Comma},
         of([](TraceView& v) { v.toJoint(false); }),
         link,
         here}};
});

}  // namespace clendo
