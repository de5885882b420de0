#include "kinds.h"

#include <algorithm>
#include <array>

namespace clendo::drawn {
namespace {

/// `fibres`: in each row.
void row(Shot& s, int fibres, Dice& dice, int rows = 1)
{
    s.fibres = fibres * rows;
    s.rows = rows;
    s.faceClass = dice.chance(0.5) ? "sm-multi" : "mm-multi";
    if (s.faceClass == "mm-multi") {
        s.face.core = CoreKind::Multimode50;
        s.face.coreRadius = 25;
        s.face.coreLight = dice.between(0.03, 0.12);
    }
    s.scale = fibres == 4 ? dice.between(0.42, 0.55) : dice.between(0.85, 0.95);
    s.size = {cvRound((250 * fibres + 40) / s.scale), cvRound((500 * (rows - 1) + dice.between(260, 420)) / s.scale)};
    s.face.rectangular = true;
    s.face.ferruleLight = dice.between(0.06, 0.4);
    s.face.grain = dice.between(0.1, 0.35);
    s.face.polish = 0;
    s.push = {0, dice.between(-0.08, 0.08)};
    s.camera.border = Border::None;
    s.dirt.specks = 1;
    s.dirt.chips = 0.05;
}

void multimode(Shot& s, CoreKind core, double radius, Dice& dice)
{
    s.faceClass = "mm-pc";
    s.face.core = core;
    s.face.coreRadius = radius;
    s.face.coreLight = dice.between(0.03, 0.15) * (dice.chance(0.25) ? -1 : 1);
    s.face.coreGraded = dice.between(0, 1);
}

/// What lies on the ferrule may be hidden, so nothing does.
void hide(Shot& s, Border border)
{
    s.camera.border = border;
    s.dirt.onFerrule = 0;
    s.dirt.lint = 0;
}

}  // namespace

Shot someShot(Dice& dice)
{
    Shot s;
    s.lens = someLens(dice);
    s.camera = someCamera(dice);
    const std::array<cv::Size, 4> sizes{cv::Size(640, 480), {800, 600}, {1024, 768}, {1280, 960}};
    s.size = sizes[static_cast<std::size_t>(dice.below(4))];
    s.scale = dice.between(210, 330) / s.size.height;
    if (dice.chance(0.2)) s.jpeg = 70 + dice.below(26);
    s.push = {dice.between(-0.1, 0.1), dice.between(-0.05, 0.05)};
    Surroundings& f = s.face;
    f.claddingRadius = dice.between(62.15, 62.85);
    f.coreRadius = dice.between(4.2, 4.7);
    f.coreLight = dice.between(-0.08, 0.12);
    f.coreAt = somewhere(dice, 0, 0.8);
    f.ringWidth = dice.decades(0.5, 3);
    f.ringLight = dice.between(0.05, 0.7);
    f.ferruleLight = dice.between(0.45, 0.95);
    f.grain = dice.between(0.01, 0.06);
    f.grainSize = dice.between(1, 5);
    f.polish = dice.chance(0.5) ? dice.between(0.01, 0.07) : 0;
    f.holeAt = somewhere(dice, 0, 0.4);
    return s;
}

const std::vector<Kind>& kinds()
{
    static const std::vector<Kind> all{
        {"plain", [](Shot&, Dice&) {}},
        {"clean", [](Shot& s, Dice&) { s.dirt = {0.1, 0, 0, 0, 0, 0.1, 0, 0.1, 0, 0, 1}; }},
        {"dusty", [](Shot& s, Dice&) { s.dirt.specks = 9; }},
        {"flakes", [](Shot& s, Dice&) { s.dirt = {0.5, 3, 0, 0, 0, 0, 0, 0, 0, 0, 4}; }},
        {"droplets", [](Shot& s, Dice&) { s.dirt = {0.5, 0, 3, 0, 0, 0, 0, 0, 0, 0, 1}; }},
        {"films", [](Shot& s, Dice&) { s.dirt = {0.5, 0, 0.5, 1.5, 0, 0, 0, 0, 0, 0, 1}; }},
        {"lint", [](Shot& s, Dice&) { s.dirt = {0.5, 0, 0, 0, 1.3, 0, 0, 0, 0, 0, 1}; }},
        {"scratches", [](Shot& s, Dice&) { s.dirt = {0.3, 0, 0, 0, 0, 0.3, 0, 2.5, 0, 0, 1}; }},
        {"bundles", [](Shot& s, Dice&) { s.dirt = {0.3, 0, 0, 0, 0, 0, 0, 0.3, 1.2, 0, 1}; }},
        {"crossings", [](Shot& s, Dice&) { s.dirt = {0.3, 0, 0, 0, 0, 0, 0, 0, 0, 1.5, 1}; }},
        {"pits and chips", [](Shot& s, Dice&) { s.dirt = {0.3, 0, 0, 0, 0, 2.5, 0.8, 0, 0, 0, 1}; }},
        {"angled", [](Shot& s, Dice&) { s.faceClass = "sm-apc"; }},
        {"26 dB", [](Shot& s, Dice&) { s.faceClass = "sm-pc"; }},
        {"core of 50", [](Shot& s, Dice& dice) { multimode(s, CoreKind::Multimode50, 25, dice); }},
        {"core of 62.5", [](Shot& s, Dice& dice) { multimode(s, CoreKind::Multimode62, 31.25, dice); }},
        {"dark core", [](Shot& s, Dice& dice) { s.face.coreLight = dice.between(-0.45, -0.12); }},
        {"lit core",
         [](Shot& s, Dice& dice) {
             s.face.coreLight = dice.between(0.3, 1.2);
             s.camera.grey = std::min(s.camera.grey, 200 / (1 + s.face.coreLight) + 20);
         }},
        {"bright ring", [](Shot& s, Dice& dice) { s.face.ringLight = dice.between(1.05, 1.7); }},
        {"wide ring",
         [](Shot& s, Dice& dice) {
             s.face.ringWidth = dice.between(3, 8);
             s.face.ringLight = dice.between(0.1, 0.95);
             s.face.holeAt = somewhere(dice, 0, 2.5);
         }},
        {"ring with gaps", [](Shot& s, Dice& dice) { s.face.filled = dice.between(0.3, 0.85); }},
        {"hardly a ring",
         [](Shot& s, Dice& dice) {
             s.face.ringWidth = dice.between(0.15, 0.5);
             s.face.ringLight = dice.between(0.5, 0.9);
         }},
        {"ferrule like glass", [](Shot& s, Dice& dice) { s.face.ferruleLight = dice.between(0.94, 1.06); }},
        {"bright ferrule",
         [](Shot& s, Dice& dice) {
             s.face.ferruleLight = dice.between(1.2, 2.6);
             s.camera.grey = std::min(s.camera.grey, 215 / s.face.ferruleLight);
         }},
        {"dark ferrule", [](Shot& s, Dice& dice) { s.face.ferruleLight = dice.between(0.12, 0.42); }},
        {"bevelled", [](Shot& s, Dice& dice) { s.face.bevel = dice.between(135, 190); }},
        {"round window", [](Shot& s, Dice&) { hide(s, Border::Window); }},
        {"bars", [](Shot& s, Dice&) { hide(s, Border::Bars); }},
        {"dark corners", [](Shot& s, Dice& dice) { s.camera.corners = dice.between(0.12, 0.45); }},
        {"stamped", [](Shot& s, Dice&) { s.camera.stamp = true; }},
        {"mosaic", [](Shot& s, Dice&) { s.camera.mosaic = true; }},
        {"sharpened",
         [](Shot& s, Dice& dice) {
             s.camera.sharpen = dice.between(1, 2.2);
             s.camera.sharpenOver = dice.between(0.8, 2.2);
         }},
        {"stretched", [](Shot& s, Dice&) { s.camera.stretch = true; }},
        {"noisy", [](Shot& s, Dice& dice) { s.camera.read = dice.between(3, 7); }},
        {"jpeg", [](Shot& s, Dice& dice) { s.jpeg = 35 + dice.below(35); }},
        {"enlarged", [](Shot& s, Dice& dice) { s.camera.enlarged = dice.between(1.2, 1.9); }},
        {"hot pixels", [](Shot& s, Dice& dice) { s.camera.hot = 10 + dice.below(80); }},
        {"small", [](Shot& s, Dice& dice) { s.scale = dice.between(0.62, 0.9); }},
        {"large",
         [](Shot& s, Dice& dice) {
             s.size = {1280, 960};
             s.scale = dice.between(0.16, 0.21);
         }},
        {"row of 4", [](Shot& s, Dice& dice) { row(s, 4, dice); }},
        {"row of 12", [](Shot& s, Dice& dice) { row(s, 12, dice); }},
        {"two rows of 12", [](Shot& s, Dice& dice) { row(s, 12, dice, 2); }},
        {"row of 16", [](Shot& s, Dice& dice) { row(s, 16, dice); }},
        {"two rows of 16", [](Shot& s, Dice& dice) { row(s, 16, dice, 2); }},
        {"blurred",
         [](Shot& s, Dice& dice) {
             s.lens.defocus = dice.between(3.5, 5.5) * (dice.chance(0.5) ? 1 : -1);
             s.lens.aperture = dice.between(0.4, 0.5);
             if (dice.chance(0.5)) s.camera.sharpen = dice.between(0.6, 1.6);
             s.retake = true;
         }},
        {"cut off",
         [](Shot& s, Dice& dice) {
             const double half = 0.5, r = s.face.claddingRadius / s.scale;
             s.push = {(half - dice.between(-0.3, 0.85) * r / s.size.width) * (dice.chance(0.5) ? 1 : -1), dice.between(-0.1, 0.1)};
             s.retake = true;
         }},
        {"no fibre", [](Shot& s, Dice&) { s.retake = true; }},
    };
    return all;
}

}  // namespace clendo::drawn
