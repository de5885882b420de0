#include "app/look/look_view.h"

#include <QLabel>
#include <QVBoxLayout>
#include <utility>

#include "app/look/ferrule_view.h"
#include "app/widgets/theme.h"
#include "files/files.h"
#include "record/advice/cleaning_advice.h"
#include "record/state/ferrule.h"
#include "record/state/spots.h"

namespace clendo {
namespace {

constexpr std::size_t mostTriesShown = 5;

int countedIn(const Try& look)
{
    int n = 0;
    for (const auto& f : look.seen.measured.findings) n += f.nearest < Micrometre(57.5) ? 1 : 0;
    return n;
}

}  // namespace

LookView::LookView(QWidget* parent)
    : QWidget(parent),
      title_(new TextBlock(this)),
      picture_(new FacePicture(this)),
      triesTitle_(new TextBlock(this)),
      tries_(new QWidget(this)),
      triesLayout_(new QHBoxLayout(tries_))
{
    setObjectName(QStringLiteral("lookView"));
    title_->setObjectName(QStringLiteral("lookTitle"));
    triesTitle_->setText(tr("Tries on this face"), true);
    triesLayout_->setContentsMargins(0, 0, 0, 0);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(14, 10, 14, 10);
    layout->addWidget(title_);
    layout->addWidget(picture_, 1);
    layout->addWidget(triesTitle_);
    layout->addWidget(tries_);
    picture_->setZoomable();
    connect(picture_, &FacePicture::dropped, this, &LookView::dropped);
}

void LookView::show(JobSession& session, const Link* link, const FaceId& id, int busy)
{
    if (!link) {
        title_->setText({});
        picture_->show({}, nullptr, {}, tr("Plan a cable first: press B."));
        triesTitle_->hide();
        tries_->hide();
        return;
    }
    face_ = id;
    busy_ = busy;
    const FaceState& face = session.state().face(id);
    const Try* judged = session.state().face(id).lastJudged();
    if (judged && session.evidence().picture(judged->seen.picture).isNull()) judged = nullptr;  // said with the picture: the window stands first
    title_->setParagraphs({{{QString::fromStdString(link->where(id)), true},
                            {(link->cable->ferruleFibres > 1 ? QString() : tr(", fibre %1").arg(link->fibre)) + QStringLiteral(", ") +
                             QString::fromStdString(link->colour)},
                            {judged ? expectedWords(session.state(), *judged) : QString(), false, theme().soft}}});
    const auto criteria = optionalOf(session.state().criteria(id));
    liveCriteria_ = criteria;
    if (live_) {
        // the picture belongs to the scope
    } else if (face.tries.empty()) {
        picture_->show({}, nullptr, criteria,
                       busy > 0
                           ? tr("Judging the picture …")
                           : tr("Not seen yet.\n\nP takes a picture. You can also drop a file here, or let the scope save into the watched folder."));
    } else {
        const Try& last = face.tries.back();
        const auto& m = last.seen.measured;
        QString words = busy > 0 ? tr("judging the next picture …") : tr("frozen · %1").arg(QString::fromStdString(last.seen.pictureName));
        if (m.claddingDiameter > Pixel(0))
            words += tr(" · sharp %1 · %2 µm/px from the cladding").arg(m.focus, 0, 'f', 2).arg(m.scale.micrometresPerPixel(), 0, 'f', 3);
        if (m.core) {
            const auto core = name(*m.core);
            words += (m.coreInferred ? tr(" · no multimode core shows, so %1") : tr(" · core %1"))
                         .arg(QString::fromUtf8(core.data(), static_cast<qsizetype>(core.size())));
        }
        picture_->show(session.evidence().picture(last.seen.picture), &last, criteria, words);
    }
    showFerrule(session);
    showTries(session, face, criteria);
    showUnrolled(session, face, criteria);
}

void LookView::setLive(bool live)
{
    live_ = live;
    picture_->setLive(live ? std::optional(FacePicture::Live{tr("Waiting for the scope …"), 0, 0, false}) : std::nullopt);
    if (live) picture_->show({}, nullptr, liveCriteria_, tr("Waiting for the scope …"));
}

void LookView::setLiveSilent(bool silent)
{
    if (live_ && silent) picture_->setLive(FacePicture::Live{tr("No picture comes from the scope. What you see is old."), 0, 0, true});
}

void LookView::showLive(const Frame& frame, const Try& look, const QString& advice, double sharpest)
{
    if (!live_) return;
    const auto owner = new Frame(frame);
    const QImage image(
        frame->pixels.data(), frame->width, frame->height, frame->width, QImage::Format_Grayscale8,
        [](void* kept) { delete static_cast<Frame*>(kept); }, owner);
    picture_->setLive(FacePicture::Live{advice, look.seen.measured.focus, sharpest, false});
    picture_->show(image, &look, liveCriteria_, {});
}

QString LookView::expectedWords(const JobState& state, const Try& look)
{
    const auto& m = look.seen.measured;
    const int wavelength = state.plan->wavelengthsFor(*state.link(look.seen.face.link)->cable).front();
    const CoreKind core = m.core.value_or(CoreKind::SingleMode);
    if (state.plan->keptRules != constants_) {  // of another job, or kept only now
        constants_ = state.plan->keptRules;
        spots_.clear();
    }
    const RuleFiles rules(dataFolder(), constants_);
    auto known = spots_.find({core, wavelength});
    if (known == spots_.end())
        known = spots_.emplace(std::pair(core, wavelength), face::loadLightSpot(core, Nanometre(double(wavelength)), rules)).first;
    const auto& spot = known->second;
    if (!spot) return {};
    const auto loss = face::expectedLoss(m.findings, *spot, m.offset);
    const QString apart = mayBeHeldApart(state.face(look.seen.face)) ? tr("a particle may hold the faces apart") : QString();
    if (loss.most < Decibel(0.01))
        return apart.isEmpty() ? tr("    nothing lies in the light's way") : tr("    nothing lies right in the light's way, but %1").arg(apart);
    return tr("    if mated so, +%1 to %2 dB at %3 nm; a gap is not counted%4")
        .arg(loss.least.value(), 0, 'f', 2)
        .arg(loss.most.value(), 0, 'f', 2)
        .arg(wavelength)
        .arg(apart.isEmpty() ? QString() : tr(", and %1").arg(apart));
}

void LookView::toggleUnrolled()
{
    if (!unrolled_) {
        unrolled_ = new UnrolledView(this);
        static_cast<QVBoxLayout*>(layout())->insertWidget(2, unrolled_, 1);
        unrolled_->hide();
    }
    wantsUnrolled_ = !wantsUnrolled_;
    unrolled_->setVisible(wantsUnrolled_);
}

void LookView::showUnrolled(JobSession& session, const FaceState& face, const std::optional<ConnectorCriteria>& criteria)
{
    if (!unrolled_) return;
    const Try *last = face.lastJudged(), *before = face.judgedBefore();
    unrolled_->setVisible(wantsUnrolled_ && last);
    if (!wantsUnrolled_ || !last) return;
    unrolled_->show(session.evidence().picture(last->seen.picture), *last, before ? session.evidence().picture(before->seen.picture) : QImage(),
                    before, criteria);
}

void LookView::showFerrule(JobSession& session)
{
    const auto faces = ferruleOf(session.state(), face_);
    if (faces.size() > 1 && !ferrule_) {
        ferrule_ = new FerruleView(this);
        static_cast<QVBoxLayout*>(layout())->insertWidget(2, ferrule_);
        connect(ferrule_, &FerruleView::chosen, this, &LookView::faceChosen);
    }
    if (!ferrule_) return;
    ferrule_->setVisible(faces.size() > 1);
    if (faces.size() < 2) return;
    QString words = QString::fromStdString(ferruleTally(session.state(), face_)) + QLatin1Char(' ') + keyWay_;
    for (const auto& id : faces)
        if (const Try* look = session.state().face(id).lastJudged(); look && look->seen.measured.guide != face::Guide::NotSeen) {
            words += look->seen.measured.guide == face::Guide::Pin ? tr(" Guide pins seen.") : tr(" Guide holes seen, no pins.");
            break;
        }
    ferrule_->show(session.state(), face_, words, [&](const std::string& sha) { return session.evidence().picture(sha); });
}

void LookView::showTries(JobSession& session, const FaceState& face, const std::optional<ConnectorCriteria>& criteria)
{
    while (QLayoutItem* item = triesLayout_->takeAt(0)) {
        delete item->widget();
        delete item;
    }
    const bool any = !wantsUnrolled_ && !(ferrule_ && ferrule_->isVisibleTo(this)) &&
                     (face.tries.size() > 1 || !face.cleanedSince.empty());  // the unrolled view shows before and after itself
    triesTitle_->setVisible(any);
    tries_->setVisible(any);
    if (!any) return;
    const std::size_t first = face.tries.size() > mostTriesShown ? face.tries.size() - mostTriesShown : 0;
    const auto cleanedLabel = [&](const std::vector<FaceCleaned>& cleaned) {
        QStringList lines;
        for (const auto& c : cleaned)
            lines << QStringLiteral("%1, %2").arg(QString::fromStdString(methodWords(c.method)),
                                                  c.strokes == 1 ? tr("1 stroke") : tr("%1 strokes").arg(c.strokes));
        auto* label = new QLabel(lines.join(QLatin1Char('\n')) + QStringLiteral("\n→"), tries_);
        label->setAlignment(Qt::AlignCenter);
        label->setWordWrap(true);
        label->setFixedWidth(em(4.3));
        tint(label, QPalette::WindowText, theme().soft);
        triesLayout_->addWidget(label);
    };
    for (std::size_t i = first; i < face.tries.size(); ++i) {
        const Try& look = face.tries[i];
        if (i > first && !look.cleanedBefore.empty()) cleanedLabel(look.cleanedBefore);
        auto* box = new QWidget(tries_);
        auto* column = new QVBoxLayout(box);
        column->setContentsMargins(0, 0, 0, 0);
        auto* thumb = new FacePicture(box);
        thumb->setObjectName(QStringLiteral("try%1").arg(i + 1));
        thumb->setMinimumSize(em(4.7), em(4.7));
        thumb->setFixedSize(em(4.7), em(4.7));
        thumb->setAcceptDrops(false);
        thumb->show(session.evidence().picture(look.seen.picture), &look, criteria, QString());
        column->addWidget(thumb);
        const QString verdict = !look.verdict ? tr("retake") : look.verdict->fit ? tr("fit") : tr("not fit");
        auto* words = new QLabel(tr("%1: %2\n%3 in the glass").arg(i + 1).arg(verdict).arg(countedIn(look)), box);
        words->setAlignment(Qt::AlignCenter);
        column->addWidget(words);
        triesLayout_->addWidget(box);
    }
    if (!face.cleanedSince.empty()) cleanedLabel(face.cleanedSince);
    triesLayout_->addStretch();
}

}  // namespace clendo
