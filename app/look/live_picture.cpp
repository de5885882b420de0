#include "app/look/live_picture.h"

#include "app/look/look_view.h"
#include "app/look/picture_intake.h"
#include "face/judge/judge_look.h"
#include "instruments/simulated_scope.h"
#include "instruments/stills_source.h"
#include "modules/video.h"
#include "modules/vision.h"

namespace clendo {

LivePicture::LivePicture(LookView* view, QObject* parent) : QObject(parent), view_(view) {}

LivePicture::~LivePicture() = default;

void LivePicture::use(std::function<Result<std::unique_ptr<VideoSource>>()> make)
{
    stop();
    scope_.reset();
    make_ = std::move(make);
}

void LivePicture::useSimulatedScope()
{
    use([]() -> Result<std::unique_ptr<VideoSource>> { return std::make_unique<SimulatedScope>(); });
}

void LivePicture::useFolder(const QString& folder)
{
    use([folder]() -> Result<std::unique_ptr<VideoSource>> { return std::make_unique<StillsSource>(folder); });
}

void LivePicture::useVideoFile(const QString& path)
{
    use([path] { return video().map([&](const Video& v) { return v.file(path); }); });
}

void LivePicture::useCamera(const QString& id)
{
    use([id] { return video().map([&](const Video& v) { return v.camera(id); }); });
}

void LivePicture::start()
{
    if (running()) return;
    if (!scope_ && make_) {
        const auto module = vision();
        auto source = module ? make_() : tl::unexpected(module.error());
        if (!source) {
            emit said(QString::fromStdString(source.error().message), true);
            return;
        }
        scope_ = std::make_unique<LiveScope>(std::move(*source), [measure = module->measure, several = several_](const face::Picture& p) {
            face::MeasureOptions options;
            if (*several) options.fibres.reset();
            options.cores = 1;  // the frames are judged side by side
            return measure(p, options);
        });
        connect(scope_.get(), &LiveScope::looked, this, &LivePicture::show);
        connect(scope_.get(), &LiveScope::trouble, this, [this](const QString& sentence) { emit said(sentence, true); });
        connect(scope_.get(), &LiveScope::silentChanged, this, [this](bool silent) {
            view_->setLiveSilent(silent);
            emit said(silent ? tr("The scope sends no picture. Check its cable; it is taken up again by itself.") : tr("The scope is back."), silent);
        });
        aimSimulated();
    }
    if (!scope_) {
        emit said(tr("Choose a scope first: menu (F10), Scope."), true);
        return;
    }
    scope_->start();
    view_->setLive(true);
    emit runningChanged();
}

void LivePicture::stop()
{
    if (!running()) return;
    scope_->stop();
    view_->setLive(false);
    emit runningChanged();
}

void LivePicture::aimSimulated()
{
    auto* simulated = dynamic_cast<SimulatedScope*>(&scope_->source());
    if (!simulated || cleanings_ < 0) return;
    simulated->pointAt([face = face_, cleanings = cleanings_]() -> SimulatedScope::Scene {
        const auto module = vision();
        return module ? module->simulatedScope(face, cleanings) : SimulatedScope::Scene();
    });
}

void LivePicture::pointAt(const FaceId& face, const JobState& state)
{
    const Link* link = state.link(face.link);
    if (!link) return;
    criteria_ = optionalOf(state.criteria(face));
    profile_ = state.plan->profile;
    *several_ = link->cable->ferruleFibres > 1;
    const int cleanings = state.face(face).cleanings;
    if (face == face_ && cleanings == cleanings_) return;
    face_ = face;
    cleanings_ = cleanings;
    if (!scope_) return;
    scope_->forget();
    aimSimulated();
}

void LivePicture::show(const LiveLook& look)
{
    Try shown;
    shown.seen = {face_, {}, {}, look.first()};
    if (criteria_) shown.verdict = face::judgeLook(look.first(), *criteria_, profile_).verdict;
    const auto sentence = sentenceOf(scope_->advice());
    view_->showLive(look.frame, shown, QString::fromUtf8(sentence.data(), static_cast<qsizetype>(sentence.size())),
                    scope_->sharpest() ? scope_->sharpest()->first().focus : 0);
}

Result<void> LivePicture::capture(PictureIntake& intake)
{
    const LiveLook* best = scope_ ? scope_->sharpest() : nullptr;
    if (!best) {
        const std::string why = scope_ ? std::string(sentenceOf(scope_->advice())) : std::string();
        return failure(Error::Code::StepRefused, "Nothing was filed: no frame of the last second can be judged. " + why);
    }
    intake.takeFrame(best->frame, best->faces, face_);
    stop();
    return {};
}

void LivePicture::turnFocus(double steps)
{
    if (running()) scope_->source().turnFocus(steps);
}

}  // namespace clendo
