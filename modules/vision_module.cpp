#include "face/memory/match_faces.h"
#include "modules/vision.h"
#include "world/simulated_faces.h"

extern "C" __attribute__((visibility("default"))) void clendo_vision(clendo::Vision* vision)
{
    vision->measure = &clendo::face::measure;
    vision->measureFrame = &clendo::face::measureFrame;
    vision->combine = &clendo::face::combineFrames;
    vision->fingerprint = [](const clendo::face::Picture& picture,
                             const clendo::face::FaceMeasurement& face) -> std::shared_ptr<const clendo::face::Fingerprint> {
        auto print = clendo::face::fingerprintOf(picture, face);
        return print ? std::make_shared<const clendo::face::Fingerprint>(std::move(*print)) : nullptr;
    };
    vision->matchFaces = &clendo::face::matchFaces;
    vision->simulatedScope = [](const clendo::FaceId& face, int cleanings) -> std::function<clendo::face::Picture(const clendo::world::Handling&)> {
        return [scope = clendo::simulatedMicroscope(face, cleanings)](const clendo::world::Handling& hand) { return scope.frame(hand); };
    };
    vision->simulatedPicture = &clendo::simulatedPicture;
}
