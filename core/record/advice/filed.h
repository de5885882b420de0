#pragma once
#include <optional>
#include <string>
#include <string_view>

#include "face/judge/expected_loss.h"
#include "face/memory/face_match.h"
#include "record/state/state.h"

namespace clendo {

/// What is said to a person of what was just done.
struct Said {
    std::string sentence;  ///< empty: nothing
    bool trouble = false;  ///< to be read before going on
};

namespace said {

/// `tool`: null where none was named; as it was before this cleaning, or after.
Said cleaned(const KitItem* tool);
/// `mated`: whether the pair was, so that it must have been opened.
Said sleeveCleaned(const std::string& port, bool mated);
Said touched(std::string_view how);
Said covered(std::string_view how);
Said mated(const Link& link, Connection at);
Said joined(std::string_view what);
/// `belongs`: the fibre at B at which it has to come out.
Said lightSeen(const LightSeen& seen, int belongs);
Said lengthMeasured(const LengthMeasured& length);
/// `fibreOfFile`: what the file says of the fibre, empty where it says nothing.
Said traceFiled(const TraceShot& shot, const otdr::Trace& trace, int fibre);
/// A picture that was filed and counts no more, because the face was touched after it was taken; nothing to say where it counts. `when`: its time,
/// for people.
Said pictureOfBefore(const JobState& state, const FaceId& face, std::string_view when);
/// The same bytes were filed before and still count, of whatever face; nothing to say where they were not. `picture`: SHA-256 in hex.
Said samePicture(const JobState& state, std::string_view picture);

/// A picture filed as of `face` was held against an earlier look at it: not the same where lasting marks are gone. Nothing to say of the same, and
/// where it cannot be told.
Said notTheFace(const JobState& state, const FaceId& face, const face::FaceMatch& match);
/// A picture filed as of `face` shows the one that was filed as of `other`. Nothing to say where it does not, and where one of the `held` faces with
/// which it is compared would be alike by chance more than once in a hundred looks.
Said anotherFace(const JobState& state, const FaceId& face, const FaceId& other, const face::FaceMatch& match, std::size_t held);

/// What was found of one face among the faces of another job.
struct Elsewhere {
    std::string job, where;                ///< the other job, and which of its faces is the same
    std::int64_t at = 0;                   ///< when that one was seen, seconds since 1970-01-01 UTC
    std::optional<face::FaceMatch> match;  ///< the surest; nothing: none is known to be the same
    int compared = 0, different = 0;       ///< faces; of them known not to be the same
};
/// `where`: the face that was looked for.
std::string seenElsewhere(const std::string& where, const Elsewhere& found);

}  // namespace said

/// "if mated so, +0.02 to 0.31 dB at 1310 nm; a gap is not counted". `heldApart`: whether a particle may hold the faces apart.
std::string expectedLossWords(const face::ExpectedLoss& loss, Nanometre wavelength, bool heldApart);

}  // namespace clendo
