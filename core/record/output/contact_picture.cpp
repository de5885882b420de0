#include "record/output/contact_picture.h"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>

#include "record/rules/imprints.h"

namespace clendo {
namespace {

class Drawing {
public:
    Drawing(const JobState& state, const FaceId& face, std::size_t most) : state_(state), face_(face), most_(std::max<std::size_t>(2, most)) {}

    ContactPicture run()
    {
        choose();
        for (const auto& lane : faces_) {
            const FaceState& s = state_.face(lane);
            out_.lanes.push_back({lane, state_.where(lane), s.condition, s.suspicion.has_value()});
        }
        events();
        out_.story = story();
        for (const auto& pressed : pressedTogether(state_, face_)) out_.story += " " + pressed.sentence;
        return std::move(out_);
    }

private:
    void add(const FaceId& face)
    {
        if (std::find(faces_.begin(), faces_.end(), face) != faces_.end()) return;
        if (faces_.size() < most_)
            faces_.push_back(face);
        else
            ++out_.leftOut;
    }

    void addWay(const Suspicion& why)
    {
        add(why.found);
        for (const auto& contact : why.way) {
            add(contact.from);
            add(contact.to);
            way_.insert({contact.entry, contact.from, contact.to});
        }
    }

    void choose()
    {
        if (const auto& why = state_.face(face_).suspicion) addWay(*why);
        add(face_);
        for (const auto& [id, other] : state_.faces)
            if (other.suspicion && other.suspicion->found == face_) addWay(*other.suspicion);
        const auto known = faces_;
        for (const auto& contact : contactsOf(state_.events, known)) {
            add(contact.from);
            add(contact.to);
        }
    }

    [[nodiscard]] std::optional<std::size_t> laneOf(const FaceId& face) const
    {
        const auto it = std::find(faces_.begin(), faces_.end(), face);
        return it == faces_.end() ? std::nullopt : std::optional(static_cast<std::size_t>(it - faces_.begin()));
    }

    void events()
    {
        for (const auto& e : state_.events) {
            const auto a = laneOf(e.a);
            if (!a) continue;
            const std::size_t column = out_.times.size();
            if (e.kind != FaceEvent::Kind::Joined) {
                out_.looks.push_back({*a, column, e.kind == FaceEvent::Kind::SeenFit});
            } else if (const auto b = laneOf(e.b)) {
                const bool there = way_.contains({e.entry, e.a, e.b}), back = way_.contains({e.entry, e.b, e.a});
                out_.touches.push_back({back ? *b : *a, back ? *a : *b, column, there || back});
            } else {
                continue;
            }
            out_.times.push_back(e.at);
        }
    }

    [[nodiscard]] std::string story() const
    {
        const FaceState& s = state_.face(face_);
        std::string where = state_.where(face_);
        where[0] = static_cast<char>(std::toupper(static_cast<unsigned char>(where[0])));
        if (s.suspicion) {
            std::string way;
            for (const auto& contact : s.suspicion->way) way += fmt::format(" → {}", state_.where(contact.to));
            return fmt::format("{} may carry dirt: {}{}. Look at it again; a fit look clears it.", where, state_.where(s.suspicion->found), way);
        }
        const auto because = std::count_if(state_.faces.begin(), state_.faces.end(),
                                           [&](const auto& item) { return item.second.suspicion && item.second.suspicion->found == face_; });
        if (because > 0)
            return fmt::format("{} was found bad. {} it touched, directly or over a cord or port, must be seen again.", where,
                               because == 1 ? "One face that" : fmt::format("{} faces that", because));
        if (out_.touches.empty()) return fmt::format("{} touched nothing since the job began.", where);
        return fmt::format("{}: nothing that it touched was found bad since.", where);
    }

    const JobState& state_;
    const FaceId face_;
    const std::size_t most_;
    std::vector<FaceId> faces_;
    std::set<std::tuple<std::int64_t, FaceId, FaceId>> way_;
    ContactPicture out_;
};

}  // namespace

ContactPicture contactPicture(const JobState& state, const FaceId& face, std::size_t mostLanes) { return Drawing(state, face, mostLanes).run(); }

}  // namespace clendo
