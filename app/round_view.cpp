#include "app/round_view.h"

#include <QHBoxLayout>
#include <QPainter>
#include <QVBoxLayout>
#include <map>
#include <tuple>

#include "app/theme.h"

namespace clendo {
namespace {

QIcon faceIcon(FaceCondition condition)
{
    static std::map<std::tuple<FaceCondition, int, bool>, QIcon> known;
    QIcon& icon = known[{condition, em(1.1), theme().dark}];
    if (!icon.isNull()) return icon;
    const int side = em(1.1);
    QPixmap pixmap(side * 2, side * 2);
    pixmap.setDevicePixelRatio(2);
    pixmap.fill(Qt::transparent);
    QPainter p(&pixmap);
    paintFace(p, {side * 0.72, side / 2.0}, side * 0.4, true, condition);
    return icon = QIcon(pixmap);
}

}  // namespace

RoundView::RoundView(QWidget* parent) : QFrame(parent), progress_(new QLabel(this)), card_(new QLabel(this)), list_(new QListWidget(this))
{
    setObjectName(QStringLiteral("round"));
    setAutoFillBackground(true);
    setBackgroundRole(QPalette::AlternateBase);
    auto* title = new QLabel(tr("<b>The round</b>"), this);
    auto* head = new QHBoxLayout;
    head->addWidget(title);
    head->addStretch();
    head->addWidget(progress_);
    progress_->setObjectName(QStringLiteral("roundProgress"));
    card_->setObjectName(QStringLiteral("nextStep"));
    card_->setWordWrap(true);
    card_->setTextFormat(Qt::RichText);
    card_->setMinimumHeight(em(4.6));
    list_->setObjectName(QStringLiteral("roundList"));
    list_->setFocusPolicy(Qt::ClickFocus);
    list_->setFrameShape(QFrame::NoFrame);
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    list_->setTextElideMode(Qt::ElideRight);
    list_->setUniformItemSizes(true);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(12, 10, 10, 8);
    layout->addLayout(head);
    layout->addWidget(card_);
    layout->addWidget(list_, 1);
    setFixedWidth(em(16));
    connect(list_, &QListWidget::itemActivated, this, [this](QListWidgetItem* item) {
        const int index = item->data(Qt::UserRole).toInt();
        if (index >= 0 && static_cast<std::size_t>(index) < steps_.size()) emit stepChosen(steps_[static_cast<std::size_t>(index)]);
    });
    connect(list_, &QListWidget::itemClicked, list_, &QListWidget::itemActivated);
}

void RoundView::show(const Round& round, const JobState& state, const QString& chosenLink)
{
    const Theme& t = theme();
    steps_ = round.left;
    progress_->setText(tr("%1 of %2 done").arg(round.done).arg(round.all));
    restyle(list_, QStringLiteral("QListWidget{background:%1} QListWidget::item{padding:3px 2px}").arg(t.panel.name()));
    restyle(card_, QStringLiteral("QLabel{background:%1;border:2px solid %2;border-radius:6px;padding:8px}").arg(t.card.name(), t.fit.name()));
    if (round.left.empty())
        card_->setText(round.all == 0 ? tr("Nothing planned yet.") : tr("<b>All done.</b><br>Write the certificate: 4, then W."));
    else {
        const Step& next = round.left.front();
        card_->setText(tr("<span style='color:%1'>Next, at %2</span><br><b>%3</b><br>%4<br><span style='color:%1'>take: %5</span>")
                           .arg(t.soft.name(), QString::fromStdString(next.place).toHtmlEscaped(), QString::fromStdString(next.title).toHtmlEscaped(),
                                QString::fromStdString(next.where).toHtmlEscaped(),
                                QString::fromStdString(next.carry.empty() ? "nothing" : next.carry).toHtmlEscaped()));
    }
    list_->clear();
    std::string place;
    QListWidgetItem* mine = nullptr;
    for (std::size_t i = 0; i < steps_.size(); ++i) {
        const Step& step = steps_[i];
        if (step.place != place) {
            place = step.place;
            auto* heading = new QListWidgetItem(QString::fromStdString(place), list_);
            QFont bold = list_->font();
            bold.setBold(true);
            heading->setFont(bold);
            heading->setFlags(Qt::NoItemFlags);
            heading->setForeground(t.ink);
            heading->setData(Qt::UserRole, -1);
        }
        const bool isFace = step.kind == StepKind::Look || step.kind == StepKind::Clean;
        auto* item =
            new QListWidgetItem(isFace ? QString::fromStdString(step.where) : QStringLiteral("      ") + QString::fromStdString(step.title), list_);
        item->setToolTip(QString::fromStdString(step.title + ", " + step.where));
        if (isFace) item->setIcon(faceIcon(state.face(step.face).condition));
        item->setData(Qt::UserRole, static_cast<int>(i));
        if (QString::fromStdString(step.link) == chosenLink) {
            item->setBackground(t.chosen);
            if (!mine) mine = item;
        }
    }
    if (mine) list_->scrollToItem(mine, QAbstractItemView::PositionAtCenter);
}

}  // namespace clendo
