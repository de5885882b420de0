#include "app/frame/clocks_bar.h"

#include <QHBoxLayout>

#include "app/widgets/theme.h"

namespace clendo {
namespace {

constexpr int sentenceStaysMs = 12000;

QString ageText(std::int64_t seconds)
{
    constexpr std::int64_t minute = 60, hour = 3600;
    if (seconds < 90 * minute) return QObject::tr("%1 min").arg(std::max<std::int64_t>(0, seconds / 60));
    if (seconds < 48 * hour) return QObject::tr("%1 h").arg(seconds / 3600);
    return QObject::tr("%1 days").arg(seconds / 86400);
}

}  // namespace

ClocksBar::ClocksBar(QWidget* parent) : QFrame(parent), clocks_(new TextBlock(this)), said_(new TextBlock(this))
{
    setObjectName(QStringLiteral("clocks"));
    setAutoFillBackground(true);
    setBackgroundRole(QPalette::AlternateBase);
    said_->setObjectName(QStringLiteral("said"));
    clocks_->setSingleLine();
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(14, 6, 14, 6);
    layout->addWidget(clocks_);
    layout->addSpacing(em(1.5));
    layout->addWidget(said_, 1, Qt::AlignVCenter);
    setMinimumHeight(em(2.6));
    fade_.setSingleShot(true);
    connect(&fade_, &QTimer::timeout, said_, [this] { said_->setText({}); });
}

void ClocksBar::show(const JobState& state, std::int64_t now)
{
    // the oldest of those that a reading would rest on
    std::optional<std::int64_t> reference;
    for (const auto& cable : state.plan->cables)
        for (const int nm : state.plan->wavelengthsFor(cable))
            for (const Direction d : state.plan->lossDirections())
                if (const auto* set = state.reference(d, Nanometre(nm))) reference = std::min(reference.value_or(set->at), set->at);
    int open = 0;
    std::int64_t oldest = now;
    for (const auto& [id, face] : state.faces)
        if (face.condition == FaceCondition::Fit && !face.mated && face.covered.empty()) {
            ++open;
            oldest = std::min(oldest, face.lastJudged()->at);
        }
    const QColor soft = theme().soft;
    clocks_->setParagraphs({{{tr("Reference "), false, soft},
                             {reference ? tr("%1 old").arg(ageText(now - *reference)) : tr("none"), true},
                             {tr("    Fit and open "), false, soft},
                             {open == 0 ? tr("none") : tr("%1, longest %2").arg(open).arg(ageText(now - oldest)), true}}});
}

void ClocksBar::say(const QString& sentence, bool trouble)
{
    said_->setText(sentence, true, trouble ? theme().damaged : theme().fit);
    if (trouble)
        fade_.stop();
    else
        fade_.start(sentenceStaysMs);
}

}  // namespace clendo
