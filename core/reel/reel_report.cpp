#include "reel/reel_report.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "otdr/joint.h"
#include "otdr/usual_fibre.h"

namespace clendo::reel {
namespace {

constexpr Decibel jointAllowed{1.0};   // of a temporary joint: more hides what lies behind it
constexpr Decibel pointAllowed{0.1};   // of a point discontinuity in cabled fibre, as generally ordered
constexpr double sameWavelength = 15;  // nm

class Judge {
public:
    Judge(const Delivery& delivery, const std::optional<Sample>& sample, const std::vector<ReelShot>& shots)
        : d_(delivery), sample_(sample), shots_(shots)
    {
    }

    Result<ReelReport> run()
    {
        std::optional<LengthByMarks> marks;
        if (d_.marks) {
            auto read = lengthBetween(*d_.marks, d_.ordered);
            if (!read) return tl::unexpected(read.error());
            marks = *read;
            if (read->rolledOver) warn("rolled_over", "The counter on the sheath went past its highest number between the marks.");
        }
        for (const auto& shot : shots_) readShot(shot);
        Metre spacing{0};
        for (const auto& shot : shots_) spacing = std::max(spacing, shot.spacing);
        out_.length = combineLengths(d_.ordered, marks, usualLength(), d_.excess, spacing);
        if (!out_.length.doubt.empty()) warn("lengths_differ", out_.length.doubt);
        if (!shots_.empty() && d_.excess == 0) warn("no_excess", "The fibre's excess is not said: the cable is shorter than the light says.");
        const auto bare = [](const ReelShot& shot) { return shot.launch == Metre(0); };
        if (std::any_of(shots_.begin(), shots_.end(), bare))
            warn("no_launch", "Shot without a launch cord: the joint and the first metres of the reel are not measured.");
        if (d_.jacket == "indoor" && d_.environment == "outdoor")
            warn("indoor_outdoors", "An indoor jacket is planned outdoors: water and sunlight destroy it.");
        compareWithPapers();
        tellKind();
        std::sort(out_.tested.begin(), out_.tested.end());
        out_.tested.erase(std::unique(out_.tested.begin(), out_.tested.end()), out_.tested.end());
        verdict();
        return out_;
    }

private:
    void warn(std::string code, std::string message) { out_.warnings.push_back({std::move(code), std::move(message)}); }

    void readShot(const ReelShot& shot)
    {
        const JointReading reading = reel::readShot(d_, shot);
        const std::string fibre = fmt::format("Fibre {} at {:.0f} nm", shot.fibre, shot.wavelength.value());
        if (static_cast<int>(reading.joint) > static_cast<int>(worst_) || worst_ == JointState::NotKnown)
            if (reading.joint != JointState::NotKnown) out_.joint = worst_ = reading.joint;
        if (!reading.next.empty()) {
            const bool reel = reading.where == JointReading::Where::Reel && reading.joint != JointState::Poor;
            if (reel && reading.fibre) {
                out_.faults.push_back({shot.fibre, *reading.fibre, {}, reading.next});
                bad_.insert(shot.fibre);
            } else {
                out_.why.push_back(fmt::format("{}: {}", fibre, reading.next));
                unclear_ = true;
            }
        }
        if (reading.where != JointReading::Where::Reel || reading.joint == JointState::Poor) return;
        out_.tested.push_back(shot.fibre);
        if (!reading.fibre) {
            warn("no_end", fibre + ": the end of the reel was not seen. Take a longer range or pulse.");
            return;
        }
        if (reading.next.empty()) fibres_.push_back(*reading.fibre);
        readAttenuation(shot);
        readFaults(shot);
    }

    void readAttenuation(const ReelShot& shot)
    {
        if (!shot.found.span || !shot.found.span->attenuation) return;
        ReelReport::Attenuation a{shot.fibre, shot.wavelength, *shot.found.span->attenuation, {}};
        for (const auto& [nm, most] : d_.allowed)
            if (std::abs(shot.wavelength.value() - nm) < sameWavelength) a.allowed = most;
        if (!a.ok()) bad_.insert(shot.fibre);
        out_.attenuation.push_back(a);
        if (shot.found.span->unevenness)
            warn("uneven", fmt::format("Fibre {} at {:.0f} nm is not uniform: a part of it loses {:.3f} dB/km more or less than the rest.",
                                       shot.fibre, shot.wavelength.value(), std::abs(shot.found.span->unevenness->value())));
    }

    void compareWithPapers()
    {
        const auto& best = out_.length.best;
        if (best && d_.supplierLength && std::abs((*d_.supplierLength - best->length).value()) > 2 * best->uncertainty.value())
            warn("papers_length", fmt::format("The supplier's papers say {:.1f} m; {:.1f} ± {:.1f} m were measured.", d_.supplierLength->value(),
                                              best->length.value(), 2 * best->uncertainty.value()));
        constexpr double closer = 0.02;  // dB/km, that a trace of a reel can tell apart
        for (const auto& a : out_.attenuation)
            for (const auto& [nm, said] : d_.supplier)
                if (std::abs(a.wavelength.value() - nm) < sameWavelength && a.measured.value() > said.value() + closer)
                    warn("papers_attenuation", fmt::format("Fibre {} at {:.0f} nm: the supplier's papers say {:.3f} dB/km; {:.3f} were measured.",
                                                           a.fibre, a.wavelength.value(), said.value(), a.measured.value()));
    }

    /// What the fibres lose at the wavelengths of the shots, all of them agreeing. Backscatter is in no trace by itself: it is not asked.
    void tellKind()
    {
        using otdr::FibreKind;
        std::set<FibreKind> kinds;
        std::set<int> wavelengths;
        for (const auto& a : out_.attenuation) {
            const auto kind = otdr::fibreLike(a.wavelength, a.measured);
            if (!kind) return;
            kinds.insert(*kind);
            wavelengths.insert(static_cast<int>(std::lround(a.wavelength.value())));
        }
        if (kinds.size() != 1) return;
        const bool single = *kinds.begin() == FibreKind::SingleMode;
        out_.kind = fmt::format("{}, from what it loses at {} nm", single ? "single-mode" : "multimode", fmt::join(wavelengths, " and "));
        const bool ordersSingle = d_.type.starts_with("OS") || d_.type.starts_with("G.65"), ordersMulti = d_.type.starts_with("OM");
        wrongKind_ = (single && ordersMulti) || (!single && ordersSingle);
    }

    void readFaults(const ReelShot& shot)
    {
        const Metre beside{std::max(3.0, 0.02 * shot.launch.value())};
        for (const auto& e : shot.found.events) {
            if (!otdr::isJoint(e) || !e.loss || e.at <= shot.launch + beside) continue;
            const double beyond = std::abs(e.loss->value()) - 2 * e.lossUncertainty.value_or(Decibel(0)).value();
            if (beyond <= pointAllowed.value()) continue;
            out_.faults.push_back(
                {shot.fibre, e.at - shot.launch, e.loss,
                 fmt::format("{:.2f} dB at {:.0f} m of the fibre, where there should be no joint.", e.loss->value(), (e.at - shot.launch).value())});
            bad_.insert(shot.fibre);
        }
        for (const auto& s : shot.found.sections)
            if (s.to > shot.launch + beside)
                out_.faults.push_back({shot.fibre, std::max(Metre(0), s.from - shot.launch), s.excess,
                                       fmt::format("From {:.0f} to {:.0f} m it loses {:.2f} dB more than beside: pressed, or another fibre.",
                                                   std::max(0.0, (s.from - shot.launch).value()), (s.to - shot.launch).value(), s.excess.value())});
    }

    /// The middle one: a broken fibre is none of the reel's length.
    [[nodiscard]] std::optional<Metre> usualLength()
    {
        if (fibres_.empty()) return std::nullopt;
        const auto middle = fibres_.begin() + static_cast<std::ptrdiff_t>(fibres_.size() / 2);
        std::nth_element(fibres_.begin(), middle, fibres_.end());
        return *middle;
    }

    void verdict()
    {
        out_.bad.assign(bad_.begin(), bad_.end());
        bool reject = false, note = !out_.warnings.empty();
        if (out_.length.shorter()) {
            const Metre lacks = *out_.length.shortfall();
            std::string words = fmt::format("{:.1f} ± {:.1f} m shorter than ordered ({:.1f} %)", lacks.value(),
                                            2 * out_.length.best->uncertainty.value(), 100 * (lacks / *d_.ordered));
            if (d_.pricePerMetre) words += fmt::format(", {:.2f} at the price", *d_.pricePerMetre * lacks.value());
            // marks alone may be read wrong, in another unit or at the wrong end
            out_.why.push_back(words + (fibres_.empty() ? ", by its marks alone: shoot it before that is said of the reel." : "."));
            reject = !fibres_.empty();
        }
        if (wrongKind_) {
            out_.why.push_back(fmt::format("{} was ordered; the fibre looks like {}.", d_.type, out_.kind));
            reject = true;
        }
        for (const auto& a : out_.attenuation)
            if (!a.ok())
                out_.why.push_back(fmt::format("Fibre {} loses {:.3f} dB/km at {:.0f} nm; {:.3f} are ordered.", a.fibre, a.measured.value(),
                                               a.wavelength.value(), a.allowed->value()));
        for (const auto& f : out_.faults) out_.why.push_back(fmt::format("Fibre {}: {}", f.fibre, f.words));
        const int bad = static_cast<int>(out_.bad.size());
        if (sample_) {
            const auto tested = static_cast<int>(std::count_if(sample_->drawn.begin(), sample_->drawn.end(), [&](int n) {
                return std::find(out_.tested.begin(), out_.tested.end(), n) != out_.tested.end();
            }));
            if (bad >= sample_->plan.reject) {
                const bool all = static_cast<int>(out_.tested.size()) >= d_.fibres;
                out_.why.push_back(fmt::format("{} of {} tested fibres {} bad; {} {} the lot.{}", bad, out_.tested.size(), bad == 1 ? "is" : "are",
                                               sample_->plan.reject, sample_->plan.reject == 1 ? "rejects" : "reject",
                                               all ? "" : " All fibres are to be tested now, where it is kept."));
                reject = true;
            } else if (tested < sample_->plan.size) {
                warn("sample_incomplete", fmt::format("Of the {} fibres of the sample {} {} tested: nothing is said of the others.",
                                                      sample_->plan.size, tested, tested == 1 ? "was" : "were"));
                note = true;
            }
            note = note || bad > 0;
        } else {
            reject = reject || bad > 0;
            if (!out_.tested.empty() && static_cast<int>(out_.tested.size()) < d_.fibres) {
                warn("not_all", fmt::format("{} of {} fibres were tested: nothing is said of the others.", out_.tested.size(), d_.fibres));
                note = true;
            }
        }
        const bool light = !out_.tested.empty();
        if (reject && !(unclear_ && !light))
            out_.verdict = ReelVerdict::Reject;
        else if (unclear_ || !light)
            out_.verdict = ReelVerdict::NotJudged;
        else
            out_.verdict = note || !out_.faults.empty() ? ReelVerdict::AcceptWithNote : ReelVerdict::Accept;
        if (!light && !unclear_ && out_.faults.empty() && !out_.length.shorter())
            out_.why.emplace_back("No light was sent through it: only its marks are known.");
    }

    const Delivery& d_;
    const std::optional<Sample>& sample_;
    const std::vector<ReelShot>& shots_;
    ReelReport out_;
    JointState worst_ = JointState::NotKnown;
    bool unclear_ = false, wrongKind_ = false;
    std::vector<Metre> fibres_;
    std::set<int> bad_;
};

}  // namespace

std::string_view name(ReelVerdict verdict)
{
    switch (verdict) {
        case ReelVerdict::Accept: return "accept";
        case ReelVerdict::AcceptWithNote: return "accept-with-note";
        case ReelVerdict::Reject: return "reject";
        case ReelVerdict::NotJudged: break;
    }
    return "not-judged";
}

std::string_view decided(ReelVerdict verdict)
{
    switch (verdict) {
        case ReelVerdict::Accept: return "accepted";
        case ReelVerdict::AcceptWithNote: return "accepted with a note";
        case ReelVerdict::Reject: return "rejected";
        case ReelVerdict::NotJudged: break;
    }
    return "not judged";
}

JointReading readShot(const Delivery& delivery, const ReelShot& shot)
{
    const auto expected = delivery.ordered ? std::optional(*delivery.ordered * (1 + delivery.excess)) : std::nullopt;
    return readJoint(shot.found, shot.launch, jointAllowed, expected);
}

std::optional<ReelVerdict> reelVerdictNamed(std::string_view wanted)
{
    for (const auto verdict : {ReelVerdict::Accept, ReelVerdict::AcceptWithNote, ReelVerdict::Reject, ReelVerdict::NotJudged})
        if (name(verdict) == wanted) return verdict;
    return std::nullopt;
}

std::string_view words(ReelVerdict verdict)
{
    switch (verdict) {
        case ReelVerdict::Accept: return "accept";
        case ReelVerdict::AcceptWithNote: return "accept with a note";
        case ReelVerdict::Reject: return "reject";
        case ReelVerdict::NotJudged: break;
    }
    return "not judged";
}

Result<ReelReport> judgeReel(const Delivery& delivery, const std::optional<Sample>& sample, const std::vector<ReelShot>& shots)
{
    return Judge(delivery, sample, shots).run();
}

}  // namespace clendo::reel
