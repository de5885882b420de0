#include "app/quick/quick_desk.h"

#include <QApplication>
#include <QBuffer>
#include <QClipboard>
#include <QDateTime>
#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QMimeData>
#include <QUrl>
#include <QtConcurrentRun>

#include "app/frame/open_job.h"
#include "app/look/look_desk.h"
#include "app/quick/quick_view.h"
#include "app/widgets/face_picture.h"
#include "app/widgets/live_picture.h"
#include "app/widgets/save_file.h"
#include "app/widgets/when_done.h"
#include "files/files.h"
#include "pictures/decode.h"
#include "record/advice/face_advice.h"
#include "result/guarded.h"

namespace clendo {

namespace {

/// What judges a live picture: the criteria by which the look will be judged.
LivePicture::Aim aimAt(const std::string& className)
{
    LivePicture::Aim aim{{"quick/1", End::A, Side::Cord}, 0, std::nullopt, {}, false};
    if (const auto criteria = loadCriteria("2015", dataFolder())) {
        aim.criteria = *criteria;
        if (const auto faceClass = criteria->find(className)) {
            aim.faceClass = *faceClass;
            aim.several = faceClass->rectangular;
        }
    }
    return aim;
}

std::string pngOf(const QImage& image)
{
    QByteArray png;
    QBuffer buffer(&png);
    image.save(&buffer, "PNG");
    return png.toStdString();
}

}  // namespace

static const DeskEntry entry(80, [](WindowFrame& frame) -> std::unique_ptr<Desk> { return std::make_unique<QuickDesk>(frame); });

QuickDesk::QuickDesk(WindowFrame& frame) : frame_(frame) { learnJobs({}); }

QWidget* QuickDesk::view()
{
    if (!view_) {
        view_ = new QuickView(frame_.widget());
        connect(view_, &QuickView::dropped, this, qOverload<const QString&>(&QuickDesk::take));
        connect(view_, &QuickView::classChosen, this, &QuickDesk::judge);
        connect(view_, &QuickView::jobWanted, this, [this](const QString& path) { frame_.openJob(path); });
        connect(view_, &QuickView::commandWanted, this, [this](std::string_view id) { frame_.run(id); });
    }
    return view_;
}

void QuickDesk::show(const Shown& shown)
{
    const bool offered = !shown.session && !look_ && !isLive();
    std::vector<const Command*> others;
    for (const char* id : {"plan.table", "job.demo"})
        if (const Command* command = frame_.commands().find(id); offered && command && (!command->whyNot || command->whyNot().isEmpty()))
            others.push_back(command);
    view_->showJobs(offered, recent_, others);
    QString words = busy_ > 0 ? tr("Judging the picture …")
                    : taken_  ? tr("in no job · %1").arg(QString::fromStdString(taken_->evidence.name))
                             : tr("Drop a picture of an end face here.\n\nCtrl+V pastes one, O opens one, V shows what a scope sees. It is judged at "
                                  "once; no job is needed.");
    if (taken_ && taken_->combined) words += tr(" · %1 frames combined").arg(taken_->combined->used);
    if (look_ && look_->fibres > 1) words += tr(" · fibre %1 of %2 decides").arg(look_->fibre).arg(look_->fibres);
    if (isLive()) return live().pointAt(aimAt(view_->className()));
    view_->show(image_, look_ ? &*look_ : nullptr, words);
}

Advice QuickDesk::advice(const Shown& shown) const
{
    Advice out;
    if (isLive()) {
        out.headline = "The scope's live picture";
        out.sentence = "It is judged as you focus, and kept nowhere. Taking it takes what the last second showed.";
        out.actions = {{"quick.take", "Take this picture"}, {"quick.live", "Stop the live picture"}};
        return out;
    }
    if (look_) {
        out = faceAdvice(look_->state, look_->link(), look_->face);
        if (out.tone == Tone::Fit) out.sentence = "It meets the criteria.";  // there is no partner, and no next step
        const std::string where = look_->link().where(look_->face), plain = look_->fibres > 1 ? "fibre " + std::to_string(look_->fibre) : "face";
        for (auto at = out.sentence.find(where); at != std::string::npos; at = out.sentence.find(where))
            out.sentence.replace(at, where.size(), plain);
        out.actions = {{"quick.save", "Save it with its marks"}, {"quick.open", "Another picture"}};
        if (shown.link) out.actions.insert(out.actions.begin(), {"quick.file", "File it under the chosen face"});
        return out;
    }
    if (shown.session) {
        out.headline = "Look at any picture";
        out.sentence = "It is judged, and filed only if you say so.";
        out.actions = {{"quick.open", "Open a picture"}};
        return out;
    }
    out.headline = "Open or make a job";
    out.sentence = "A job holds the plan, what was seen, read and shot, and the certificates. Or drop a picture: it is judged without a job.";
    out.actions = {{"job.open", "Open a job"}, {"job.new", "New job"}, {"quick.open", "Open a picture"}};
    return out;
}

bool QuickDesk::accepts(const QString& file) const { return isPictureFile(file); }

void QuickDesk::take(const QString& file)
{
    await([path = file.toStdString(), name = QFileInfo(file).fileName().toStdString()](bool several) { return readAndMeasure(path, name, several); });
}

void QuickDesk::jobComes(OpenJob& job) { learnJobs(job.session->path()); }

void QuickDesk::learnJobs(const QString& opened)
{
    whenDone(QtConcurrent::run([opened] {
                 if (!opened.isEmpty()) rememberJob(opened);
                 return recentJobs();
             }),
             this, [this, asked = ++jobsAsked_](const std::vector<RecentJob>& jobs) {
                 if (asked != jobsAsked_) return;  // a later answer knows more
                 recent_ = jobs;
                 if (view_ && view_->isVisible()) frame_.refresh();
             });
}

void QuickDesk::await(std::function<Result<TakenPicture>(bool several)> take)
{
    frame_.showDesk(id());
    ++busy_;
    const auto work = [now = timeOfDay(), take = std::move(take), several = aimAt(view_->className()).several]() -> Result<Seen> {
        return take(several).and_then([&](TakenPicture taken) {
            if (taken.at == 0) taken.at = now;
            return readImage(taken.evidence.bytes, taken.evidence.name).map([&](QImage image) { return Seen{std::move(taken), std::move(image)}; });
        });
    };
    whenDone(QtConcurrent::run([work] { return guarded(work); }), this, [this](const Result<Seen>& seen) {
        --busy_;
        if (!seen) {
            frame_.say(seen.error());
            return frame_.refresh();
        }
        taken_ = seen->taken;
        image_ = seen->image;
        judge();
    });
    frame_.refresh();
}

void QuickDesk::judge()
{
    if (taken_) look_ = quickLook(taken_->faces, view_->className(), Rules(dataFolder()));
    frame_.refresh();
}

LivePicture& QuickDesk::live() const { return frame_.deskOf<LookDesk>().live(); }

bool QuickDesk::isLive() const { return live().running() && frame_.desk() == id(); }

void QuickDesk::left() { live().stop(); }

void QuickDesk::toggleLive()
{
    frame_.showDesk(id());
    live().running() ? live().stop() : live().start(view_->picture());
    frame_.refresh();
}

void QuickDesk::takeLive()
{
    const auto captured = live().capture();
    if (!captured) return frame_.say(captured.error());
    const QString name = QDateTime::currentDateTimeUtc().toString(QStringLiteral("'scope-'yyyyMMdd-HHmmss'.png'"));
    await([captured = *captured, name = name.toStdString()](bool) { return combineAndMeasure(captured, name); });
}

FacePicture* QuickDesk::picture() { return view_ ? &view_->picture() : nullptr; }

void QuickDesk::openPicture()
{
    const QString path = QFileDialog::getOpenFileName(frame_.widget(), tr("Open a picture"), QDir::homePath(), pictureFilter());
    if (!path.isEmpty()) take(path);
}

void QuickDesk::paste()
{
    const QMimeData* data = QGuiApplication::clipboard()->mimeData();
    frame_.showDesk(id());
    if (data && data->hasUrls() && data->urls().front().isLocalFile()) return take(data->urls().front().toLocalFile());
    const QImage image = data && data->hasImage() ? qvariant_cast<QImage>(data->imageData()) : QImage();
    if (image.isNull()) return frame_.say(tr("The clipboard holds no picture."), true);
    await([image](bool several) { return measureBytes(pngOf(image), "pasted.png", several); });
}

void QuickDesk::copy()
{
    QGuiApplication::clipboard()->setImage(view_->picture().grab().toImage());
    frame_.say(tr("Copied: the picture with its marks."));
}

void QuickDesk::save()
{
    const QString path =
        QFileDialog::getSaveFileName(frame_.widget(), tr("Save the picture with its marks"), QStringLiteral("end-face.png"), tr("Pictures (*.png)"));
    if (!path.isEmpty()) saveTo(path);
}

void QuickDesk::saveTo(const QString& path)
{
    const auto said = [this, path](const Result<void>& saved) { saved ? frame_.say(tr("Saved: %1.").arg(path)) : frame_.say(saved.error()); };
    saveFile(
        this, path, [image = view_->picture().grab().toImage()] { return pngOf(image); }, said);
}

void QuickDesk::fileUnderFace()
{
    const FaceId face = frame_.chosen();
    frame_.job()->pictures->takeMeasured(*taken_, face);
    frame_.showDesk(QStringLiteral("look"));
}

static const CommandGroup group(80, [](WindowFrame& frame) -> std::vector<Command> {
    const QString here = QStringLiteral("quick");
    const auto desk = [&frame]() -> QuickDesk& { return frame.deskOf<QuickDesk>(); };
    const auto looked = [desk] { return desk().looked() ? QString() : QObject::tr("Nothing was looked at yet."); };
    const auto menu = CommandMenu::Look;
    return {{"quick.paste", menu, QObject::tr("Quick look at a pasted picture"), {Qt::CTRL | Qt::Key_V}, [desk] { desk().paste(); }},
            {"quick.open", menu, QObject::tr("Open a picture …"), {Qt::Key_O}, [desk] { desk().openPicture(); }, {}, here},
            {"quick.live", menu, QObject::tr("Live picture for a quick look, on or off"), {Qt::Key_V}, [desk] { desk().toggleLive(); }, {}, here},
            {"quick.take",
             menu,
             QObject::tr("Take the live picture"),
             {Qt::Key_P},
             [desk] { desk().takeLive(); },
             [desk] { return desk().isLive() ? QString() : QObject::tr("No live picture runs: V starts it."); },
             here},
            {"quick.copy", menu, QObject::tr("Copy the picture with its marks"), {Qt::Key_C}, [desk] { desk().copy(); }, looked, here},
            {"quick.save", menu, QObject::tr("Save the picture with its marks …"), {Qt::Key_S}, [desk] { desk().save(); }, looked, here},
            {"quick.file",
             menu,
             QObject::tr("File it under the chosen face"),
             {Qt::Key_F},
             [desk] { desk().fileUnderFace(); },
             [looked, &frame] { return !looked().isEmpty() ? looked() : needsLink(frame); },
             here}};
});

}  // namespace clendo
