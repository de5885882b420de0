#include "world/simulated_faces.h"

#include <cstdlib>

namespace clendo {
namespace {

std::uint32_t seedOf(const FaceId& face)
{
    std::uint32_t h = 2166136261U;
    for (const char c : face.text()) h = (h ^ static_cast<unsigned char>(c)) * 16777619U;
    return h % 100000;
}

}  // namespace

int fibresInFerrule(const FaceId& face) { return face.link.starts_with("VP-11/") ? 12 : 1; }

world::Story storyOf(const FaceId& face)
{
    using world::Story;
    const auto slash = face.link.rfind('/');
    const int fibre = slash == std::string::npos ? 0 : std::atoi(face.link.c_str() + slash + 1);
    if (fibresInFerrule(face) > 1)
        return face.side == Side::Cord && face.connection == End::A && (fibre == 3 || fibre == 8) ? Story::SomeDust : Story::Clean;
    if (fibre == 8 && face.connection == End::A && face.side == Side::Port) return Story::Pitted;
    if (fibre == 7 && face.side == Side::Port) return Story::SomeDust;
    if (fibre == 9 && face.connection == End::A && face.side == Side::Cord) return Story::Scratched;
    if (fibre == 6 && face.side == Side::Cord) return Story::Oily;
    if (fibre == 10 && face.side == Side::Port) return Story::Dusty;
    if (fibre <= 4 && (fibre + (face.side == Side::Port ? 1 : 0)) % 3 == 0) return Story::SomeDust;
    return Story::Clean;
}

namespace {

world::Camera cameraOn(const FaceId& face, int cleanings)
{
    const std::uint32_t seed = seedOf(face);
    world::Camera camera;
    camera.seed = seed + static_cast<std::uint32_t>(cleanings);
    camera.offsetX = Micrometre(double(seed % 17) - 8);
    camera.offsetY = Micrometre(double(seed % 13) - 6);
    if (fibresInFerrule(face) > 1) {
        camera.width = 5400;
        camera.height = 400;
        camera.scale = Scale(0.85);
    }
    return camera;
}

/// What the scope sees when this face is under it: the face alone, or its whole ferrule.
world::Row rowOf(const FaceId& face, int cleanings)
{
    world::Row row;
    row.multimode = fibresInFerrule(face) > 1;
    row.pins = face.side == Side::Cord;
    for (int n = 0; n < fibresInFerrule(face); ++n) {
        FaceId one = face;
        if (row.multimode) one.link = face.link.substr(0, face.link.rfind('/') + 1) + std::to_string(n + 1);
        row.fibres.push_back(world::cleaned(world::makeFace(storyOf(one), seedOf(one)), cleanings, seedOf(one)));
    }
    return row;
}

}  // namespace

face::Picture simulatedPicture(const FaceId& face, int cleanings) { return world::takeRowPicture(rowOf(face, cleanings), cameraOn(face, cleanings)); }

world::Microscope simulatedMicroscope(const FaceId& face, int cleanings) { return {rowOf(face, cleanings), cameraOn(face, cleanings)}; }

}  // namespace clendo
