#include "demo/demo_picture.h"
#include "modules/vision.h"

extern "C" __attribute__((visibility("default"))) void clendo_vision(clendo::Vision* vision)
{
    vision->measure = &clendo::face::measure;
    vision->demoPicture = &clendo::demoPicture;
}
