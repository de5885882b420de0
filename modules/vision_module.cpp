#include "modules/vision.h"
#include "world/simulated_faces.h"

extern "C" __attribute__((visibility("default"))) void clendo_vision(clendo::Vision* vision)
{
    vision->measure = &clendo::face::measure;
    vision->simulatedScope = [](const clendo::FaceId& face, int cleanings) -> std::function<clendo::face::Picture(const clendo::world::Handling&)> {
        return [scope = clendo::simulatedMicroscope(face, cleanings)](const clendo::world::Handling& hand) { return scope.frame(hand); };
    };
    vision->simulatedPicture = &clendo::simulatedPicture;
}
