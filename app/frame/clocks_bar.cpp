#include "app/frame/clocks_bar.h"

#include <QHBoxLayout>

#include "app/widgets/theme.h"
#include "record/advice/clocks.h"

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
    const Clocks clocks = clocksOf(state);
    const QColor soft = theme().soft;
    clocks_->setParagraphs({{{tr("Reference "), false, soft},
                             {clocks.reference ? tr("%1 old").arg(ageText(now - *clocks.reference)) : tr("none"), true},
                             {tr("    Fit and open "), false, soft},
                             {clocks.open == 0 ? tr("none") : tr("%1, longest %2").arg(clocks.open).arg(ageText(now - clocks.oldest)), true}}});
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
