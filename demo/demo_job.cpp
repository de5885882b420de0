#include "demo/demo_job.h"

#include <fmt/format.h>

#include <QDateTime>
#include <QDir>
#include <QFile>
#include <array>
#include <map>
#include <optional>

#include "demo/demo_folder.h"
#include "files/files.h"
#include "otdr/sor_reader.h"
#include "otdr/sor_writer.h"
#include "pictures/decode.h"
#include "record/fold/fold.h"
#include "record/fold/growing_fold.h"
#include "record/fold/signed_record.h"
#include "record/state/complete_act.h"
#include "record/state/rules.h"
#include "store/job_store.h"
#include "world/face_world.h"
#include "world/trace_world.h"

namespace clendo {
namespace {

constexpr std::int64_t atTheFace = 60, atTheMeter = 12;  // seconds from one thing to the next
constexpr int fibresDone = 4, fibresSigned = 2;          // mated and measured, signed off when the demo opens

CablePlan varrowCable()
{
    CablePlan c;
    c.id = "VP-04";
    c.placeA = "Tide Hall";
    c.placeB = "Breakwater Hut";
    c.panelA = "TH-R2";
    c.panelB = "BH box";
    c.fibres = 12;
    c.length = Metre(2400);
    c.splices = {{"manhole 3", Metre(1180)}, {"sea wall", Metre(1905)}};
    return c;
}

CablePlan varrowTrunk()
{
    CablePlan c;
    c.id = "VP-11";
    c.placeA = "Tide Hall";
    c.placeB = "Glass Lab";
    c.panelA = "TH-R2 trunk";
    c.panelB = "GL-1";
    c.fibre = "OM4";
    c.connector = "MPO";
    c.className = "mm-multi";
    c.fibres = c.ferruleFibres = 12;
    c.length = Metre(86);
    c.endA.pins = c.endB.pins = Side::Cord;
    return c;
}

/// One fibre as the light meets it: launch cord, panel A, two splices, box B, tail cord.
std::vector<world::Stretch> lineOf(int fibre, Direction direction, double nm)
{
    const double alpha = nm < 1400 ? 0.34 : 0.20, bend = fibre == 3 && nm > 1500 ? 0.42 : 0.0;
    const double wobble = 0.03 * ((fibre * 7) % 5);
    std::vector<world::Stretch> line{{Metre(150), DecibelPerKilometre(alpha), Decibel(0.22 + wobble), Decibel(-52)},
                                     {Metre(1180), DecibelPerKilometre(alpha), Decibel(0.06 + wobble / 2), {}},
                                     {Metre(725), DecibelPerKilometre(alpha), Decibel(0.09 + bend), {}},
                                     {Metre(495), DecibelPerKilometre(alpha), Decibel(0.31), Decibel(-47)},
                                     {Metre(150), DecibelPerKilometre(alpha), Decibel(30), Decibel(-15)}};
    if (direction == Direction::AtoB) return line;
    return {{Metre(150), line[0].attenuation, line[3].jointLoss, line[3].jointReflectance},
            {Metre(495), line[0].attenuation, line[2].jointLoss, {}},
            {Metre(725), line[0].attenuation, line[1].jointLoss, {}},
            {Metre(1180), line[0].attenuation, line[0].jointLoss, line[0].jointReflectance},
            line[4]};
}

class DemoMaker {
public:
    DemoMaker(QString folder, std::int64_t end) : folder_(std::move(folder)), end_(end) {}

    Result<DemoFolder> run()
    {
        const QDir root(folder_);
        for (const char* sub : {"scope", "traces", "line"}) root.mkpath(QString::fromLatin1(sub));
        out_ = {root.filePath(QStringLiteral("varrow-point.clendo")), root.filePath(QStringLiteral("scope")), root.filePath(QStringLiteral("traces")),
                root.filePath(QStringLiteral("line"))};
        auto criteria = loadCriteria("2015", dataFolder());
        auto faceClass = criteria ? criteria->find("sm-upc") : tl::unexpected(criteria.error());
        if (!faceClass) return tl::unexpected(faceClass.error());
        criteria_ = std::move(*criteria);
        faceClass_ = std::move(*faceClass);
        JobSettings job;
        job.name = "Varrow Point";
        file(settingFacts(job));
        file(CablePlanned{varrowCable()});
        file(CablePlanned{varrowTrunk()});
        houseRule();
        kit();
        for (int n = 1; n <= 12; ++n) writeTraces(n);
        faces();
        light();
        patchCords();
        fileAll();
        if (error_) return tl::unexpected(*error_);
        return out_;
    }

private:
    struct Done {
        std::vector<Fact> facts;
        std::optional<Evidence> evidence;
        std::int64_t took = 0;
    };

    /// A stricter rule of the house beside the standard's: nothing over 2 µm on a single-mode cladding, nothing from 3 µm where ferrules touch.
    void houseRule()
    {
        auto criteria = loadCriteria("2015", dataFolder());
        if (!criteria) return fail(criteria.error());
        criteria->name = criteria->edition = "House rule";
        criteria->source = "made up for this demo, after " + criteria->source;
        for (auto& rule : criteria->classes.find("sm-upc")->second.rules) {
            if (rule.zone == Zone::B && rule.kind == RuleKind::Defect && rule.allowed) rule.allowed = 0;
            if (rule.zone == Zone::D && rule.kind == RuleKind::Defect) rule.lower = Micrometre(3);
        }
        file(CriteriaKept{criteria->edition, criteriaText(*criteria)});
    }
    /// What technician 1 carries: one pen nearly used up, one meter whose calibration ends soon.
    void kit()
    {
        constexpr std::int64_t day = 86400;
        file(KitKept{"scope 1", "scope", {}, "VS-0192", 0, 0, {}, false});
        file(KitKept{"tip LC", "tip", {"LC"}, {}, 0, 0, {}, false});
        file(KitKept{"tip MPO", "tip", {"MPO"}, {}, 0, 0, {}, false});
        file(KitKept{"pen 1", "pen", {"LC"}, {}, 0, 20, {}, false});
        file(KitKept{"pen MPO", "pen", {"MPO"}, {}, 0, 500, {}, false});
        file(KitKept{"cassette 1", "cassette", {}, {}, 0, 500, {}, false});
        file(KitKept{"sticks LC", "sticks", {"LC"}, {}, 0, 100, {}, false});
        file(KitKept{"alcohol", "alcohol", {}, {}, 0, 0, {}, false});
        file(KitKept{"RC-1", "cord", {"LC"}, "C-0117", 0, 500, "sm-upc", false});
        file(KitKept{"source 1", "source", {}, "LS-3310", end_ + 200 * day, 0, {}, false});
        file(KitKept{"meter 1", "meter", {}, "PM-2207", end_ + 9 * day, 0, {}, false});
    }
    /// Test cord RC-1 goes from port to port; at the third its end is found dirty, so what it touched before must be seen again.
    void testCord()
    {
        const FaceId cord{"RC-1", End::A, Side::Cord};
        const auto seen = [&](const face::Picture& picture, const char* name) {
            const Evidence evidence{name, encodePng(picture)};
            file(FaceSeen{cord, sha256(evidence.bytes), evidence.name, face::measure(picture, {}).front(), {}}, &evidence);
        };
        seen(simulatedPicture(cord, 3), "RC-1-1.png");
        for (const int n : {11, 12}) {
            const FaceId port{fmt::format("VP-04/{}", n), End::A, Side::Port};
            lookAndClean(port, cleaningsFor(port));
            file(Joined{port, cord});
            file(FaceCovered{port, "capped"});
        }
        seen(world::takePicture(world::makeFace(world::Story::Dusty, 7), {}), "RC-1-2.png");
    }
    void fail(const Error& error)
    {
        if (!error_) error_ = error;
    }
    void file(const Fact& fact, const Evidence* evidence = nullptr) { file(std::vector{fact}, evidence); }
    void file(std::vector<Fact> facts, const Evidence* evidence = nullptr)
    {
        day_.push_back({std::move(facts), evidence ? std::optional(*evidence) : std::nullopt, pace_});
    }
    /// The day ends now, so its beginning is known when all of it is. It is filed as a window would: each act with what it rests on.
    void fileAll()
    {
        constexpr std::int64_t second = 1'000'000;
        std::int64_t at = end_;
        for (const auto& done : day_) at -= done.took;
        std::vector<Entry> entries;
        GrowingFold fold{Rules(dataFolder())};
        for (auto& done : day_) {
            at += done.took;
            bindSignatures(done, fold);
            Act act{"technician 1", entries.empty() ? done.facts : completeAct(done.facts, fold.state()), at * second, at * second,
                    JobStore::newAct()};
            if (entries.empty()) {
                auto store = JobStore::create(out_.job, act);
                if (!store) return fail(store.error());
                store_ = std::move(*store);
                entries = store_->takeEntries();
            } else if (!take(act, done.evidence ? std::span(&*done.evidence, 1) : std::span<const Evidence>(), entries)) {
                return;
            }
            fold.update(entries, 0);
            act.facts = rulesToKeep(fold.state());
            if (!take(act, {}, entries)) return;
            fold.update(entries, 0);
        }
    }
    /// A signature stands for what is there when it is given.
    static void bindSignatures(Done& done, const GrowingFold& fold)
    {
        auto* sign = done.facts.size() == 1 ? std::get_if<Signed>(&done.facts.front()) : nullptr;
        if (!sign) return;
        if (auto bound = boundSignature(fold.state(), sign->of, sign->remark)) {
            *sign = std::move(bound->sign);
            done.evidence = std::move(bound->record);
        }
    }
    bool take(const Act& act, std::span<const Evidence> evidence, std::vector<Entry>& entries)
    {
        auto filed = store_->append(act, evidence);
        if (!filed) return fail(filed.error()), false;
        std::move(filed->begin(), filed->end(), std::back_inserter(entries));
        return true;
    }

    void look(const FaceId& face, int cleanings)
    {
        const auto picture = simulatedPicture(face, cleanings);
        std::string name = fmt::format("{}-{}.png", face.text(), cleanings + 1);
        for (auto& c : name) c = c == '/' ? '-' : c;
        const Evidence evidence{name, encodePng(picture)};
        face::MeasureOptions options;
        if (fibresInFerrule(face) > 1) options.fibres.reset();
        std::vector<Fact> looks;
        for (const auto& measured : face::measure(picture, options)) {
            FaceId fibre = face;
            if (fibresInFerrule(face) > 1) fibre.link = fmt::format("VP-11/{}", measured.fibre);
            looks.emplace_back(FaceSeen{fibre, sha256(evidence.bytes), name, measured, {}});
        }
        file(std::move(looks), &evidence);
    }

    void lookAndClean(const FaceId& face, const std::vector<const char*>& methods)
    {
        look(face, 0);
        int n = 0;
        for (const char* method : methods) {
            FaceCleaned cleaned{face, method, 1};
            cleaned.tool = std::string_view(method) == "dry" ? "pen 1" : face.side == Side::Port ? "sticks LC" : "cassette 1";
            file(cleaned);
            look(face, ++n);
        }
    }

    [[nodiscard]] std::vector<const char*> cleaningsFor(const FaceId& face) const
    {
        static constexpr std::array<const char*, 4> methods{"dry", "dry", "wet-then-dry", "fresh-tool"};
        for (int n = 0; n < 4; ++n) {
            const auto measured = face::measure(simulatedPicture(face, n), {}).front();
            if (judge(measured.findings, faceClass_, criteria_).fit) return {methods.begin(), methods.begin() + n};
        }
        return {"dry", "dry", "wet-then-dry"};
    }

    void faces()
    {
        for (int n = 1; n <= fibresDone; ++n)
            for (const End end : {End::A, End::B}) {
                const std::string link = fmt::format("VP-04/{}", n);
                for (const Side side : {Side::Cord, Side::Port}) lookAndClean({link, end, side}, cleaningsFor({link, end, side}));
                file(SleeveCleaned{link, end});
                file(Mated{link, end});
            }
        // fibres 5 to 8: every state a face can be in
        lookAndClean({"VP-04/5", End::A, Side::Cord}, {});
        lookAndClean({"VP-04/5", End::A, Side::Port}, {});
        file(Mated{"VP-04/5", End::A});
        lookAndClean({"VP-04/6", End::A, Side::Cord}, {"dry"});
        FaceCleaned again;
        again.face = {"VP-04/6", End::A, Side::Cord};
        again.method = "wet-then-dry";
        file(again);
        lookAndClean({"VP-04/7", End::A, Side::Cord}, {});
        look({"VP-04/7", End::A, Side::Port}, 0);
        lookAndClean({"VP-04/8", End::A, Side::Port}, {"dry", "wet-then-dry", "fresh-tool"});
        look({"VP-04/9", End::A, Side::Cord}, 0);
        for (const int n : {7, 9}) {
            const FaceId cord{fmt::format("VP-04/{}", n), End::A, Side::Cord};
            file(FaceCovered{cord, "capped"});
        }
        testCord();
        // the trunk: one ferrule was looked at, two of its fibres are dirty
        look({"VP-11/1", End::A, Side::Cord}, 0);
    }

    /// Patch cords as a line makes them: most right at the first time, some looked at again after cleaning, one blurred, one file cut off.
    void patchCords()
    {
        using world::Story;
        const auto save = [&](const std::string& name, Story story, int cleanings, Micrometre blur, std::size_t most) {
            const auto seed = static_cast<std::uint32_t>(std::hash<std::string>{}(name.substr(0, 8)) % 1000);
            world::Camera camera;
            camera.width = 640;
            camera.height = 480;
            camera.scale = Scale(0.5);
            camera.blur = blur;
            camera.seed = seed + static_cast<std::uint32_t>(cleanings);
            const auto png = encodePng(world::takePicture(world::cleaned(world::makeFace(story, seed), cleanings, seed), camera));
            const auto ok = writeFile(QDir(out_.line).filePath(QString::fromStdString(name)).toStdString(), png.substr(0, most));
            if (!ok) fail(ok.error());
        };
        constexpr auto whole = std::string::npos;
        constexpr Micrometre sharp{0.45}, blurred{3.5};
        for (const int n : {1, 2, 4, 5, 8, 10, 11}) save(fmt::format("cord-{:03}.png", n), Story::Clean, 0, sharp, whole);
        for (const int n : {3, 7}) {
            save(fmt::format("cord-{:03}.png", n), Story::SomeDust, 0, sharp, whole);
            save(fmt::format("cord-{:03}-try2.png", n), Story::SomeDust, 3, sharp, whole);
        }
        save("cord-006.png", Story::Scratched, 0, sharp, whole);
        save("cord-009.png", Story::Clean, 0, blurred, whole);
        save("cord-012.png", Story::Pitted, 0, sharp, whole);
        save("cord-013.png", Story::Clean, 0, sharp, 9000);
    }

    void light()
    {
        pace_ = atTheMeter;
        for (const Direction d : {Direction::AtoB, Direction::BtoA})
            for (const double nm : {1310.0, 1550.0}) {
                references_[{d, nm}] = (d == Direction::AtoB ? -7.02 : -7.10) - (nm > 1400 ? 0.31 : 0);
                file(ReferenceSet{
                    ReferenceMethod::OneCord, Nanometre(nm), d, DecibelMilliwatt(references_[{d, nm}]), {"source 1", "meter 1", "RC-1"}});
            }
        for (int n = 1; n <= fibresDone; ++n) {
            const std::string link = fmt::format("VP-04/{}", n);
            for (const Direction d : {Direction::AtoB, Direction::BtoA})
                for (const double nm : {1310.0, 1550.0}) {
                    double loss = 0;
                    const auto line = lineOf(n, d, nm);
                    for (std::size_t k = 0; k + 1 < line.size(); ++k)
                        loss += line[k].jointLoss.value() + (k > 0 ? line[k].attenuation.value() * line[k].length.value() / 1000 : 0);
                    const double power = std::round((references_[{d, nm}] - loss) * 100) / 100;
                    file(PowerRead{link, Nanometre(nm), d, DecibelMilliwatt(power), {}, {}});
                }
            file(LightSeen{"VP-04", n, n});
            for (const Direction d : {Direction::AtoB, Direction::BtoA})
                for (const int nm : {1310, 1550}) shootInto(link, n, d, nm);
            if (n <= fibresSigned) file(Signed{link, {}});
        }
        // somebody reads fibre 2 once more: what was signed is overtaken
        file(
            PowerRead{"VP-04/2", Nanometre(1550), Direction::AtoB, DecibelMilliwatt(references_[{Direction::AtoB, 1550.0}]) - Decibel(1.62), {}, {}});
    }

    [[nodiscard]] QString traceName(int n, Direction d, int nm) const
    {
        const std::string_view way = name(d);
        return QStringLiteral("VP-04-%1-%2-%3.sor")
            .arg(n, 2, 10, QLatin1Char('0'))
            .arg(nm)
            .arg(QString::fromLatin1(way.data(), static_cast<qsizetype>(way.size())));
    }

    void writeTraces(int n)
    {
        for (const Direction d : {Direction::AtoB, Direction::BtoA})
            for (const int nm : {1310, 1550}) {
                world::Shot shot;
                shot.wavelength = Nanometre(nm);
                shot.seed = static_cast<std::uint32_t>(n * 10 + nm + (d == Direction::AtoB ? 0 : 5));
                if (nm > 1400) {
                    shot.backscatter = Decibel(-81.9);
                    shot.groupIndex = 1.4682;
                }
                auto trace = world::shoot(lineOf(n, d, nm), shot);
                trace.cable = "VP-04";
                trace.fibre = std::to_string(n);
                trace.locationA = d == Direction::AtoB ? "Tide Hall" : "Breakwater Hut";
                trace.locationB = d == Direction::AtoB ? "Breakwater Hut" : "Tide Hall";
                trace.takenAt = end_;
                const auto ok = writeFile(QDir(out_.traces).filePath(traceName(n, d, nm)).toStdString(), otdr::writeSor(trace));
                if (!ok) fail(ok.error());
            }
    }

    void shootInto(const std::string& link, int n, Direction d, int nm)
    {
        const QString name = traceName(n, d, nm);
        const auto bytes = readFile(QDir(out_.traces).filePath(name).toStdString());
        if (!bytes) return;
        const auto trace = otdr::readSor(*bytes, name.toStdString());
        if (!trace) return;
        const otdr::Cords cords{Metre(150), Metre(150)};
        const Evidence evidence{name.toStdString(), *bytes};
        file(TraceShot{link, d, sha256(*bytes), evidence.name, trace->wavelength, cords, otdr::analyse(*trace, cords), {}}, &evidence);
    }

    QString folder_;
    DemoFolder out_;
    std::unique_ptr<JobStore> store_;
    Criteria criteria_;
    FaceClass faceClass_;
    std::vector<Done> day_;
    std::int64_t end_, pace_ = atTheFace;
    std::map<std::pair<Direction, double>, double> references_;
    std::optional<Error> error_;
};

}  // namespace

Result<DemoFolder> makeDemo(const QString& folder)
{
    return placeDemo(folder, [](const QString& fresh) { return DemoMaker(fresh, QDateTime::currentSecsSinceEpoch()).run().map([](const auto&) {}); })
        .map([&] {
            const QDir root(folder);
            return DemoFolder{root.filePath(QStringLiteral("varrow-point.clendo")), root.filePath(QStringLiteral("scope")),
                              root.filePath(QStringLiteral("traces")), root.filePath(QStringLiteral("line"))};
        });
}

}  // namespace clendo
