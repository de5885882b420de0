#include "app/loss/light_run.h"

#include <QDir>
#include <QStandardPaths>
#include <algorithm>
#include <utility>

#include "app/frame/job_session.h"
#include "app/look/look_desk.h"
#include "app/loss/loss_desk.h"
#include "files/files.h"
#include "modules/lines.h"
#include "modules/sounds.h"
#include "record/rules/patch_cords.h"
#include "record/rules/read_again.h"
#include "record/rules/right_fibre.h"

namespace clendo {

LightRun::LightRun(WindowFrame& frame) : frame_(frame) {}

namespace {

constexpr std::size_t largestDriver = std::size_t{1} << 20;

QDir ownDrivers() { return {QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + QStringLiteral("/drivers")}; }

}  // namespace

Result<void> LightRun::ready()
{
    if (!bench_) {
        const auto module = lines();
        if (!module) return tl::unexpected(module.error());
        bench_ = module->bench(dataFolder());
        for (const auto& file : ownDrivers().entryInfoList({QStringLiteral("*.json")}, QDir::Files)) {
            const auto added = driverIn(file.filePath());
            if (!added) frame_.say(tr("%1: %2").arg(file.filePath(), QString::fromStdString(added.error().message)), true);
        }
        connect(bench_.get(), &LightBench::logged, this, &LightRun::keep);
        connect(bench_.get(), &LightBench::shown, this, [this](const BenchShown& shown) {
            shown_ = shown;
            emit changed();
        });
        connect(bench_.get(), &LightBench::taken, this, &LightRun::take);
        connect(bench_.get(), &LightBench::answered, this, &LightRun::answered);
    }
    return {};
}

Result<void> LightRun::use(const QString& meter, const QString& source, const QString& meterDriver, const QString& sourceDriver)
{
    if (auto ok = ready(); !ok) return ok;
    stop();
    tone_ = false;
    if (auto ok = bench_->setMeter(meter, meterDriver); !ok) return ok;
    meter_ = meter.trimmed();
    meterDriver_ = meterDriver;
    if (auto ok = bench_->setSource(source, sourceDriver); !ok) return ok;
    source_ = source.trimmed();
    sourceDriver_ = sourceDriver;
    return {};
}

Result<QString> LightRun::driverIn(const QString& path)
{
    return readFile(path.toStdString(), largestDriver).and_then([&](const std::string& text) {
        return bench_->addDriver(QByteArray::fromStdString(text));
    });
}

QStringList LightRun::drivers(InstrumentKind kind) { return ready() ? bench_->drivers(kind) : QStringList(); }

Result<QString> LightRun::addDriver(const QString& path)
{
    if (auto ok = ready(); !ok) return tl::unexpected(ok.error());
    auto name = driverIn(path);
    if (!name) return name;
    // kept for later runs under its own name, so that a newer one of that name takes its place
    const QString file = ownDrivers().filePath(QString::fromStdString(sha256(name->toStdString()).substr(0, 16)) + QStringLiteral(".json"));
    QDir().mkpath(ownDrivers().path());
    const auto kept =
        readFile(path.toStdString(), largestDriver).and_then([&](const std::string& text) { return writeFile(file.toStdString(), text); });
    if (!kept) return tl::unexpected(kept.error());
    return name;
}

void LightRun::keepLog()
{
    if (bench_ && frame_.session()) bench_->askLog();
}

void LightRun::keep(const QString& log)
{
    if (!frame_.session() || log.isEmpty()) return;
    const Evidence text{"instruments.txt", log.toStdString()};
    frame_.session()->file(Filing{{LineLogKept{sha256(text.bytes)}}, {text}, {}}, [this] { emit logKept(); });
}

void LightRun::readCords(std::vector<CordEnd> cords)
{
    const Link* chosen = frame_.link();
    if (!chosen || !bench_) return;
    cords_ = std::move(cords);
    std::vector<std::string> names;
    for (const auto& cord : cords_) names.push_back(cordWords(cord.cord, cord.end));
    begin(Purpose::PatchCord, names, *chosen->cable);
}

void LightRun::turnRound()
{
    stop();
    direction_ = direction_ == Direction::AtoB ? Direction::BtoA : Direction::AtoB;
    emit changed();
}

void LightRun::readCable()
{
    const Link* chosen = frame_.link();
    if (!chosen || !bench_) return;
    const JobState& state = frame_.session()->state();
    std::vector<std::string> links;
    for (const auto& link : state.plan->links)
        if (link.cable == chosen->cable && link.fibre >= chosen->fibre && lacksReading(state, link, direction_)) links.push_back(link.id);
    if (links.empty()) links.push_back(chosen->id);
    begin(Purpose::Readings, links, *chosen->cable);
    frame_.choose({links.front(), frame_.chosen().connection, frame_.chosen().side});
}

void LightRun::readOnce(Purpose purpose, LightGear gear)
{
    const Link* chosen = frame_.link();
    if (!chosen || !bench_) return;
    gear_ = std::move(gear);
    begin(purpose, {std::string()}, *chosen->cable);
}

void LightRun::begin(Purpose purpose, const std::vector<std::string>& links, const CablePlan& cable)
{
    std::vector<Nanometre> wavelengths;
    for (const int nm : frame_.session()->state().plan->wavelengthsFor(cable)) wavelengths.emplace_back(nm);
    if (std::exchange(tone_, false)) static_cast<void>(bench_->setTone(0));  // it could be asked for, so it can be taken back
    // nobody goes through a box of cords twice to switch the source less often
    const bool byOperator = source_.isEmpty() && purpose != Purpose::PatchCord;
    auto run = readingOrder(links, wavelengths, byOperator ? Switching::ByOperator : Switching::ByLine);
    left_ = run.size();
    purpose_ = purpose;
    running_ = left_ > 0;
    bench_->measure(std::move(run), {});
    emit changed();
}

void LightRun::stop()
{
    if (bench_ && running_) bench_->stop();
    running_ = false;
    left_ = 0;
    emit changed();
}

void LightRun::skip()
{
    if (!running_) return;
    bench_->skip();
    if (left_ > 0 && --left_ == 0) stop();
}

void LightRun::sourceIsSet()
{
    if (bench_) bench_->sourceIsSet();
}

Result<void> LightRun::toggleTone()
{
    constexpr double tone = 2;  // Hz: seen by a meter's level going up and down, and by eye on a display
    if (auto ok = ready(); !ok) return ok;
    if (auto asked = bench_->setTone(tone_ ? 0 : tone); !asked) return asked;
    stop();
    tone_ = !tone_;
    emit changed();
    return {};
}

void LightRun::say(const QString& command)
{
    if (bench_) bench_->say(command);
}

void LightRun::take(const BenchReading& reading)
{
    if (!running_ || !frame_.session()) return;  // it was stopped while this was on its way
    constexpr double microseconds = 1e6;
    const Acquired acquired{reading.instrument.toStdString(), reading.power.scatter, reading.power.resolution,
                            static_cast<int>(reading.power.samples), Second(double(reading.power.to - reading.power.from) / microseconds)};
    JobSession& session = *frame_.session();
    const Nanometre wavelength = reading.what.wavelength;
    const auto levelOf = [&](auto fact) {  // of a proof or a check
        fact.direction = direction_;
        fact.wavelength = wavelength;
        fact.level = reading.power.power;
        fact.acquired = acquired;
        return fact;
    };
    Filing filing;
    switch (purpose_) {
        case Purpose::Readings: {
            PowerRead read{reading.what.link, wavelength, direction_, reading.power.power};
            read.acquired = acquired;
            read.receiveEnd = frame_.deskOf<LossDesk>().gear().receiveEnd;
            const Link* link = session.state().link(read.link);
            const bool proven = link && session.state().state(read.link).lightSeen;
            filing.facts.emplace_back(std::move(read));
            // both cords are at this fibre and light came through: that is how a fibre is proven
            if (link && !proven && direction_ == Direction::AtoB && session.state().policy("right_fibre") == "prove")
                filing.facts.emplace_back(std::in_place_type<LightSeen>, link->cable->id, link->fibre, belongsAt(*link));
            break;
        }
        case Purpose::Reference: {
            ReferenceSet set = gear_.set({session.state().plan->job.method, wavelength, direction_, reading.power.power});
            set.acquired = acquired;
            filing.facts.emplace_back(std::move(set));
            break;
        }
        case Purpose::Proof: {
            auto proof = levelOf(ReferenceProved{});
            proof.cord = gear_.provenCord;
            filing.facts.emplace_back(std::move(proof));
            break;
        }
        case Purpose::PatchCord: {
            const auto at =
                std::find_if(cords_.begin(), cords_.end(), [&](const CordEnd& c) { return cordWords(c.cord, c.end) == reading.what.link; });
            if (at == cords_.end()) return;
            CordRead read;
            read.cord = at->cord;
            read.end = at->end;
            read.wavelength = wavelength;
            read.direction = direction_;
            read.power = reading.power.power;
            read.acquired = acquired;
            filing.facts.emplace_back(std::move(read));
            break;
        }
        case Purpose::Check: filing.facts.emplace_back(levelOf(ReferenceChecked{})); break;
    }
    fileAndTell(std::move(filing), reading.what.link);
    if (left_ > 0) --left_;
    if (left_ == 0) {
        running_ = false;
        if (purpose_ != Purpose::PatchCord)  // its losses are said when they are filed
            frame_.say(purpose_ == Purpose::Readings ? tr("All readings of this run are filed.") : tr("Filed, at each wavelength."));
    }
    emit changed();
}

/// Files what came of one reading, says and sounds what it came to. `of`: a link, a patch cord and its end, or empty.
void LightRun::fileAndTell(Filing filing, const std::string& of)
{
    const bool ofCord = purpose_ == Purpose::PatchCord;
    const std::string cord = ofCord ? std::get<CordRead>(filing.facts.front()).cord : std::string();
    frame_.session()->file(
        std::move(filing),
        [this, of, ofCord, cord] {
            const JobState& state = frame_.session()->state();
            bool good = of.empty();
            if (ofCord && frame_.link()) {
                const auto rows = cordLosses(state, cord, *frame_.link()->cable);
                good = std::all_of(rows.begin(), rows.end(), [](const auto& row) { return row.verdict == "pass"; });
                frame_.say(QString::fromStdString(cordLossWords(cord, rows)), !good);
            } else if (const auto& loss = state.state(of).loss; loss) {
                good = loss->verdict == LossVerdict::Pass;
            }
            if (!frame_.deskOf<LookDesk>().soundOn()) return;
            if (const auto module = sounds()) module->play(good ? Sound::Fit : Sound::Work);
        },
        this);
}

/// What is wanted, for people: a fibre, or a patch cord and its end.
QString LightRun::nameOf(const std::string& wanted) const
{
    if (purpose_ == Purpose::PatchCord) return QString::fromStdString(wanted);
    const Link* link = frame_.session() ? frame_.session()->state().link(wanted) : nullptr;
    return link ? tr("fibre %1, %2").arg(link->fibre).arg(QString::fromStdString(link->colour)) : QString();
}

/// Where the cords go next; by a planned polarity the two ends have different numbers.
QString LightRun::moveWords(const std::string& wanted) const
{
    if (purpose_ == Purpose::PatchCord) return tr("Now %1 at the reference cord").arg(nameOf(wanted));
    const Link* link = frame_.session() ? frame_.session()->state().link(wanted) : nullptr;
    if (!link || belongsAt(*link) == link->fibre) return tr("Move both cords to %1").arg(nameOf(wanted));
    return tr("Move the cords to %1 at A, and %2 at B").arg(nameOf(wanted)).arg(belongsAt(*link));
}

QString LightRun::prompt() const
{
    if (tone_) return tr("The source was asked for a tone of 2 Hz: find it at the other end, then F");
    if (!running_ || !shown_.wanted) return {};
    const auto nm = static_cast<int>(std::lround(shown_.wanted->wavelength.value()));
    if (shown_.waitsForOperator) return tr("Set the source to %1 nm, then say so").arg(nm);
    const QString what = shown_.wanted->link.empty()               ? tr("Hold still")
                         : shown_.state == AcquisitionState::Taken ? moveWords(shown_.wanted->link)
                                                                   : tr("Reading %1").arg(nameOf(shown_.wanted->link));
    return tr("%1, %2 nm").arg(what).arg(nm);
}

}  // namespace clendo
