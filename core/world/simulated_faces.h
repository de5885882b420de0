#pragma once
#include "plant/plan.h"
#include "world/face_world.h"

namespace clendo {

/// Fibres that share a ferrule on the cable of this link in the simulated world: 1, or 12 on the trunk VP-11.
int fibresInFerrule(const FaceId& face);
/// What the simulated world holds at a face before it is touched.
world::Story storyOf(const FaceId& face);
/// The picture that the simulated scope takes of a face after so many cleanings; of a ferrule with several fibres all of them.
face::Picture simulatedPicture(const FaceId& face, int cleanings);
/// The same face under the live simulated scope.
world::Microscope simulatedMicroscope(const FaceId& face, int cleanings);

}  // namespace clendo
