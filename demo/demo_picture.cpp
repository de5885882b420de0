#include "demo/demo_picture.h"

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

world::Story demoStory(const FaceId& face)
{
    using world::Story;
    const auto slash = face.link.rfind('/');
    const int fibre = slash == std::string::npos ? 0 : std::atoi(face.link.c_str() + slash + 1);
    if (fibre == 8 && face.end == End::A && face.side == Side::Port) return Story::Pitted;
    if (fibre == 7 && face.side == Side::Port) return Story::SomeDust;
    if (fibre == 9 && face.end == End::A && face.side == Side::Cord) return Story::Scratched;
    if (fibre == 6 && face.side == Side::Cord) return Story::Oily;
    if (fibre == 10 && face.side == Side::Port) return Story::Dusty;
    if (fibre <= 4 && (fibre + (face.side == Side::Port ? 1 : 0)) % 3 == 0) return Story::SomeDust;
    return Story::Clean;
}

namespace {

world::Camera cameraOn(std::uint32_t seed, int cleanings)
{
    world::Camera camera;
    camera.seed = seed + static_cast<std::uint32_t>(cleanings);
    camera.offsetX = Micrometre(double(seed % 17) - 8);
    camera.offsetY = Micrometre(double(seed % 13) - 6);
    return camera;
}

world::SimulatedFace faceOf(const FaceId& face, int cleanings)
{
    return world::cleaned(world::makeFace(demoStory(face), seedOf(face)), cleanings, seedOf(face));
}

}  // namespace

face::Picture demoPicture(const FaceId& face, int cleanings)
{
    return world::takePicture(faceOf(face, cleanings), cameraOn(seedOf(face), cleanings));
}

world::Microscope demoMicroscope(const FaceId& face, int cleanings) { return {faceOf(face, cleanings), cameraOn(seedOf(face), cleanings)}; }

}  // namespace clendo
