#pragma once
#include <cstddef>
#include <optional>
#include <vector>

#include "face/face_report.h"
#include "face/picture.h"

namespace clendo::face {

/// Several frames of one face, or of a row of them, as one picture.
struct CombinedFrames {
    Picture picture;                ///< of the size of the frame that the others were laid over, in its pixels
    std::vector<std::size_t> used;  ///< places of the frames in it, in their order; the first is the one laid over
    std::size_t best = 0;           ///< the sharpest of them
};

/// The most that are combined: the first of those that are sharp.
inline constexpr std::size_t mostFramesCombined = 32;

/// Lays frames of a face (of a row, where `options` do not ask for one fibre) that a hand held over the first that shows it, and takes the mean of
/// what agrees: noise falls by the root of their number. What stays in the camera while the face moves (pixels that are always bright, a pattern) is
/// taken out, and so is what shows on a single frame only. Frames that are blurred against the others, of another size, without the face or one of
/// its fibres, or that do not come to lie on it are left out. Nothing where none shows a fibre.
std::optional<CombinedFrames> combineFrames(const std::vector<Picture>& frames, const MeasureOptions& options);

}  // namespace clendo::face
