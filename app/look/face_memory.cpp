#include "app/look/face_memory.h"

#include <QFutureWatcher>
#include <QtConcurrentRun>

#include "modules/vision.h"
#include "pictures/decode.h"
#include "result/guarded.h"

namespace clendo {
namespace {

constexpr std::size_t mostKept = 500;  // fingerprints: a third of a megabyte each

/// A look to be known again, apart from the state, which goes on.
struct Held {
    FaceId face;
    std::string picture;
    face::FaceMeasurement measured;
};

/// The last look at each face that shows it; of the face itself the one before.
std::vector<Held> othersIn(const JobState& state, const FaceId& face, const std::string& picture)
{
    std::vector<Held> out;
    for (const auto& [id, one] : state.faces)
        for (auto look = one.looks.rbegin(); look != one.looks.rend(); ++look) {
            if (look->seen.picture == picture || !look->seen.measured.usable()) continue;
            out.insert(id == face ? out.begin() : out.end(), Held{id, look->seen.picture, look->seen.measured});
            break;
        }
    return out;
}

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
    const auto work = [known = known_, state, mine = Held{face, picture, look->measured}, evidence = session_.service().evidenceSource()]() -> Said {
        const auto module = vision();
        if (!module) return {};
        const auto printOf = [&](const Held& of) -> Print {
            const std::string key = of.picture + of.face.text();  // a ferrule's fibres share a picture
            {
                const std::lock_guard lock(known->mutex);
                if (const auto it = known->prints.find(key); it != known->prints.end()) return it->second;
            }
            const auto bytes = evidence(of.picture);
            const auto decoded = bytes ? decodePicture(*bytes, of.picture) : tl::unexpected(bytes.error());
            const Print print = decoded ? module->fingerprint(*decoded, of.measured) : nullptr;
            const std::lock_guard lock(known->mutex);
            if (known->prints.size() >= mostKept) known->prints.clear();
            known->prints.emplace(key, print);
            return print;
        };
        const Print own = printOf(mine);
        if (!own) return {};
        for (const auto& other : othersIn(*state, mine.face, mine.picture)) {
            if (known->over) return {};
            const Print print = printOf(other);
            if (!print) continue;
            const auto match = module->matchFaces(*print, *own);
            const Said words =
                other.face == mine.face ? said::notTheFace(*state, mine.face, match) : said::anotherFace(*state, mine.face, other.face, match);
            if (!words.sentence.empty()) return words;
            if (other.face == mine.face && match.answer == face::SameFace::Same) return {};  // known again: it can be no other
        }
        return {};
    };
    auto* watcher = new QFutureWatcher<Said>(this);
    connect(watcher, &QFutureWatcher<Said>::finished, this, [this, watcher] {
        watcher->deleteLater();
        if (const Said words = watcher->result(); !words.sentence.empty()) session_.say(words);
    });
    watcher->setFuture(QtConcurrent::run(&session_.workers(), [work] { return guardedResult(work).value_or(Said{}); }));
}

}  // namespace clendo
