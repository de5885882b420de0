#include "app/look/look_view.h"

#include <QLabel>
#include <QVBoxLayout>
#include <utility>

#include "app/look/ferrule_view.h"
#include "app/widgets/theme.h"
#include "face/judge/judge_look.h"
#include "files/files.h"
#include "record/advice/filed.h"
#include "record/state/ferrule.h"
#include "record/state/spots.h"

namespace clendo {
namespace {

constexpr std::size_t mostLooksShown = 5;

}  // namespace

LookView::LookView(QWidget* parent)
    : QWidget(parent),
      title_(new TextBlock(this)),
      picture_(new FacePicture(this)),
      looksTitle_(new TextBlock(this)),
      looks_(new QWidget(this)),
      looksLayout_(new QHBoxLayout(looks_))
{
    setObjectName(QStringLiteral("lookView"));
    title_->setObjectName(QStringLiteral("lookTitle"));
    looksTitle_->setText(tr("Looks at this face"), true);
    looksLayout_->setContentsMargins(0, 0, 0, 0);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(14, 10, 14, 10);
    layout->addWidget(title_);
    layout->addWidget(picture_, 1);
    layout->addWidget(looksTitle_);
    layout->addWidget(looks_);
    picture_->setZoomable();
    connect(picture_, &FacePicture::dropped, this, &LookView::dropped);
}

void LookView::show(JobSession& session, const Link* link, const FaceId& id, int busy, bool live)
{
    if (!link) {
        title_->setText({});
        picture_->show({}, nullptr, {}, tr("Plan a cable first: press B."));
        looksTitle_->hide();
        looks_->hide();
        return;
    }
    face_ = id;
    busy_ = busy;
    const FaceState& face = session.state().face(id);
    const Look* judged = session.state().face(id).lastJudged();
    if (judged && session.evidence().picture(judged->seen.picture).isNull()) judged = nullptr;  // said with the picture: the window stands first
    title_->setParagraphs({{{QString::fromStdString(link->where(id)), true},
                            {(link->cable->ferruleFibres > 1 ? QString() : tr(", fibre %1").arg(link->fibre)) + QStringLiteral(", ") +
                             QString::fromStdString(link->colour)},
                            {judged ? expectedWords(session.state(), *judged) : QString(), false, theme().soft}}});
    const auto faceClass = optionalOf(session.state().faceClass(id));
    if (live) {
        // the picture belongs to the scope
    } else if (face.looks.empty()) {
        picture_->show({}, nullptr, faceClass,
                       busy > 0
                           ? tr("Judging the picture …")
                           : tr("Not seen yet.\n\nP takes a picture. You can also drop a file here, or let the scope save into the watched folder."));
    } else {
        const Look& last = face.looks.back();
        const auto& m = last.seen.measured;
        const auto& frames = last.seen.frames;
        const QString from = frames ? tr("%1 frames combined").arg(frames->used) : QString::fromStdString(last.seen.pictureName);
        QString words = busy > 0 ? tr("judging the next picture …") : tr("frozen · %1").arg(from);
        if (m.claddingDiameter > Pixel(0))
            words += tr(" · sharp %1 · %2 µm/px from the cladding").arg(m.focus, 0, 'f', 2).arg(m.scale.micrometresPerPixel(), 0, 'f', 3);
        if (m.core) {
            const auto core = name(*m.core);
            words += (m.coreInferred ? tr(" · no multimode core shows, so %1") : tr(" · core %1"))
                         .arg(QString::fromUtf8(core.data(), static_cast<qsizetype>(core.size())));
        }
        if (const auto seen = face::ferruleSeenWords(m); !seen.empty()) words += QStringLiteral(" · ") + QString::fromStdString(seen);
        picture_->show(session.evidence().picture(last.seen.picture), &last, faceClass, words);
    }
    showFerrule(session);
    showLooks(session, face, faceClass);
    showUnrolled(session, face, faceClass);
}

QString LookView::expectedWords(const JobState& state, const Look& look)
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
    return QStringLiteral("    ") +
           QString::fromStdString(expectedLossWords(loss, Nanometre(double(wavelength)), mayBeHeldApart(state.face(look.seen.face))));
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

void LookView::showUnrolled(JobSession& session, const FaceState& face, const std::optional<FaceClass>& faceClass)
{
    if (!unrolled_) return;
    const Look *last = face.lastJudged(), *before = face.judgedBefore();
    unrolled_->setVisible(wantsUnrolled_ && last);
    if (!wantsUnrolled_ || !last) return;
    unrolled_->show(session.evidence().picture(last->seen.picture), *last, before ? session.evidence().picture(before->seen.picture) : QImage(),
                    before, faceClass);
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
        if (const Look* look = session.state().face(id).lastJudged(); look && look->seen.measured.guide != face::Guide::NotSeen) {
            words += look->seen.measured.guide == face::Guide::Pin ? tr(" Guide pins seen.") : tr(" Guide holes seen, no pins.");
            break;
        }
    ferrule_->show(session.state(), face_, words, [&](const std::string& sha) { return session.evidence().picture(sha); });
}

void LookView::showLooks(JobSession& session, const FaceState& face, const std::optional<FaceClass>& faceClass)
{
    while (QLayoutItem* item = looksLayout_->takeAt(0)) {
        delete item->widget();
        delete item;
    }
    const bool any = !wantsUnrolled_ && !(ferrule_ && ferrule_->isVisibleTo(this)) &&
                     (face.looks.size() > 1 || !face.cleanedSince.empty());  // the unrolled view shows before and after itself
    looksTitle_->setVisible(any);
    looks_->setVisible(any);
    if (!any) return;
    const std::size_t first = face.looks.size() > mostLooksShown ? face.looks.size() - mostLooksShown : 0;
    const auto cleanedLabel = [&](const std::vector<FaceCleaned>& cleaned) {
        QStringList lines;
        for (const auto& c : cleaned)
            lines << QStringLiteral("%1, %2").arg(QString::fromStdString(methodWords(c.method)),
                                                  c.strokes == 1 ? tr("1 stroke") : tr("%1 strokes").arg(c.strokes));
        auto* label = new QLabel(lines.join(QLatin1Char('\n')) + QStringLiteral("\n→"), looks_);
        label->setAlignment(Qt::AlignCenter);
        label->setWordWrap(true);
        label->setFixedWidth(em(3.4));
        tint(label, QPalette::WindowText, theme().soft);
        looksLayout_->addWidget(label);
    };
    for (std::size_t i = first; i < face.looks.size(); ++i) {
        const Look& look = face.looks[i];
        if (i > first && !look.cleanedBefore.empty()) cleanedLabel(look.cleanedBefore);
        auto* box = new QWidget(looks_);
        auto* column = new QVBoxLayout(box);
        column->setContentsMargins(0, 0, 0, 0);
        auto* thumb = new FacePicture(box);
        thumb->setObjectName(QStringLiteral("look%1").arg(i + 1));
        thumb->setMinimumSize(em(4.4), em(4.4));
        thumb->setFixedSize(em(4.4), em(4.4));
        thumb->setAcceptDrops(false);
        thumb->show(session.evidence().picture(look.seen.picture), &look, faceClass, QString());
        column->addWidget(thumb);
        const QString verdict = !look.verdict ? tr("take again") : look.verdict->fit ? tr("pass") : tr("fail");
        const QString inGlass = faceClass ? tr("\nglass: %1").arg(face::countInGlass(look.seen.measured, *faceClass)) : QString();
        auto* words = new QLabel(tr("%1: %2%3").arg(i + 1).arg(verdict, inGlass), box);
        words->setAlignment(Qt::AlignCenter);
        column->addWidget(words);
        looksLayout_->addWidget(box);
    }
    if (!face.cleanedSince.empty()) cleanedLabel(face.cleanedSince);
    looksLayout_->addStretch();
}

}  // namespace clendo
