// What can be done with reels, by keys and menu.
#include "app/frame/command.h"
#include "app/frame/job_session.h"
#include "app/reel/reel_desk.h"
#include "app/sign/save_labels.h"
#include "record/advice/command_ids.h"

namespace clendo {

static const CommandGroup group(95, [](WindowFrame& frame) -> std::vector<Command> {
    const QString here = QStringLiteral("reel");
    const auto job = [&frame] { return needsJob(frame); };
    const auto reel = [&frame] { return frame.deskOf<ReelDesk>().needsReel(); };
    const auto desk = [&frame](auto work) { return [&frame, work] { work(frame.deskOf<ReelDesk>()); }; };
    constexpr CommandMenu menu = CommandMenu::Reel;
    return {
        {std::string(command::reelDeliver),
         menu,
         QObject::tr("A reel came …"),
         {Qt::SHIFT | Qt::Key_E},
         desk([](ReelDesk& d) { d.deliver(true); }),
         job},
        {std::string(command::reelCuts),
         menu,
         QObject::tr("Which reel serves which run …"),
         {Qt::SHIFT | Qt::Key_X},
         desk([](ReelDesk& d) { d.planCuts(); }),
         job},
        {"reel.change", menu, QObject::tr("Put right what was written down …"), {Qt::Key_E}, desk([](ReelDesk& d) { d.deliver(false); }), reel, here},
        {std::string(command::reelSample),
         menu,
         QObject::tr("Draw the sample …"),
         {Qt::Key_D},
         desk([](ReelDesk& d) { d.drawSample(); }),
         reel,
         here},
        {std::string(command::reelJoint), menu, QObject::tr("Make a joint …"), {Qt::Key_J}, desk([](ReelDesk& d) { d.makeJoint(); }), reel, here},
        {std::string(command::reelTrace),
         menu,
         QObject::tr("Open traces of the reel …"),
         {Qt::Key_O},
         desk([](ReelDesk& d) { d.openTraces(); }),
         reel,
         here},
        {"reel.picture",
         menu,
         QObject::tr("Add a photograph …"),
         {Qt::Key_Plus, Qt::Key_Equal},
         desk([](ReelDesk& d) { d.addPicture(); }),
         reel,
         here},
        {std::string(command::reelCordOut),
         menu,
         QObject::tr("Take a broken cord out of the kit …"),
         {Qt::Key_Minus},
         desk([](ReelDesk& d) { d.takeCordOut(); }),
         reel,
         here},
        {std::string(command::reelDecide), menu, QObject::tr("Accept or reject …"), {Qt::Key_X}, desk([](ReelDesk& d) { d.decide(); }), reel, here},
        {std::string(command::reelPaper),
         menu,
         QObject::tr("Write the reel’s report"),
         {Qt::Key_0},
         desk([](ReelDesk& d) { d.writeReport(); }),
         reel,
         here},
        {"reel.laid", menu, QObject::tr("A cable was laid from it …"), {Qt::SHIFT | Qt::Key_L}, desk([](ReelDesk& d) { d.lay(); }), reel, here},
        {"reel.labels",
         menu,
         QObject::tr("Labels of the reels …"),
         {Qt::SHIFT | Qt::Key_P},
         [&frame] { saveLabels(frame, labelsOfReels(frame.session()->state()), QObject::tr("reels")); },
         reel,
         here},
        {"reel.next", menu, QObject::tr("The next reel"), {Qt::Key_Period}, desk([](ReelDesk& d) { d.next(1); }), reel, here},
        {"reel.before", menu, QObject::tr("The reel before"), {Qt::Key_Comma}, desk([](ReelDesk& d) { d.next(-1); }), reel, here}};
});

}  // namespace clendo
