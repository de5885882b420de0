#pragma once
#include "plant/plan.h"
#include "world/face_world.h"

namespace clendo {

/// What the simulated world holds at a face before it is touched.
world::Story demoStory(const FaceId& face);
/// The picture that the simulated scope takes of a face after so many cleanings.
face::Picture demoPicture(const FaceId& face, int cleanings);
/// The same face under the live simulated scope.
world::Microscope demoMicroscope(const FaceId& face, int cleanings);

}  // namespace clendo
