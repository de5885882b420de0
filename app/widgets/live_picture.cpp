#include "app/widgets/live_picture.h"

#include "app/widgets/face_picture.h"
#include "face/judge/judge_look.h"
#include "instruments/simulated_scope.h"
#include "instruments/stills_source.h"
#include "modules/video.h"
#include "modules/vision.h"

namespace clendo {

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

void LivePicture::start(FacePicture& onto)
{
    if (running()) return;
    if (!scope_ && make_) {
        const auto module = vision();
        auto source = module ? make_() : tl::unexpected(module.error());
        if (!source) {
            emit said(QString::fromStdString(source.error().message), true);
            return;
        }
        scope_ = std::make_unique<LiveScope>(std::move(*source),
                                             [measure = module->measureFrame, several = several_](const face::Picture& p, const auto& before) {
                                                 face::MeasureOptions options;
                                                 if (*several) options.fibres.reset();
                                                 options.cores = 1;  // the frames are judged side by side
                                                 return measure(p, options, before);
                                             });
        connect(scope_.get(), &LiveScope::looked, this, &LivePicture::show);
        connect(scope_.get(), &LiveScope::trouble, this, [this](const QString& sentence) { emit said(sentence, true); });
        connect(scope_.get(), &LiveScope::silentChanged, this, &LivePicture::silent);
        aimSimulated();
    }
    if (!scope_) {
        emit said(tr("Choose a scope first: menu (F10), Scope."), true);
        return;
    }
    picture_ = &onto;
    scope_->start();
    picture_->setLive(FacePicture::Live{tr("Waiting for the scope …"), 0, 0, false});
    picture_->show({}, nullptr, aim_.faceClass, tr("Waiting for the scope …"));
    emit runningChanged();
}

void LivePicture::stop()
{
    if (!running()) return;
    scope_->stop();
    picture_->setLive(std::nullopt);
    emit runningChanged();
}

void LivePicture::silent(bool silent)
{
    if (silent && running()) picture_->setLive(FacePicture::Live{tr("No picture comes from the scope. What you see is old."), 0, 0, true});
    emit said(silent ? tr("The scope sends no picture. Check its cable; it is taken up again by itself.") : tr("The scope is back."), silent);
}

void LivePicture::aimSimulated()
{
    auto* simulated = dynamic_cast<SimulatedScope*>(&scope_->source());
    if (!simulated || !aimed_) return;
    simulated->pointAt([face = aim_.face, cleanings = aim_.cleanings]() -> SimulatedScope::Scene {
        const auto module = vision();
        return module ? module->simulatedScope(face, cleanings) : SimulatedScope::Scene();
    });
}

void LivePicture::pointAt(Aim aim)
{
    const bool same = aimed_ && aim.face == aim_.face && aim.cleanings == aim_.cleanings;
    *several_ = aim.several;
    aim_ = std::move(aim);
    aimed_ = true;
    if (same) return;
    emit aimedAt(aim_.face);
    if (!scope_) return;
    scope_->forget();
    aimSimulated();
}

void LivePicture::show(const LiveLook& look)
{
    if (!running()) return;
    Look shown;
    shown.seen = {aim_.face, {}, {}, look.first()};
    if (aim_.faceClass) shown.verdict = face::judgeLook(look.first(), *aim_.faceClass, aim_.criteria).verdict;
    const auto owner = new Frame(look.frame);
    const QImage image(
        look.frame->pixels.data(), look.frame->width, look.frame->height, look.frame->width, QImage::Format_Grayscale8,
        [](void* kept) { delete static_cast<Frame*>(kept); }, owner);
    const auto sentence = sentenceOf(scope_->advice());
    picture_->setLive(FacePicture::Live{QString::fromUtf8(sentence.data(), static_cast<qsizetype>(sentence.size())), look.first().focus,
                                        scope_->sharpest() ? scope_->sharpest()->first().focus : 0, false});
    picture_->show(image, &shown, aim_.faceClass, {});
}

Result<LiveCapture> LivePicture::capture()
{
    const LiveLook* best = scope_ ? scope_->sharpest() : nullptr;
    if (!best) {
        const std::string why = scope_ ? std::string(sentenceOf(scope_->advice())) : std::string();
        return failure(Error::Code::StepRefused, "Nothing was taken: no frame of the last second can be judged. " + why);
    }
    LiveCapture out{*best, scope_->usableFrames(), aim_.several};
    stop();
    return out;
}

void LivePicture::turnFocus(double steps)
{
    if (running()) scope_->source().turnFocus(steps);
}

}  // namespace clendo
