// What goes along.
#include "app/frame/command.h"
#include "app/frame/window_frame.h"
#include "app/kit/kit_dialog.h"

namespace clendo {

static const CommandGroup group(11, [](WindowFrame& frame) -> std::vector<Command> {
    return {{"kit.show",
             CommandMenu::Plan,
             QObject::tr("Kit …"),
             {Qt::Key_F5},
             [&frame] { KitDialog(*frame.session(), frame.widget()).exec(); },
             [&frame] { return needsJob(frame); }}};
});

}  // namespace clendo
