#pragma once
#include <opencv2/core.hpp>
#include <vector>

namespace clendo::face {

enum class Region { Glass, Ferrule };

/// One thing apart from its surroundings, before it is measured. Lengths in pixels of the picture.
struct Piece {
    std::vector<cv::Point2f> outline;  ///< of its area at half contrast, to a quarter pixel of the map it was found in
    cv::Point2f centre;                ///< of the smallest circle around the outline
    double radius = 0;
    double area = 0;       ///< pixels²
    double contrast = 0;   ///< strongest, signed
    double smoothing = 0;  ///< sigma by which the map it was found in was smoothed
    Region region = Region::Glass;
    bool atRim = false;     ///< it reaches the border of the judged area
    bool staysOut = false;  ///< of the ferrule, and does not go on in the glass: what an adhesive line leaves along it, or at another border
    bool hollow = false;    ///< an outline with a middle like its surroundings; the border of the judged area may close it
    bool arch = false;      ///< hollow, and told to be a droplet's rim by lying on one circle, however thin
    bool flake = false;     ///< known to be no line, however slender its parts make it look
    bool stroke = false;    ///< known to be straight: parts of one line, or one of several that cross

    /// Sets centre and radius from the outline.
    void enclose();
    /// Makes another piece a part of this one: its outline and area too, the rim that it reaches, the stronger contrast of both.
    void add(const Piece& part);
};

/// A droplet's rim fills a good part of its circle; a bent thing that closes on itself does not.
bool isRing(const Piece& p);

/// Least distance of the outlines, pixels, or `enough` where they are farther apart: every second point, a quarter pixel each, is plenty.
double gapBetween(const Piece& a, const Piece& b, double enough);

struct Joining {
    double pixelsPerMicrometre = 1;
    double blur = 1;      ///< sigma of the picture's, px
    double across = 0;    ///< px between what lies on the glass and on the ferrule and may still be one thing
    double rounding = 0;  ///< jpegStep, a share of the light
};

/// Joins what is one thing: dark and light parts of a droplet or scratch, and parts on both sides of the cladding's edge.
void joinPieces(std::vector<Piece>& pieces, const Joining& joining);

}  // namespace clendo::face
