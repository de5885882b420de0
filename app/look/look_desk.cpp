#include "app/look/look_desk.h"

#include <QDir>
#include <QFileDialog>
#include <QFileInfo>

#include "app/frame/open_job.h"
#include "app/look/look_view.h"
#include "app/widgets/live_picture.h"
#include "files/files.h"
#include "instruments/watched_folder.h"
#include "modules/sounds.h"
#include "modules/vision.h"
#include "pictures/decode.h"
#include "record/advice/face_advice.h"
#include "record/state/ferrule.h"

namespace clendo {

static const DeskEntry entry(10, [](WindowFrame& frame) -> std::unique_ptr<Desk> { return std::make_unique<LookDesk>(frame); });

QString pictureFilter() { return QObject::tr("Pictures (*.png *.jpg *.jpeg *.tif *.tiff *.bmp);;All files (*)"); }

LookDesk::LookDesk(WindowFrame& frame)
    : frame_(frame), look_(new LookView(frame.widget())), live_(new LivePicture(this)), watched_(new WatchedFolder(this))
{
    look_->hide();  // until the window shows this desk
    connect(look_, &LookView::dropped, this, &LookDesk::take);
    connect(look_, &LookView::faceChosen, this, [this](const FaceId& face) { frame_.choose(face); });
    connect(live_, &LivePicture::said, this, [this](const QString& sentence, bool trouble) { frame_.say(sentence, trouble); });
    connect(live_, &LivePicture::runningChanged, this, [this] { frame_.refresh(); });
    connect(watched_, &WatchedFolder::arrived, this, [this](const QString& path) {
        if (OpenJob* job = frame_.job())
            job->pictures->take(path, frame_.chosen(), PictureIntake::Came::JustNow);
        else
            frame_.takeFile(path);  // without a job it is looked at all the same
    });
}

LookDesk::~LookDesk() = default;

QWidget* LookDesk::view() { return look_; }

FacePicture* LookDesk::picture() { return &look_->picture(); }

void LookDesk::show(const Shown& shown)
{
    if (shown.link && live_->hasSource())
        live_->pointAt({underScope(), shown.state().face(underScope()).cleanings, optionalOf(shown.state().faceClass(underScope())),
                        shown.state().plan->criteria, shown.link->cable->ferruleFibres > 1 && underScope() == shown.chosen});
    look_->show(*shown.session, shown.link, shown.chosen, frame_.job() ? frame_.job()->pictures->busy() : 0, live_->running());
}

Advice LookDesk::advice(const Shown& shown) const { return shown.link ? faceAdvice(shown.state(), *shown.link, shown.chosen) : emptyJobAdvice(); }

bool LookDesk::isFor(StepKind kind) const
{
    return kind == StepKind::Look || kind == StepKind::Clean || kind == StepKind::Sleeve || kind == StepKind::Mate;
}

bool isPictureFile(const QString& file)
{
    static const QStringList kinds{QStringLiteral("png"), QStringLiteral("jpg"),  QStringLiteral("jpeg"),
                                   QStringLiteral("tif"), QStringLiteral("tiff"), QStringLiteral("bmp")};
    return kinds.contains(QFileInfo(file).suffix().toLower());
}

bool LookDesk::accepts(const QString& file) const { return frame_.session() && isPictureFile(file); }

void LookDesk::take(const QString& file)
{
    if (!frame_.job()) return frame_.say(tr("Open a job first."), true);
    frame_.job()->pictures->take(file, frame_.chosen());
}

void LookDesk::left() { live_->stop(); }  // a live picture that nobody sees could be filed unseen

void LookDesk::jobComes(OpenJob& job) { connect(job.pictures.get(), &PictureIntake::judged, this, &LookDesk::judged); }

void LookDesk::jobGoes() { live_->stop(); }

void LookDesk::watchFolder(const QString& folder)
{
    watched_->watch(folder);
    frame_.say(tr("Watching %1: a picture saved there goes to the chosen face.").arg(folder));
}

void LookDesk::useSimulatedScope(const QString& folder)
{
    live_->useSimulatedScope();
    useSavingScope(folder, [this](const FaceId& face, const QString& file) {
        const auto saved = vision().and_then([&](const Vision& v) {
            return writeFile(file.toStdString(), encodePng(v.simulatedPicture(face, frame_.session()->state().face(face).cleanings)));
        });
        if (!saved) frame_.say(saved.error());
    });
}

void LookDesk::useSavingScope(const QString& folder, Save save)
{
    savesInto_ = folder;
    save_ = std::move(save);
    watchFolder(folder);
}

void LookDesk::takePicture()
{
    frame_.working(StepKind::Look);
    frame_.showDesk(id());
    if (live_->running()) {
        const FaceId face = underScope();
        const auto captured = live_->capture();
        if (!captured) return frame_.say(captured.error());
        ofKit_.reset();
        return frame_.job()->pictures->takeFrames(*captured, face);
    }
    if (!save_) return openPicture();
    // the scope saves into the watched folder; the folder does the rest
    const FaceState& face = frame_.session()->state().face(frame_.chosen());
    const QString file = QString::fromStdString(frame_.chosen().text()).replace(QLatin1Char('/'), QLatin1Char('-'));
    save_(frame_.chosen(), QDir(savesInto_).filePath(QStringLiteral("%1-%2.png").arg(file).arg(face.looks.size() + 1)));
}

FaceId LookDesk::underScope() const { return ofKit_ && ofKit_->chosen == frame_.chosen() ? ofKit_->face : frame_.chosen(); }

void LookDesk::lookAtKit(const FaceId& face)
{
    ofKit_ = OfKit{face, frame_.chosen()};
    frame_.showDesk(id());
    if (!live_->running()) live_->start(look_->picture());
    frame_.refresh();
    frame_.say(tr("Live: %1. Take a picture when it is sharp; choosing another face lets go of it.")
                   .arg(QString::fromStdString(frame_.session()->state().where(face))));
}

void LookDesk::openPicture()
{
    const QString path =
        QFileDialog::getOpenFileName(frame_.widget(), tr("Open a picture"), QFileInfo(frame_.session()->path()).path(), pictureFilter());
    if (!path.isEmpty()) take(path);
}

void LookDesk::toggleLive()
{
    frame_.showDesk(id());
    if (live_->running())
        live_->stop();
    else
        live_->start(look_->picture());
}

void LookDesk::toggleUnrolled()
{
    look_->toggleUnrolled();
    frame_.showDesk(id());
}

void LookDesk::turnKey()
{
    PictureIntake& pictures = *frame_.job()->pictures;
    const bool up = pictures.keyWay() == KeyWay::Down;
    pictures.setKeyWay(up ? KeyWay::Up : KeyWay::Down);
    look_->setKeyWay(up ? QString() : tr("Key down: fibre 1 at the right."));
    frame_.refresh();
    frame_.say(up ? tr("Ferrules are held with the key up: fibre 1 is at the left of a picture.")
                  : tr("Ferrules are held with the key down: fibre 1 is at the right of a picture."));
}

void LookDesk::judged(const FaceId& face)
{
    const JobState& state = frame_.session()->state();
    const Link* l = state.link(face.link);
    sound(face);
    const auto condition = name(state.face(face).condition);
    if (!l || l->cable->ferruleFibres <= 1)
        return frame_.say(
            tr("Judged: %1: %2.")
                .arg(QString::fromStdString(state.where(face)), QString::fromUtf8(condition.data(), static_cast<qsizetype>(condition.size()))));
    frame_.say(tr("Judged: %1").arg(QString::fromStdString(ferruleTally(state, face))));
    if (const auto next = nextGroup(state, face); next && ferruleOf(state, frame_.chosen()).front() == ferruleOf(state, face).front())
        frame_.choose(*next);  // the next picture is filed from there on
}

void LookDesk::sound(const FaceId& face) const
{
    if (!soundOn_) return;
    const JobState& state = frame_.session()->state();
    const auto condition = state.face(decidingFace(state, face)).condition;
    if (condition == FaceCondition::NotSeen || condition == FaceCondition::Stale) return;
    if (const auto module = sounds())
        module->play(condition == FaceCondition::Fit ? Sound::Fit : condition == FaceCondition::Damaged ? Sound::Damaged : Sound::Work);
}

}  // namespace clendo
