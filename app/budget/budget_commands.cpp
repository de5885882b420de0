// What a link may lose before it is built, and what it carries.
#include "app/budget/budget_dialog.h"
#include "app/frame/command.h"
#include "app/frame/job_session.h"
#include "app/frame/window_frame.h"

namespace clendo {
namespace {

const CommandGroup group(33, [](WindowFrame& frame) -> std::vector<Command> {
    return {{"plan.budget",
             CommandMenu::Plan,
             QObject::tr("What a link may lose, and what it carries …"),
             {Qt::Key_F2},
             [&frame] {
                 BudgetDialog dialog(frame.session()->state(), frame.link(), frame.widget());
                 dialog.exec();
             },
             [&frame] { return needsJob(frame); }}};
});

}  // namespace
}  // namespace clendo
