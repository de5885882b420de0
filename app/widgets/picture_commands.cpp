// The picture of a face, on whichever desk it is shown.
#include "app/frame/command.h"
#include "app/frame/window_frame.h"
#include "app/widgets/face_picture.h"

namespace clendo {

static const CommandGroup group(23, [](WindowFrame& frame) -> std::vector<Command> {
    constexpr double step = 1.4;
    const auto of = [&frame](auto work) { return [&frame, work] { work(*frame.picture()); }; };
    const auto whyNot = [&frame] { return frame.picture() ? QString() : QObject::tr("There is no picture to be zoomed here."); };
    const auto menu = CommandMenu::Look;
    return {
        {"picture.larger", menu, QObject::tr("Picture larger"), {Qt::Key_Plus, Qt::Key_Equal}, of([](FacePicture& p) { p.zoomBy(step); }), whyNot},
        {"picture.smaller", menu, QObject::tr("Picture smaller"), {Qt::Key_Minus}, of([](FacePicture& p) { p.zoomBy(1 / step); }), whyNot},
        {"picture.fit", menu, QObject::tr("Picture as at first"), {Qt::Key_0}, of([](FacePicture& p) { p.fit(); }), whyNot},
        {"picture.zones",
         menu,
         QObject::tr("Zones and marks on or off"),
         {Qt::Key_Q},
         of([](FacePicture& p) { p.setOverlay(!p.overlay()); }),
         whyNot}};
});

}  // namespace clendo
