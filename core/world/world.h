#pragma once
#include <map>
#include <memory>
#include <nlohmann/json_fwd.hpp>
#include <optional>
#include <random>
#include <string>
#include <string_view>
#include <vector>

#include "otdr/trace.h"
#include "world/face_world.h"
#include "world/glass.h"
#include "world/instruments.h"

namespace clendo::world {

/// What lies between two faces: a cord, or a fibre of a cable.
struct Strand {
    struct Point {
        Metre at;  ///< from the first face
        Decibel loss;
        bool bend = false;  ///< its loss is that at 1550 nm, and grows with the wavelength
    };
    std::size_t a = 0, b = 0;  ///< faces
    std::shared_ptr<const Glass> glass;
    Metre length;
    std::vector<Point> points;  ///< splices and bends, in order from a
};

/// What a meter shows.
struct PowerSeen {
    enum class Kind { Level, NoLight, Overload };
    Kind kind = Kind::NoLight;
    DecibelMilliwatt level{};  ///< of a Level; rounded to the meter's resolution
    double toneHz = 0;         ///< by which the light is modulated; 0: it is not
};

/// The truth of a simulated world: faces with what lies on them, cords, cables, instruments, time. It is acted upon and observed; what is seen
/// agrees, whatever is looked at: dirt shows in the picture, costs power, reflects, and stands in the trace. The same seed and the same deeds give
/// the same world, however often it is observed.
class World {
public:
    explicit World(std::uint32_t seed = 1) : seed_(seed), deeds_(seed * 2654435761U + 11) {}

    // What it is made of; for scenarios and tests.
    std::size_t addFace(std::string name, TrueFace face);
    void addAlias(const std::string& alias, std::size_t face);
    void addStrand(Strand strand);
    /// Faces that share a ferrule: they are mated and parted together.
    void addFerrule(const std::vector<std::size_t>& faces);
    void addInstrument(Instrument instrument);
    /// What lies on a face from the beginning; of its own seed.
    Result<void> tell(std::string_view face, Story story);
    void setTemperature(double celsius) { celsius_ = celsius; }
    [[nodiscard]] std::uint32_t seed() const { return seed_; }

    // Deeds. Errors: NotThere, StepRefused; then nothing was changed.
    Result<void> clean(std::string_view face, Cleaning how);
    Result<void> touch(std::string_view face);
    Result<void> drop(std::string_view face);
    Result<void> cap(std::string_view face, bool on);
    Result<void> mate(std::string_view a, std::string_view b);
    Result<void> part(std::string_view face);
    /// Puts a cord into an instrument's port (what was there is parted first), or a face under a scope.
    Result<void> connect(std::string_view instrument, std::string_view face);
    /// Bends what begins at a face, so far from it; `at1550` 0: straight again.
    Result<void> bend(std::string_view face, Metre at, Decibel at1550);
    /// The cord at a face is moved: what it carries from a source changes a little.
    Result<void> move(std::string_view face);
    void wait(Second time) { now_ += time; }

    // Observations; they change nothing.
    [[nodiscard]] Result<face::Picture> picture(std::string_view face, const Handling& hand) const;
    /// The same for many frames: drawing the scene takes some 100 ms, cutting a frame from it a few. Good until changes() is another number.
    [[nodiscard]] Result<Microscope> microscope(std::string_view face) const;
    /// How often something was done to faces.
    [[nodiscard]] std::size_t changes() const { return changes_; }
    [[nodiscard]] Result<PowerSeen> power(std::string_view meter) const;
    [[nodiscard]] Result<otdr::Trace> trace(std::string_view otdr) const;
    /// What a reading without a meter's errors would be between two faces: for tests, and for what a scenario wants. Nothing: no light comes through.
    [[nodiscard]] std::optional<Decibel> lossBetween(std::string_view from, std::string_view to, Nanometre wavelength) const;
    [[nodiscard]] nlohmann::json state() const;

    [[nodiscard]] Second now() const { return now_; }
    [[nodiscard]] const TrueFace* face(std::string_view name) const;
    [[nodiscard]] const std::vector<Instrument>& instruments() const { return instruments_; }
    [[nodiscard]] Instrument* instrument(std::string_view name);
    [[nodiscard]] const Instrument* instrument(std::string_view name) const;
    [[nodiscard]] DecibelMilliwatt levelOf(const Source& source) const;

private:
    struct Joined {
        std::size_t with;
        FacePoint seat;
    };
    struct Leg {
        std::size_t entered, left;  ///< faces
        const Strand* strand;
    };
    /// The way of light from a face outwards: what it goes through, and where it ends.
    struct Way {
        std::vector<Leg> legs;
        std::vector<JointTruth> joints;   ///< before each leg; one more where it ends in a port
        std::optional<std::size_t> ends;  ///< the port in which it ends
    };

    [[nodiscard]] Result<std::size_t> find(std::string_view name) const;
    [[nodiscard]] Result<std::size_t> unmated(std::string_view name) const;
    [[nodiscard]] const Strand* strandAt(std::size_t face) const;
    [[nodiscard]] Way follow(std::size_t from, Nanometre wavelength) const;
    [[nodiscard]] std::optional<Decibel> lossOf(const Way& way, Nanometre wavelength) const;
    [[nodiscard]] const Instrument* at(std::size_t port) const;
    [[nodiscard]] std::vector<std::size_t> ferruleOf(std::size_t face) const;
    void join(std::size_t a, std::size_t b);
    void separate(std::size_t face);
    void shiftLaunch(std::size_t face, double sigma);

    std::uint32_t seed_;
    std::mt19937 deeds_;  ///< turns with deeds alone
    std::size_t changes_ = 0;
    Second now_{0};
    double celsius_ = 20;
    std::vector<std::string> names_;
    std::vector<TrueFace> faces_;
    std::map<std::string, std::size_t, std::less<>> byName_;
    std::vector<Strand> strands_;
    std::map<std::size_t, std::size_t> strandOf_;
    std::map<std::size_t, std::vector<std::size_t>> ferrules_;  ///< by each of its faces
    std::map<std::size_t, Joined> joined_;
    std::vector<Instrument> instruments_;
};

}  // namespace clendo::world
