// By what the job is judged and worked.
#include "app/frame/command.h"
#include "app/frame/job_session.h"
#include "app/frame/window_frame.h"
#include "app/policy/criteria_dialog.h"
#include "app/policy/policy_dialog.h"
#include "record/state/complete_act.h"

namespace clendo {
namespace {

void choosePolicies(WindowFrame& frame)
{
    PolicyDialog dialog(frame.session()->state().plan->job, frame.widget());
    if (dialog.exec() != QDialog::Accepted) return;
    auto changes = settingFacts(frame.session()->state().plan->job, dialog.job());
    if (changes.empty()) return frame.say(QObject::tr("The job's policy stays as it was."), false);
    frame.session()->file(std::move(changes), [&frame] { frame.say(QObject::tr("The job's policy is filed; it holds from now on."), false); });
}

std::vector<Command> commandsOf(WindowFrame& frame)
{
    const auto job = [&frame] { return needsJob(frame); };
    return {{"policy.choose", CommandMenu::Plan, QObject::tr("The job's policy …"), {Qt::Key_F4}, [&frame] { choosePolicies(frame); }, job},
            {"policy.criteria",
             CommandMenu::Plan,
             QObject::tr("Criteria: compare, copy, change …"),
             {Qt::Key_F3},
             [&frame] { CriteriaDialog(*frame.session(), frame.chosen(), frame.widget()).exec(); },
             job}};
}

const CommandGroup group(12, commandsOf);

}  // namespace
}  // namespace clendo
