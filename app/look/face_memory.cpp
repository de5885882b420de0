#include "app/look/face_memory.h"

#include <QtConcurrentRun>

#include "app/widgets/when_done.h"
#include "result/guarded.h"

namespace clendo {
namespace {

const FaceSeen* lookWith(const JobState& state, const FaceId& face, const std::string& picture)
{
    for (const auto& look : state.face(face).looks)
        if (look.seen.picture == picture) return &look.seen;
    return nullptr;
}

}  // namespace

FaceMemory::FaceMemory(JobSession& session, QObject* parent) : QObject(parent), session_(session) {}

FaceMemory::~FaceMemory() { known_->over = true; }

void FaceMemory::seen(const FaceId& face, const std::string& picture)
{
    const auto state = session_.snapshot().state;
    const FaceSeen* look = lookWith(*state, face, picture);
    if (!look || !look->measured.usable()) return;
    const auto work = [known = known_, state, mine = LookHeld{face, picture, look->measured},
                       evidence = session_.service().evidenceSource()]() -> Said {
        const auto module = vision();
        if (!module) return {};
        const auto printOf = [&](const LookHeld& of) { return known->prints.of(*module, of, evidence); };
        const auto own = printOf(mine);
        if (!own) return {};
        const auto looks = lastLooks(*state, mine.face, mine.picture);
        for (const auto& other : looks) {
            if (known->over) return {};
            const auto print = printOf(other);
            if (!print) continue;
            const auto match = module->matchFaces(*print, *own);
            const Said words = other.face == mine.face ? said::notTheFace(*state, mine.face, match)
                                                       : said::anotherFace(*state, mine.face, other.face, match, looks.size());
            if (!words.sentence.empty()) return words;
            if (other.face == mine.face && match.answer == face::SameFace::Same) return {};  // known again: it can be no other
        }
        return {};
    };
    whenDone(QtConcurrent::run(&session_.workers(), [work] { return guardedResult(work).value_or(Said{}); }), this, [this](const Said& words) {
        if (!words.sentence.empty()) session_.say(words);
    });
}

}  // namespace clendo
