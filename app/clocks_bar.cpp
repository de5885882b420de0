#include "app/clocks_bar.h"

#include <QHBoxLayout>

#include "app/theme.h"

namespace clendo {
namespace {

constexpr int sentenceStaysMs = 12000;

QString ageText(std::int64_t seconds)
{
    if (seconds < 90 * 60) return QObject::tr("%1 min").arg(std::max<std::int64_t>(0, seconds / 60));
    if (seconds < 48 * 3600) return QObject::tr("%1 h").arg(seconds / 3600);
    return QObject::tr("%1 days").arg(seconds / 86400);
}

}  // namespace

ClocksBar::ClocksBar(QWidget* parent) : QFrame(parent), clocks_(new QLabel(this)), said_(new QLabel(this))
{
    setObjectName(QStringLiteral("clocks"));
    setAutoFillBackground(true);
    setBackgroundRole(QPalette::AlternateBase);
    said_->setObjectName(QStringLiteral("said"));
    said_->setWordWrap(true);
    said_->setTextFormat(Qt::PlainText);
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(14, 6, 14, 6);
    layout->addWidget(clocks_);
    layout->addWidget(said_, 1);
    setMinimumHeight(em(2.6));
    fade_.setSingleShot(true);
    connect(&fade_, &QTimer::timeout, said_, &QLabel::clear);
}

void ClocksBar::show(const std::vector<Entry>& entries, const JobState& state, std::int64_t now)
{
    std::int64_t reference = 0;
    for (const auto& entry : entries)
        if (std::holds_alternative<ReferenceSet>(entry.fact)) reference = entry.at;
    int open = 0;
    std::int64_t oldest = now;
    for (const auto& [id, face] : state.faces)
        if (face.condition == FaceCondition::Fit && !face.mated) {
            ++open;
            oldest = std::min(oldest, face.lastJudged()->at);
        }
    const QString soft = theme().soft.name();
    QString text = tr("<span style='color:%1'>Reference</span> <b>%2</b>")
                       .arg(soft, state.references.empty() ? tr("none") : tr("%1 old").arg(ageText(now - reference)));
    text += tr(" &nbsp; <span style='color:%1'>Fit and open</span> <b>%2</b>")
                .arg(soft, open == 0 ? tr("none") : tr("%1, longest %2").arg(open).arg(ageText(now - oldest)));
    clocks_->setText(text);
}

void ClocksBar::say(const QString& sentence, bool trouble)
{
    said_->setStyleSheet(QStringLiteral("color:%1;font-weight:bold").arg((trouble ? theme().damaged : theme().fit).name()));
    said_->setText(sentence);
    if (trouble)
        fade_.stop();
    else
        fade_.start(sentenceStaysMs);
}

}  // namespace clendo
