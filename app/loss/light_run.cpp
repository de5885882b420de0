#include "app/loss/light_run.h"

#include <algorithm>

#include "app/frame/job_session.h"
#include "app/look/look_desk.h"
#include "files/files.h"
#include "modules/lines.h"
#include "modules/sounds.h"
#include "record/rules/read_again.h"

namespace clendo {

LightRun::LightRun(WindowFrame& frame) : frame_(frame) {}

Result<void> LightRun::use(const QString& meter, const QString& source)
{
    if (!bench_) {
        const auto module = lines();
        if (!module) return tl::unexpected(module.error());
        bench_ = module->bench(dataFolder());
        connect(bench_.get(), &LightBench::shown, this, [this](const BenchShown& shown) {
            shown_ = shown;
            emit changed();
        });
        connect(bench_.get(), &LightBench::taken, this, &LightRun::take);
        connect(bench_.get(), &LightBench::answered, this, &LightRun::answered);
    }
    stop();
    if (auto ok = bench_->setMeter(meter); !ok) return ok;
    meter_ = meter.trimmed();
    if (auto ok = bench_->setSource(source); !ok) return ok;
    source_ = source.trimmed();
    return {};
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
    const auto wavelengths = state.plan->wavelengthsFor(*chosen->cable);
    std::vector<Nanometre> wanted;
    for (const int nm : wavelengths) wanted.emplace_back(nm);
    for (const auto& link : state.plan->links)
        if (link.cable == chosen->cable && link.fibre >= chosen->fibre && lacksReading(state, link, direction_)) links.push_back(link.id);
    if (links.empty()) links.push_back(chosen->id);
    AcquisitionRule rule;
    rule.wavelength = wanted.front();
    auto run = readingOrder(links, wanted, source_.isEmpty() ? Switching::ByOperator : Switching::ByLine);
    left_ = run.size();
    purpose_ = Purpose::Readings;
    running_ = true;
    frame_.choose({links.front(), frame_.chosen().connection, frame_.chosen().side});
    bench_->measure(std::move(run), rule);
    emit changed();
}

void LightRun::readOnce(Purpose purpose, std::vector<std::string> with, std::string launch)
{
    const Link* chosen = frame_.link();
    if (!chosen || !bench_) return;
    std::vector<Nanometre> wanted;
    for (const int nm : frame_.session()->state().plan->wavelengthsFor(*chosen->cable)) wanted.emplace_back(nm);
    auto run = readingOrder({std::string()}, wanted, source_.isEmpty() ? Switching::ByOperator : Switching::ByLine);
    left_ = run.size();
    purpose_ = purpose;
    with_ = std::move(with);
    launch_ = std::move(launch);
    running_ = true;
    AcquisitionRule rule;
    rule.wavelength = wanted.front();
    bench_->measure(std::move(run), rule);
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
    Filing filing;
    switch (purpose_) {
        case Purpose::Readings: {
            PowerRead read{reading.what.link, wavelength, direction_, reading.power.power};
            read.acquired = acquired;
            filing.facts.emplace_back(std::move(read));
            break;
        }
        case Purpose::Reference: {
            ReferenceSet set{session.state().plan->job.method, wavelength, direction_, reading.power.power};
            set.with = with_;
            set.launch = launch_;
            set.acquired = acquired;
            filing.facts.emplace_back(std::move(set));
            break;
        }
        case Purpose::Proof: {
            ReferenceProved proof;
            proof.direction = direction_;
            proof.wavelength = wavelength;
            proof.power = reading.power.power;
            proof.acquired = acquired;
            filing.facts.emplace_back(std::move(proof));
            break;
        }
        case Purpose::Check: {
            ReferenceChecked check;
            check.direction = direction_;
            check.wavelength = wavelength;
            check.level = reading.power.power;
            check.acquired = acquired;
            filing.facts.emplace_back(std::move(check));
            break;
        }
    }
    const std::string link = reading.what.link;
    session.file(
        std::move(filing),
        [this, link] {
            if (!frame_.deskOf<LookDesk>().soundOn()) return;
            const JobState& state = frame_.session()->state();
            const auto& loss = state.state(link).loss;
            const bool good = link.empty() || (loss && loss->verdict == LossVerdict::Pass);
            if (const auto module = sounds()) module->play(good ? Sound::Fit : Sound::Work);
        },
        this);
    if (left_ > 0) --left_;
    if (left_ == 0) {
        running_ = false;
        frame_.say(purpose_ == Purpose::Readings ? tr("All readings of this run are filed.") : tr("Filed, at each wavelength."));
    }
    emit changed();
}

QString LightRun::fibreWords(const std::string& id) const
{
    const Link* link = frame_.session() ? frame_.session()->state().link(id) : nullptr;
    return link ? tr("fibre %1, %2").arg(link->fibre).arg(QString::fromStdString(link->colour)) : QString();
}

QString LightRun::prompt() const
{
    if (!running_ || !shown_.wanted) return {};
    const auto nm = static_cast<int>(std::lround(shown_.wanted->wavelength.value()));
    if (shown_.waitsForOperator) return tr("Set the source to %1 nm, then say so").arg(nm);
    const QString what = shown_.wanted->link.empty()               ? tr("Hold still")
                         : shown_.state == AcquisitionState::Taken ? tr("Move both cords to %1").arg(fibreWords(shown_.wanted->link))
                                                                   : tr("Reading %1").arg(fibreWords(shown_.wanted->link));
    return tr("%1, %2 nm").arg(what).arg(nm);
}

}  // namespace clendo
