#include "world/scenario.h"

#include <fmt/format.h>

#include <algorithm>
#include <nlohmann/json.hpp>
#include <set>

#include "files/json_reading.h"
#include "plant/face_id.h"
#include "world/deeds.h"

namespace clendo::world {
namespace {

using nlohmann::json;

constexpr std::size_t mostFaces = 20000;
constexpr double ownOffset = 0.5, referenceOffset = 0.12,
                 multimodeOffset = 1.5;  // um, of a core in its ferrule: ordinary, reference-grade, multimode

class Reader {
public:
    Reader(const json& root, const RuleFiles& rules) : root_(root), rules_(rules) {}

    Result<World> run()
    {
        JsonReading in(root_, "");
        if (in.textOr("format", "") != "clendo-scenario" || in.number("format_version", 1, 1) != 1)
            return wrong("it is not marked as a Clendo scenario of version 1");
        const auto seed = static_cast<std::uint32_t>(in.numberOrNothing("seed", 0, 4e9).value_or(1));
        world_ = World(seed);
        random_.seed(seed * 40503U + 77);
        world_.setTemperature(in.numberOrNothing("temperature_c", -40, 60).value_or(20));
        check(in);
        each("cables", &Reader::cable);
        each("cords", &Reader::cord);
        each("instruments", &Reader::instrument);
        each("faces", &Reader::face);
        each("bends", &Reader::bend);
        each("mated", &Reader::mated);
        each("deeds", &Reader::deed);
        if (trouble_) return wrong(*trouble_);
        return std::move(world_);
    }

private:
    [[nodiscard]] tl::unexpected<Error> wrong(const std::string& what) const
    {
        return failure(Error::Code::ScenarioInvalid, fmt::format("The scenario cannot be used: {}. Mend it there.", what));
    }
    void complain(const std::string& what)
    {
        if (!trouble_) trouble_ = where_.empty() ? what : where_ + ": " + what;
    }
    void check(const JsonReading& in)
    {
        if (in.problem()) complain(*in.problem());
    }
    void check(const Result<void>& done)
    {
        if (!done) complain(done.error().message);
    }
    void each(const char* key, void (Reader::*read)(const json&))
    {
        const auto it = root_.find(key);
        if (it == root_.end()) return;
        if (!it->is_array()) return complain(fmt::format("“{}” must be a list", key));
        for (std::size_t i = 0; i < it->size() && !trouble_; ++i) {
            where_ = fmt::format("{}[{}]", key, i);
            (this->*read)((*it)[i]);
        }
        where_.clear();
    }
    std::shared_ptr<const Glass> glass(const std::string& fibre)
    {
        auto& known = glasses_[fibre];
        if (known) return known;
        auto loaded = Glass::named(fibre, rules_);
        if (!loaded) {
            complain(loaded.error().message);
            loaded = Glass::named("OS2", rules_);
        }
        return known = std::make_shared<const Glass>(loaded ? *loaded : Glass());
    }
    /// A face that nobody has touched: its core a little aside, its polish its own.
    std::size_t newFace(const std::string& name, const Glass& glass, double offset, bool angled)
    {
        TrueFace out;
        out.multimode = glass.multimode();
        out.core = glass.core();
        out.angled = angled;
        const double aside = glass.multimode() ? multimodeOffset * offset / ownOffset : offset;
        out.offset = {Micrometre(normal(random_, aside)), Micrometre(normal(random_, aside))};
        out.polish = Decibel((angled ? -66 : -54) + normal(random_, 2));
        out.marks = makeFace(Story::Clean, static_cast<std::uint32_t>(random_() % 100000)).marks;
        if (world_.face(name)) complain(fmt::format("the face “{}” is there twice", name));
        if (++faces_ > mostFaces) complain(fmt::format("more than {} faces", mostFaces));
        return world_.addFace(name, std::move(out));
    }

    void cable(const json& value)
    {
        JsonReading in(value, "");
        const std::string id = in.text("id"), fibre = in.text("fibre");
        const double length = in.number("length_m", 0.5, 300000);
        const int fibres = static_cast<int>(in.number("fibres", 1, 1728));
        const int inFerrule = static_cast<int>(in.numberOrNothing("ferrule_fibres", 1, 24).value_or(1));
        const bool angled = in.flagOr("angled", false);
        if (in.problem()) return complain(*in.problem());
        const auto light = glass(fibre);
        std::vector<Strand::Point> splices;
        if (const auto* list = in.find("splices"))
            for (const auto& one : *list) {
                JsonReading splice(one, "splices");
                splices.push_back({Metre(splice.number("at_m", 0, length)), Decibel(splice.number("loss_db", 0, 40))});
                check(splice);
            }
        const auto ports = portsAtB(value, fibres);
        std::vector<std::size_t> at[2][2], far[2];
        for (int n = 1; n <= fibres && !trouble_; ++n)
            for (const End end : {End::A, End::B}) {
                const auto e = static_cast<std::size_t>(end);
                for (const Side side : {Side::Cord, Side::Port})
                    at[e][static_cast<std::size_t>(side)].push_back(
                        newFace(FaceId{fmt::format("{}/{}", id, n), end, side}.text(), *light, ownOffset, angled));
                far[e].push_back(newFace(FaceId{fmt::format("{}/{}", id, n), Connection::device(end), Side::Cord}.text(), *light, ownOffset, angled));
            }
        if (trouble_) return;
        for (std::size_t n = 0; n < static_cast<std::size_t>(fibres); ++n) {
            auto points = splices;
            for (auto& p : points) p.loss += Decibel(std::abs(normal(random_, 0.02)));
            world_.addStrand({at[0][1][n], at[1][1][ports[n]], light, Metre(length), points});
            for (const std::size_t e : {0, 1}) world_.addStrand({at[e][0][n], far[e][n], light, Metre(3), {}});
        }
        for (const std::size_t e : {0, 1}) {
            const std::string panel = in.textOr(e == 0 ? "panel_a" : "panel_b", "");
            const int first = static_cast<int>(in.numberOrNothing(e == 0 ? "first_port_a" : "first_port_b", 1, 100000).value_or(1));
            for (std::size_t n = 0; n < at[e][0].size(); ++n)
                for (const std::size_t s : {0, 1})
                    if (!panel.empty())
                        world_.addAlias(fmt::format("{}/{}/{}", panel, first + static_cast<int>(n), name(static_cast<Side>(s))), at[e][s][n]);
            for (std::size_t n = 0; inFerrule > 1 && n + static_cast<std::size_t>(inFerrule) <= at[e][0].size();
                 n += static_cast<std::size_t>(inFerrule))
                for (const auto* row : {&at[e][0], &at[e][1], &far[e]}) {
                    const auto begin = row->begin() + static_cast<std::ptrdiff_t>(n);
                    world_.addFerrule({begin, begin + inFerrule});
                }
        }
        check(in);
    }
    /// Which port at B each fibre ends in, from 0: "crossed": [[3, 4]] swaps two.
    std::vector<std::size_t> portsAtB(const json& value, int fibres)
    {
        std::vector<std::size_t> out;
        for (int n = 0; n < fibres; ++n) out.push_back(static_cast<std::size_t>(n));
        const auto it = value.find("crossed");
        if (it == value.end()) return out;
        if (!it->is_array()) complain("“crossed” must be a list of pairs");
        for (const auto& pair : *it) {
            const auto fibre = [&](std::size_t i) {
                return pair.is_array() && pair.size() == 2 && pair[i].is_number_integer() && pair[i] >= 1 && pair[i] <= fibres
                           ? pair[i].get<std::size_t>()
                           : 0;
            };
            if (fibre(0) == 0 || fibre(1) == 0)
                complain(fmt::format("“crossed” must hold pairs of fibres from 1 to {}", fibres));
            else
                std::swap(out[fibre(0) - 1], out[fibre(1) - 1]);
        }
        return out;
    }

    void cord(const json& value)
    {
        JsonReading in(value, "");
        const std::string id = in.text("id"), fibre = in.text("fibre");
        const double length = in.number("length_m", 0.2, 20000);
        const double offset = in.flagOr("reference_grade", false) ? referenceOffset : ownOffset;
        const bool angled = in.flagOr("angled", false);
        const double hidden = in.numberOrNothing("inner_loss_db", 0, 40).value_or(0);
        if (in.problem()) return complain(*in.problem());
        const auto light = glass(fibre);
        const auto a = newFace(id + "/A", *light, offset, angled), b = newFace(id + "/B", *light, offset, angled);
        if (trouble_) return;
        world_.addAlias(id + "/A/cord", a);
        world_.addAlias(id + "/B/cord", b);
        std::vector<Strand::Point> points;
        if (hidden > 0) points.push_back({Metre(length / 2), Decibel(hidden)});
        world_.addStrand({a, b, light, Metre(length), points});
    }

    void instrument(const json& value)
    {
        JsonReading in(value, "");
        Instrument unit;
        unit.name = in.text("name");
        unit.serial = in.textOr("serial", "");
        const std::string kind = in.text("kind");
        if (world_.instrument(unit.name) || world_.face(unit.name)) complain(fmt::format("the name “{}” is there twice", unit.name));
        if (kind == "source") {
            Source source;
            for (const auto& one : in.list("lights")) {
                JsonReading light(one, "lights");
                source.lights[light.number("wavelength_nm", 600, 1700)] = DecibelMilliwatt(light.number("level_dbm", -60, 20));
                check(light);
            }
            if (source.lights.empty())
                complain("a source has at least one light");
            else
                source.wavelength = Nanometre(source.lights.begin()->first);
            source.warmUp = Second(in.numberOrNothing("warm_up_s", 0, 86400).value_or(600));
            source.coldShift = Decibel(in.numberOrNothing("cold_shift_db", -10, 10).value_or(0.4));
            source.wander = Decibel(in.numberOrNothing("wander_db", 0, 10).value_or(0.01));
            source.onSince = Second(in.flagOr("warm", true) ? -86400 : 0);
            unit.unit = source;
        } else if (kind == "meter") {
            Meter meter;
            meter.floor = DecibelMilliwatt(in.numberOrNothing("floor_dbm", -110, 0).value_or(-70));
            meter.overload = DecibelMilliwatt(in.numberOrNothing("overload_dbm", -30, 40).value_or(10));
            meter.error = Decibel(in.numberOrNothing("error_db", -5, 5).value_or(0));
            meter.noise = Decibel(in.numberOrNothing("noise_db", 0, 5).value_or(0.004));
            meter.resolution = Decibel(in.numberOrNothing("resolution_db", 0.0001, 1).value_or(0.01));
            unit.unit = meter;
        } else if (kind == "scope") {
            unit.unit = Scope{};
        } else if (kind == "otdr") {
            unit.unit = Otdr{};
        } else {
            complain(fmt::format("an instrument is a source, a meter, a scope or an otdr, not “{}”", kind));
        }
        check(in);
        if (!trouble_) world_.addInstrument(std::move(unit));
    }

    void face(const json& value)
    {
        static const std::map<std::string, Story, std::less<>> stories{{"clean", Story::Clean},         {"some dust", Story::SomeDust},
                                                                       {"dusty", Story::Dusty},         {"oily", Story::Oily},
                                                                       {"scratched", Story::Scratched}, {"pitted", Story::Pitted}};
        JsonReading in(value, "");
        const std::string name = in.text("face"), told = in.text("story");
        const auto story = stories.find(told);
        if (story == stories.end()) complain(fmt::format("there is no story “{}”: clean, some dust, dusty, oily, scratched or pitted", told));
        check(in);
        if (trouble_) return;
        check(world_.tell(name, story->second));
    }
    void bend(const json& value)
    {
        JsonReading in(value, "");
        const std::string from = in.text("from");
        const Metre at(in.number("at_m", 0, 300000));
        const Decibel loss(in.number("loss_1550_db", 0, 40));
        check(in);
        if (!trouble_) check(world_.bend(from, at, loss));
    }
    void mated(const json& pair)
    {
        if (!pair.is_array() || pair.size() != 2 || !pair[0].is_string() || !pair[1].is_string()) return complain("it must be a pair of names");
        const auto a = pair[0].get<std::string>(), b = pair[1].get<std::string>();
        check(world_.instrument(a) ? world_.connect(a, b) : world_.instrument(b) ? world_.connect(b, a) : world_.mate(a, b));
    }

    void deed(const json& value)
    {
        const auto done = doDeed(world_, value);
        if (!done) return complain("nobody knows how to do that");
        check(*done);
    }

    const json& root_;
    const RuleFiles& rules_;
    World world_;
    std::mt19937 random_;
    std::map<std::string, std::shared_ptr<const Glass>> glasses_;
    std::size_t faces_ = 0;
    std::string where_;
    std::optional<std::string> trouble_;
};

}  // namespace

Result<World> readScenario(std::string_view text, const RuleFiles& rules)
{
    const json root = json::parse(text, nullptr, false);
    if (!root.is_object()) return failure(Error::Code::ScenarioInvalid, "The scenario cannot be used: it is no JSON object. Mend it there.");
    return Reader(root, rules).run();
}

}  // namespace clendo::world
