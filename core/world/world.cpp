// Deeds, and what the world is made of. What is seen of it: observed.cpp.
#include "world/world.h"

#include <fmt/format.h>

#include <algorithm>

namespace clendo::world {
namespace {

// How far things move, as one standard deviation.
constexpr double seatSingleMode = 0.2, seatMultimode = 0.8;              // um, of a ferrule in its sleeve from one mating to the next
constexpr double launchAnew = 0.15, launchMoved = 0.08, farEnd = 0.006;  // dB: a cord put into a source; that cord moved; its other end handled

}  // namespace

std::string kindOf(const Instrument& instrument)
{
    static constexpr const char* kinds[] = {"source", "meter", "scope", "otdr"};
    return kinds[instrument.unit.index()];
}

std::size_t World::addFace(std::string name, TrueFace face)
{
    byName_.emplace(name, faces_.size());
    names_.push_back(std::move(name));
    faces_.push_back(std::move(face));
    return faces_.size() - 1;
}

void World::addAlias(const std::string& alias, std::size_t face) { byName_.emplace(alias, face); }

void World::addStrand(Strand strand)
{
    strandOf_[strand.a] = strandOf_[strand.b] = strands_.size();
    strands_.push_back(std::move(strand));
}

void World::addFerrule(const std::vector<std::size_t>& faces)
{
    for (const auto face : faces) ferrules_[face] = faces;
}

void World::addInstrument(Instrument instrument)
{
    if (!std::holds_alternative<Scope>(instrument.unit)) {
        TrueFace port;
        instrument.port = addFace(instrument.name, port);
        addAlias(instrument.name + "/A/port", instrument.port);
    }
    instruments_.push_back(std::move(instrument));
}

Result<void> World::tell(std::string_view name, Story story)
{
    const auto face = find(name);
    if (!face) return tl::unexpected(face.error());
    std::uint32_t h = seed_ * 31 + 2166136261U;
    for (const char c : names_[*face]) h = (h ^ static_cast<unsigned char>(c)) * 16777619U;
    faces_[*face].marks = makeFace(story, h % 100000).marks;
    return {};
}

Result<std::size_t> World::find(std::string_view name) const
{
    const auto it = byName_.find(name);
    if (it == byName_.end()) return failure(Error::Code::NotThere, fmt::format("There is no face “{}” in this world.", name));
    return it->second;
}

Result<std::size_t> World::unmated(std::string_view name) const
{
    auto face = find(name);
    if (!face) return face;
    if (const auto joined = joined_.find(*face); joined != joined_.end())
        return failure(Error::Code::StepRefused, fmt::format("{} is mated with {}. Part them first.", names_[*face], names_[joined->second.with]));
    return face;
}

const TrueFace* World::face(std::string_view name) const
{
    const auto it = byName_.find(name);
    return it == byName_.end() ? nullptr : &faces_[it->second];
}

const Instrument* World::instrument(std::string_view name) const
{
    const auto it = std::find_if(instruments_.begin(), instruments_.end(), [&](const Instrument& i) { return i.name == name; });
    return it == instruments_.end() ? nullptr : &*it;
}

Instrument* World::instrument(std::string_view name) { return const_cast<Instrument*>(std::as_const(*this).instrument(name)); }

const Instrument* World::at(std::size_t port) const
{
    const auto it = std::find_if(instruments_.begin(), instruments_.end(),
                                 [&](const Instrument& i) { return !std::holds_alternative<Scope>(i.unit) && i.port == port; });
    return it == instruments_.end() ? nullptr : &*it;
}

const Strand* World::strandAt(std::size_t face) const
{
    const auto it = strandOf_.find(face);
    return it == strandOf_.end() ? nullptr : &strands_[it->second];
}

std::vector<std::size_t> World::ferruleOf(std::size_t face) const
{
    const auto it = ferrules_.find(face);
    return it == ferrules_.end() ? std::vector{face} : it->second;
}

Result<void> World::clean(std::string_view name, Cleaning how)
{
    const auto face = unmated(name);
    if (!face) return tl::unexpected(face.error());
    ++changes_;
    for (const auto one : ferruleOf(*face)) world::clean(faces_[one].marks, how, deeds_);
    faces_[*face].capped = false;
    return {};
}

Result<void> World::touch(std::string_view name)
{
    const auto face = unmated(name);
    if (!face) return tl::unexpected(face.error());
    ++changes_;
    for (const auto one : ferruleOf(*face)) world::touch(faces_[one].marks, deeds_);
    return {};
}

Result<void> World::drop(std::string_view name)
{
    const auto face = unmated(name);
    if (!face) return tl::unexpected(face.error());
    if (faces_[*face].capped) return {};
    ++changes_;
    for (const auto one : ferruleOf(*face)) world::drop(faces_[one].marks, deeds_);
    return {};
}

Result<void> World::cap(std::string_view name, bool on)
{
    const auto face = unmated(name);
    if (!face) return tl::unexpected(face.error());
    ++changes_;
    if (on && !faces_[*face].capped)
        for (const auto one : ferruleOf(*face)) world::cap(faces_[one].marks, deeds_);
    for (const auto one : ferruleOf(*face)) faces_[one].capped = on;
    return {};
}

Result<void> World::mate(std::string_view nameA, std::string_view nameB)
{
    const auto a = unmated(nameA), b = unmated(nameB);
    if (!a) return tl::unexpected(a.error());
    if (!b) return tl::unexpected(b.error());
    if (*a == *b) return failure(Error::Code::StepRefused, fmt::format("{} cannot be mated with itself.", nameA));
    if (at(*a) && at(*b)) return failure(Error::Code::StepRefused, "Two instruments are joined by a cord, not by their ports.");
    const auto facesA = ferruleOf(*a), facesB = ferruleOf(*b);
    if (facesA.size() != facesB.size())
        return failure(Error::Code::StepRefused,
                       fmt::format("{} has {} fibres, {} has {}: they do not fit.", nameA, facesA.size(), nameB, facesB.size()));
    for (std::size_t i = 0; i < facesA.size(); ++i) join(facesA[i], facesB[i]);
    return {};
}

void World::join(std::size_t a, std::size_t b)
{
    ++changes_;
    const bool detector = at(a) || at(b);  // a port's face is not as large, and sits deep
    press(faces_[a].marks, faces_[b].marks, deeds_);
    const double scatter = detector ? 0 : faces_[a].multimode || faces_[b].multimode ? seatMultimode : seatSingleMode;
    const FacePoint seat{Micrometre(normal(deeds_, scatter)), Micrometre(normal(deeds_, scatter))};
    joined_[a] = {b, seat};
    joined_[b] = {a, {seat.x, -seat.y}};
    faces_[a].capped = faces_[b].capped = false;
    for (const auto port : {a, b})
        if (const auto* it = at(port); it && std::holds_alternative<Source>(it->unit))
            std::get<Source>(instrument(it->name)->unit).launch = Decibel(normal(deeds_, launchAnew));
    for (const auto face : {a, b})
        if (const Strand* strand = strandAt(face)) shiftLaunch(strand->a == face ? strand->b : strand->a, farEnd);
}

/// Where the face is in a source, what it takes of the light changes.
void World::shiftLaunch(std::size_t face, double sigma)
{
    const auto it = joined_.find(face);
    if (it == joined_.end()) return;
    const auto* with = at(it->second.with);
    if (with && std::holds_alternative<Source>(with->unit)) std::get<Source>(instrument(with->name)->unit).launch += Decibel(normal(deeds_, sigma));
}

void World::separate(std::size_t face)
{
    const auto it = joined_.find(face);
    if (it == joined_.end()) return;
    joined_.erase(it->second.with);
    joined_.erase(face);
}

Result<void> World::part(std::string_view name)
{
    const auto face = find(name);
    if (!face) return tl::unexpected(face.error());
    if (!joined_.contains(*face)) return failure(Error::Code::StepRefused, fmt::format("{} is mated with nothing.", names_[*face]));
    for (const auto one : ferruleOf(*face)) separate(one);
    return {};
}

Result<void> World::connect(std::string_view name, std::string_view faceName)
{
    Instrument* unit = instrument(name);
    if (!unit) return failure(Error::Code::NotThere, fmt::format("There is no instrument “{}” in this world.", name));
    const auto face = find(faceName);
    if (!face) return tl::unexpected(face.error());
    if (auto* scope = std::get_if<Scope>(&unit->unit)) {
        if (joined_.contains(*face) && !at(*face))
            return failure(Error::Code::StepRefused, fmt::format("{} is mated: nothing can be seen of it. Part it first.", names_[*face]));
        scope->face = names_[*face];
        return {};
    }
    if (const auto joined = joined_.find(*face); joined != joined_.end()) {
        if (joined->second.with == unit->port) return {};
        return failure(Error::Code::StepRefused, fmt::format("{} is mated with {}. Part them first.", names_[*face], names_[joined->second.with]));
    }
    if (at(*face)) return failure(Error::Code::StepRefused, "Two instruments are joined by a cord, not by their ports.");
    if (ferruleOf(*face).size() > 1) return failure(Error::Code::StepRefused, "Several fibres in one ferrule do not go into this port.");
    separate(unit->port);
    join(unit->port, *face);
    return {};
}

Result<void> World::bend(std::string_view name, Metre where, Decibel at1550)
{
    const auto face = find(name);
    if (!face) return tl::unexpected(face.error());
    const auto it = strandOf_.find(*face);
    if (it == strandOf_.end()) return failure(Error::Code::StepRefused, fmt::format("No fibre begins at {}.", names_[*face]));
    Strand& strand = strands_[it->second];
    const Metre at = strand.a == *face ? where : strand.length - where;
    if (at < Metre(0) || at > strand.length || at1550 < Decibel(0) || at1550 > Decibel(40))
        return failure(Error::Code::StepRefused,
                       fmt::format("A bend lies on the fibre (0 to {:.1f} m) and costs 0 to 40 dB.", strand.length.value()));
    std::erase_if(strand.points, [&](const Strand::Point& p) { return p.bend && p.at == at; });
    if (at1550 > Decibel(0)) {
        strand.points.push_back({at, at1550, true});
        std::stable_sort(strand.points.begin(), strand.points.end(), [](const auto& p, const auto& q) { return p.at < q.at; });
    }
    shiftLaunch(strand.a, launchMoved);
    shiftLaunch(strand.b, launchMoved);
    return {};
}

Result<void> World::move(std::string_view name)
{
    const auto face = find(name);
    if (!face) return tl::unexpected(face.error());
    const Strand* strand = strandAt(*face);
    if (!strand) return failure(Error::Code::StepRefused, fmt::format("No cord begins at {}.", names_[*face]));
    shiftLaunch(strand->a, launchMoved);
    shiftLaunch(strand->b, launchMoved);
    return {};
}

}  // namespace clendo::world
