#include "app/frame/round_view.h"

#include <QApplication>
#include <QHBoxLayout>
#include <QIcon>
#include <QPainter>
#include <QVBoxLayout>
#include <map>
#include <tuple>

#include "app/widgets/theme.h"

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

void RoundModel::set(std::vector<Step> steps, const JobState& state, const std::string& chosenLink)
{
    beginResetModel();
    steps_ = std::move(steps);
    chosenLink_ = chosenLink;
    rows_.clear();
    for (std::size_t i = 0; i < steps_.size(); ++i) {
        const Step& step = steps_[i];
        if (i == 0 || step.place != steps_[i - 1].place) rows_.push_back({i, true, FaceCondition::NotSeen});
        rows_.push_back({i, false, state.face(step.face).condition});
    }
    endResetModel();
}

const Step* RoundModel::stepAt(const QModelIndex& index) const
{
    if (!index.isValid() || static_cast<std::size_t>(index.row()) >= rows_.size()) return nullptr;
    const Row& row = rows_[static_cast<std::size_t>(index.row())];
    return row.heading ? nullptr : &steps_[row.step];
}

QModelIndex RoundModel::firstOfChosen() const
{
    for (std::size_t i = 0; i < rows_.size(); ++i)
        if (!rows_[i].heading && steps_[rows_[i].step].link == chosenLink_) return index(static_cast<int>(i));
    return {};
}

int RoundModel::rowCount(const QModelIndex& parent) const { return parent.isValid() ? 0 : static_cast<int>(rows_.size()); }

QVariant RoundModel::data(const QModelIndex& index, int role) const
{
    if (static_cast<std::size_t>(index.row()) >= rows_.size()) return {};
    const Row& row = rows_[static_cast<std::size_t>(index.row())];
    const Step& step = steps_[row.step];
    const bool isFace = step.kind == StepKind::Look || step.kind == StepKind::Clean;
    switch (role) {
        case Qt::DisplayRole:
            if (row.heading) return QString::fromStdString(step.place);
            return isFace ? QString::fromStdString(step.where) : QStringLiteral("      ") + QString::fromStdString(step.title);
        case Qt::ToolTipRole: return row.heading ? QVariant() : QString::fromStdString(step.title + ", " + step.where);
        case Qt::DecorationRole: return !row.heading && isFace ? faceIcon(row.condition) : QVariant();
        case Qt::BackgroundRole: return !row.heading && step.link == chosenLink_ ? QVariant(theme().chosen) : QVariant();
        case Qt::ForegroundRole: return theme().ink;
        case Qt::SizeHintRole: return QSize(em(12), em(1.55));
        case Qt::FontRole: {
            if (!row.heading) return {};
            QFont bold = QApplication::font();
            bold.setBold(true);
            return bold;
        }
        default: return {};
    }
}

Qt::ItemFlags RoundModel::flags(const QModelIndex& index) const { return stepAt(index) ? Qt::ItemIsEnabled | Qt::ItemIsSelectable : Qt::NoItemFlags; }

RoundView::RoundView(QWidget* parent)
    : QFrame(parent),
      title_(new TextBlock(this)),
      progress_(new TextBlock(this)),
      card_(new TextBlock(this)),
      list_(new QListView(this)),
      model_(new RoundModel(this))
{
    setObjectName(QStringLiteral("round"));
    setAutoFillBackground(true);
    setBackgroundRole(QPalette::AlternateBase);
    title_->setObjectName(QStringLiteral("roundTitle"));
    title_->setSingleLine();
    progress_->setObjectName(QStringLiteral("roundProgress"));
    progress_->setSingleLine();
    auto* head = new QHBoxLayout;
    head->addWidget(title_);
    head->addStretch();
    head->addWidget(progress_);
    card_->setObjectName(QStringLiteral("nextStep"));
    list_->setObjectName(QStringLiteral("roundList"));
    list_->setModel(model_);
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
    const auto chosen = [this](const QModelIndex& index) {
        if (const Step* step = model_->stepAt(index)) emit stepChosen(Step(*step));  // the model may be set anew meanwhile
    };
    connect(list_, &QListView::activated, this, chosen);
    connect(list_, &QListView::clicked, this, chosen);
}

void RoundView::show(const Round& round, const JobState& state, const QString& chosenLink, const QString& place)
{
    const Theme& t = theme();
    title_->setText(place.isEmpty() ? tr("The round") : place, true);
    progress_->setText(tr("%1 of %2 done").arg(round.done).arg(round.all));
    tint(list_, QPalette::Base, t.panel);
    card_->setCard(t.fit);
    if (round.left.empty())
        card_->setParagraphs(round.all == 0 ? std::vector<Paragraph>{{{tr("Nothing planned yet.")}}}
                                            : std::vector<Paragraph>{{{tr("All done."), true}}, {{tr("Write the certificate: 4, then W.")}}});
    else {
        const Step& next = round.left.front();
        QStringList carried;
        for (const auto& thing : next.carry) carried << QString::fromStdString(thing);
        card_->setParagraphs({{{tr("Next, at %1").arg(QString::fromStdString(next.place)), false, t.soft}},
                              {{QString::fromStdString(next.title), true}},
                              {{QString::fromStdString(next.where)}},
                              {{tr("take: %1").arg(carried.isEmpty() ? tr("nothing") : carried.join(QStringLiteral(", "))) +
                                    (next.advice.empty() ? QString() : QStringLiteral("; ") + QString::fromStdString(next.advice)),
                                false, t.soft}}});
    }
    model_->set(round.left, state, chosenLink.toStdString());
    if (const QModelIndex mine = model_->firstOfChosen(); mine.isValid()) list_->scrollTo(mine, QAbstractItemView::PositionAtCenter);
}

}  // namespace clendo
