#include "demo/demo_job.h"

#include <fmt/format.h>

#include <QDateTime>
#include <QDir>
#include <QFile>
#include <array>
#include <cmath>
#include <map>
#include <nlohmann/json.hpp>
#include <optional>

#include "demo/demo_files.h"
#include "demo/demo_folder.h"
#include "demo/demo_plan.h"
#include "demo/demo_reels.h"
#include "files/files.h"
#include "otdr/sor_reader.h"
#include "pictures/decode.h"
#include "record/fold/fold.h"
#include "record/fold/growing_fold.h"
#include "record/fold/signed_record.h"
#include "record/state/complete_act.h"
#include "record/state/rules.h"
#include "store/job_store.h"
#include "world/deeds.h"
#include "world/scenario.h"

namespace clendo {
namespace {

constexpr std::int64_t atTheFace = 60, atTheMeter = 12, aDay = 86400;  // seconds from one thing to the next
constexpr int fibresDone = 4, fibresSigned = 2;                        // mated and measured, signed off when the demo opens

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
        auto scenario = readFile(dataFolder() / "scenarios/varrow-point.json");
        auto made = scenario ? world::readScenario(*scenario, dataFolder()) : tl::unexpected(scenario.error());
        if (!made) return tl::unexpected(made.error());
        world_ = std::move(*made);
        criteria_ = std::move(*criteria);
        faceClass_ = std::move(*faceClass);
        JobSettings job;
        job.name = "Varrow Point";
        file(settingFacts(job));
        file(CablePlanned{varrowCable()});
        file(CablePlanned{varrowTrunk()});
        if (auto rule = houseRule())
            file(*rule);
        else
            return tl::unexpected(rule.error());
        for (auto& item : demoKit(end_)) file(std::move(item));
        goldenFace();
        // of fibres that are still to be done: what the OTDR will save once their ports are clean
        world::World later = world_;
        for (int n = fibresDone + 1; n <= 12; ++n)
            for (const End end : {End::A, End::B})
                for (int i = 0; i < 3; ++i) static_cast<void>(later.clean(portOf(n, end), world::Cleaning::WetThenDry));
        for (int n = fibresDone + 1; n <= 12; ++n) must(writeTraces(out_.traces, n, later, end_));
        reels();
        panelPorts();
        light();
        faces();
        signatures();
        must(writeLinePictures(out_.line));
        fileAll();
        writeWorld(*scenario);
        if (error_) return tl::unexpected(*error_);
        return out_;
    }

private:
    /// The ends of test cords that go to the link: behind the source, before the meter, behind the OTDR, and at the far end of its shots.
    inline static const FaceId sourceCord{"RC-1", End::B, Side::Cord}, meterCord{"RC-2", End::A, Side::Cord},
        launchEnd{"launch 1", End::B, Side::Cord}, tailEnd{"launch 2", End::A, Side::Cord};
    struct Done {
        std::vector<Fact> facts;
        std::optional<Evidence> evidence;
        std::int64_t took = 0;
    };

    /// Something is done in the world; the record learns of it what is filed beside.
    void deed(nlohmann::json what)
    {
        if (const auto done = world::doDeed(world_, what); !done || !*done)
            return fail(done ? done->error() : Error{Error::Code::Unexpected, "no such deed"});
        deeds_.push_back(std::move(what));
    }
    void mateInWorld(const std::string& a, const std::string& b) { deed({{"do", "mate"}, {"a", a}, {"b", b}}); }
    void partInWorld(const std::string& face) { deed({{"do", "part"}, {"face", face}}); }
    /// The world as it is when the day ends, for clendo-sim.
    void writeWorld(const std::string& scenario)
    {
        auto world = nlohmann::json::parse(scenario);
        world["deeds"] = deeds_;
        if (const auto ok = writeFile(QDir(folder_).filePath(QStringLiteral("world.json")).toStdString(), world.dump(1) + "\n"); !ok)
            fail(ok.error());
    }
    /// It was looked at on each of the days before this one, and this morning.
    void goldenFace()
    {
        constexpr std::uint32_t days = 5;
        const FaceId golden{"golden 1", End::A, Side::Cord};
        for (std::uint32_t n = 0; n <= days; ++n) {
            const Micrometre aside(double(n % 3) - 1);  // no hand holds it twice at one place
            pace_ = n > 0 ? aDay : atTheFace;
            fileLook(golden, fmt::format("golden-1-{}.png", n + 1), {Micrometre(0), aside, -aside, 1, n + 1});
        }
        pace_ = atTheFace;
    }
    /// What came for the new run along the sea wall, before anything else is done.
    void reels()
    {
        QDir(folder_).mkpath(QStringLiteral("reels"));
        must(writeReelTraces(QDir(folder_).filePath(QStringLiteral("reels")), end_));
        const auto delivery = demoDelivery(end_);
        if (!delivery) return fail(delivery.error());
        pace_ = atTheMeter;
        for (const auto& filed : *delivery) file(filed.fact, filed.evidence ? &*filed.evidence : nullptr);
        pace_ = atTheFace;
    }
    /// Test cord RC-3 goes from port to port; at the third its end is found dirty, so what it touched before must be seen again.
    void testCord()
    {
        const FaceId cord{"RC-3", End::B, Side::Cord};
        fileLook(cord, "RC-3-1.png", {});
        for (const int n : {11, 12}) {
            const FaceId port{fmt::format("VP-04/{}", n), End::A, Side::Port};
            lookAndClean(port, cleaningsFor(port));
            mateInWorld(cord.text(), port.text());
            file(Joined{port, cord});
            partInWorld(cord.text());
            deed({{"do", "cap"}, {"face", port.text()}});
            file(FaceCovered{port, "capped"});
        }
        deed({{"do", "drop"}, {"face", cord.text()}});
        fileLook(cord, "RC-3-2.png", {});
    }
    void fail(const Error& error)
    {
        if (!error_) error_ = error;
    }
    void must(const Result<void>& done)
    {
        if (!done) fail(done.error());
    }
    void file(const Fact& fact, const Evidence* evidence = nullptr) { file(std::vector{fact}, evidence); }
    void file(std::vector<Fact> facts, const Evidence* evidence = nullptr)
    {
        day_.push_back({std::move(facts), evidence ? std::optional(*evidence) : std::nullopt, pace_});
    }
    /// The day ends now, so its beginning, and that of the days before, is known when all of it is. It is filed as a window would: each act with what
    /// it rests on.
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

    void fileLook(const FaceId& face, const std::string& name, const world::Handling& hand)
    {
        const auto picture = world_.picture(face.text(), hand);
        if (!picture) return fail(picture.error());
        const Evidence evidence{name, encodePng(*picture)};
        file(FaceSeen{face, sha256(evidence.bytes), evidence.name, face::measure(*picture, {}).front(), {}}, &evidence);
    }
    /// `nth`: the number of the picture, from 0.
    void look(const FaceId& face, int nth)
    {
        const auto seen = world_.picture(face.text(), {});
        if (!seen) return fail(seen.error());
        const auto& picture = *seen;
        std::string name = fmt::format("{}-{}.png", face.text(), nth + 1);
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
        int& n = pictures_[face];
        look(face, n++);
        for (const char* method : methods) {
            deed({{"do", "clean"}, {"face", face.text()}, {"method", method}});
            FaceCleaned cleaned{face, method, 1};
            cleaned.tool = std::string_view(method) == "dry" ? "pen 1" : face.side == Side::Port ? "sticks LC" : "cassette 1";
            file(cleaned);
            look(face, n++);
        }
    }

    [[nodiscard]] std::vector<const char*> cleaningsFor(const FaceId& face) const
    {
        static constexpr std::array<const char*, 4> methods{"dry", "dry", "wet-then-dry", "fresh-tool"};
        world::World tried = world_;  // the same deeds have the same effect
        for (std::size_t n = 0; n < methods.size(); ++n) {
            const auto picture = tried.picture(face.text(), {});
            if (picture && judge(face::measure(*picture, {}).front().findings, faceClass_, criteria_).fit)
                return {methods.begin(), methods.begin() + static_cast<std::ptrdiff_t>(n)};
            static_cast<void>(tried.clean(face.text(), *world::cleaningNamed(methods[n])));
        }
        return {"dry", "dry", "wet-then-dry"};
    }

    /// What the test cords will touch is seen fit first.
    void panelPorts()
    {
        for (int n = 1; n <= fibresDone; ++n)
            for (const End end : {End::A, End::B}) {
                const FaceId port{fmt::format("VP-04/{}", n), end, Side::Port};
                lookAndClean(port, cleaningsFor(port));
            }
    }

    void faces()
    {
        pace_ = atTheFace;
        for (int n = 1; n <= fibresDone; ++n)
            for (const End end : {End::A, End::B}) {
                const std::string link = fmt::format("VP-04/{}", n);
                for (const Side side : {Side::Cord, Side::Port}) lookAndClean({link, end, side}, cleaningsFor({link, end, side}));
                file(SleeveCleaned{link, end});
                mateInWorld(FaceId{link, end, Side::Cord}.text(), FaceId{link, end, Side::Port}.text());
                file(Mated{link, end});
            }
        // fibres 5 to 8: every state a face can be in
        lookAndClean({"VP-04/5", End::A, Side::Cord}, {});
        lookAndClean({"VP-04/5", End::A, Side::Port}, {});
        mateInWorld("VP-04/5/A/cord", "VP-04/5/A/port");
        file(Mated{"VP-04/5", End::A});
        lookAndClean({"VP-04/6", End::A, Side::Cord}, {"dry"});
        FaceCleaned again;
        again.face = {"VP-04/6", End::A, Side::Cord};
        again.method = "wet-then-dry";
        deed({{"do", "clean"}, {"face", again.face.text()}, {"method", again.method}});
        file(again);
        lookAndClean({"VP-04/7", End::A, Side::Cord}, {});
        lookAndClean({"VP-04/7", End::A, Side::Port}, {});
        lookAndClean({"VP-04/8", End::A, Side::Port}, {"dry", "wet-then-dry", "fresh-tool"});
        lookAndClean({"VP-04/9", End::A, Side::Cord}, {});
        for (const int n : {7, 9}) {
            const FaceId cord{fmt::format("VP-04/{}", n), End::A, Side::Cord};
            deed({{"do", "cap"}, {"face", cord.text()}});
            file(FaceCovered{cord, "capped"});
        }
        testCord();
        // the trunk: one ferrule was looked at, two of its fibres are dirty
        look({"VP-11/1", End::A, Side::Cord}, 0);
    }

    /// What the meter shows at a wavelength, as it is typed.
    DecibelMilliwatt shown(double nm)
    {
        std::get<world::Source>(world_.instrument("source 1")->unit).wavelength = Nanometre(nm);
        std::get<world::Meter>(world_.instrument("meter 1")->unit).wavelength = Nanometre(nm);
        const auto seen = world_.power("meter 1");
        if (!seen || seen->kind != world::PowerSeen::Kind::Level) fail({Error::Code::Unexpected, "no light in the demo's world"});
        return seen ? seen->level : DecibelMilliwatt();
    }
    /// Panel to panel, before the patch cords go in: each direction with a reference of its own.
    void light()
    {
        for (const auto& face : {sourceCord, meterCord}) lookAndClean(face, cleaningsFor(face));
        pace_ = atTheMeter;
        for (const Direction d : {Direction::AtoB, Direction::BtoA}) {
            deed({{"do", "connect"}, {"from", "meter 1"}, {"to", "RC-1/B"}});
            for (const double nm : {1310.0, 1550.0}) {
                ReferenceSet set{ReferenceMethod::OneCord, Nanometre(nm), d, shown(nm), {"source 1", "meter 1", "RC-1"}};
                set.freeEnd = sourceCord;
                file(set);
            }
            partInWorld("RC-1/B");
            deed({{"do", "connect"}, {"from", "meter 1"}, {"to", "RC-2/B"}});
            for (const int n : {1, 3, 4, 2}) {
                if (n == 2 && d == Direction::AtoB) checkReference({1310, 1550});
                mateInWorld("RC-1/B", portOf(n, d == Direction::AtoB ? End::A : End::B));
                mateInWorld("RC-2/A", portOf(n, d == Direction::AtoB ? End::B : End::A));
                for (const double nm : {1310.0, 1550.0}) {
                    PowerRead read{fmt::format("VP-04/{}", n), Nanometre(nm), d, shown(nm), {}, {}};
                    read.receiveEnd = meterCord;
                    file(read);
                }
                partInWorld("RC-1/B");
                partInWorld("RC-2/A");
            }
        }
        for (const auto& face : {launchEnd, tailEnd}) lookAndClean(face, cleaningsFor(face));
        for (int n = 1; n <= fibresDone; ++n) {
            file(LightSeen{"VP-04", n, n});
            must(writeTraces(out_.traces, n, world_, end_));
            for (const Direction d : {Direction::AtoB, Direction::BtoA})
                for (const int nm : {1310, 1550}) shootInto(fmt::format("VP-04/{}", n), n, d, nm);
        }
    }

    /// The source cord once more straight into the meter, then the receive cord goes back.
    void checkReference(const std::vector<double>& wavelengths)
    {
        deed({{"do", "connect"}, {"from", "meter 1"}, {"to", "RC-1/B"}});
        for (const double nm : wavelengths) {
            ReferenceChecked check;
            check.wavelength = Nanometre(nm);
            check.level = shown(nm);
            file(check);
        }
        partInWorld("RC-1/B");
        deed({{"do", "connect"}, {"from", "meter 1"}, {"to", "RC-2/B"}});
    }

    /// Two fibres are signed; then somebody steps on the source cord, the reference is found drifted, and what fibre 2 was signed for is overtaken.
    void signatures()
    {
        pace_ = atTheMeter;
        for (int n = 1; n <= fibresSigned; ++n) file(Signed{fmt::format("VP-04/{}", n), {}});
        constexpr Decibel noticed{0.13};
        const auto& source = std::get<world::Source>(world_.instrument("source 1")->unit);
        const Decibel before = source.launch;
        for (int i = 0; i < 40 && std::abs((source.launch - before).value()) < noticed.value(); ++i) deed({{"do", "move"}, {"face", "RC-1/A"}});
        checkReference({1550});
    }

    void shootInto(const std::string& link, int n, Direction d, int nm)
    {
        const QString name = demoTraceName(n, d, nm);
        const auto bytes = readFile(QDir(out_.traces).filePath(name).toStdString());
        if (!bytes) return;
        const auto trace = otdr::readSor(*bytes, name.toStdString());
        if (!trace) return;
        const otdr::Cords cords{demoLaunchCord, demoLaunchCord};
        const Evidence evidence{name.toStdString(), *bytes};
        TraceShot shot{link, d, sha256(*bytes), evidence.name, trace->wavelength, cords, otdr::analyse(*trace, cords), {}};
        shot.launchEnd = launchEnd;
        shot.tailEnd = tailEnd;
        file(shot, &evidence);
    }

    QString folder_;
    DemoFolder out_;
    std::unique_ptr<JobStore> store_;
    Criteria criteria_;
    FaceClass faceClass_;
    std::vector<Done> day_;
    std::int64_t end_, pace_ = atTheFace;
    world::World world_;
    nlohmann::json deeds_ = nlohmann::json::array();
    std::map<FaceId, int> pictures_;  ///< that were taken of it
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
