#include "app/ruling_view.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QPainter>
#include <QStyle>
#include <QVBoxLayout>

#include "app/theme.h"

namespace clendo {

class RulingView::ToneMark : public QWidget {
public:
    explicit ToneMark(QWidget* parent) : QWidget(parent) { setFixedSize(em(2.4), em(1.9)); }
    Tone tone = Tone::Neutral;

protected:
    void paintEvent(QPaintEvent*) override
    {
        QPainter p(this);
        paintTone(p, QRectF(rect()), tone);
    }
};

QString keyOf(ActionKind kind)
{
    switch (kind) {
        case ActionKind::TakePicture: return QStringLiteral("P");
        case ActionKind::Clean: return QStringLiteral("C");
        case ActionKind::Mate: return QStringLiteral("M");
        case ActionKind::NextStep: return QStringLiteral("N");
        case ActionKind::SetReference: return QStringLiteral("R");
        case ActionKind::ReadPower: return QStringLiteral("T");
        case ActionKind::OpenTrace: return QStringLiteral("O");
        case ActionKind::Sign: return QStringLiteral("S");
        case ActionKind::Certificate: return QStringLiteral("W");
        case ActionKind::Undo: return QStringLiteral("Z");
        case ActionKind::PlanCable: return QStringLiteral("B");
    }
    return {};
}

RulingView::RulingView(QWidget* parent)
    : QFrame(parent),
      mark_(new ToneMark(this)),
      headline_(new QLabel(this)),
      sentence_(new QLabel(this)),
      rowsTitle_(new QLabel(tr("<b>How it was judged</b>"), this)),
      rows_(new QTableWidget(this)),
      help_(new QLabel(this))
{
    setObjectName(QStringLiteral("ruling"));
    setFixedWidth(em(19));
    headline_->setObjectName(QStringLiteral("rulingHeadline"));
    sentence_->setObjectName(QStringLiteral("rulingSentence"));
    help_->setObjectName(QStringLiteral("rulingHelp"));
    rows_->setObjectName(QStringLiteral("rulingRows"));
    for (QLabel* label : {headline_, sentence_, help_}) {
        label->setWordWrap(true);
        label->setTextFormat(Qt::PlainText);
    }
    rows_->setColumnCount(4);
    rows_->setHorizontalHeaderLabels({tr("Zone"), tr("What"), tr("Allowed"), tr("Found")});
    rows_->verticalHeader()->hide();
    rows_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    rows_->setSelectionMode(QAbstractItemView::NoSelection);
    rows_->setFocusPolicy(Qt::NoFocus);
    rows_->setShowGrid(false);
    rows_->horizontalHeader()->setSectionResizeMode(1, QHeaderView::Stretch);
    for (const int column : {0, 2, 3}) rows_->horizontalHeader()->setSectionResizeMode(column, QHeaderView::ResizeToContents);
    rows_->verticalHeader()->setDefaultSectionSize(em(1.45));
    auto* head = new QHBoxLayout;
    head->addWidget(mark_, 0, Qt::AlignTop);
    head->addWidget(headline_, 1);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(14, 12, 14, 12);
    layout->addLayout(head);
    layout->addWidget(sentence_);
    layout->addWidget(rowsTitle_);
    layout->addWidget(rows_, 1);
    layout->addWidget(help_);
    layout->addStretch(0);
    for (std::size_t i = 0; i < buttons_.size(); ++i) {
        auto* button = new QPushButton(this);
        button->setObjectName(QStringLiteral("action%1").arg(i + 1));
        button->setProperty("first", i == 0);
        button->setFocusPolicy(Qt::TabFocus);
        buttons_[i] = button;
        layout->addWidget(button);
        connect(button, &QPushButton::clicked, this, [this, i] {
            if (i < ruling_.actions.size()) emit wanted(ruling_.actions[i].kind);
        });
    }
}

void RulingView::show(const Ruling& ruling)
{
    ruling_ = ruling;
    const Theme& t = theme();
    restyle(this, QStringLiteral("#ruling{background:%1;border-left:1px solid %2}").arg(t.card.name(), t.rule.name()));
    mark_->tone = ruling.tone;
    mark_->update();
    QFont large = font();
    large.setPointSizeF(font().pointSizeF() * 1.45);
    large.setBold(true);
    headline_->setFont(large);
    restyle(headline_, QStringLiteral("color:%1").arg(t.of(ruling.tone).name()));
    headline_->setText(QString::fromStdString(ruling.headline));
    sentence_->setText(QString::fromStdString(ruling.sentence));
    QStringList help;
    for (const auto& line : ruling.help) help << QString::fromStdString(line);
    help_->setText(help.join(QStringLiteral("\n\n")));
    restyle(help_, QStringLiteral("color:%1").arg(t.soft.name()));
    rows_->setRowCount(static_cast<int>(ruling.rows.size()));
    rows_->setVisible(!ruling.rows.empty());
    rowsTitle_->setVisible(!ruling.rows.empty());
    for (int r = 0; r < rows_->rowCount(); ++r) {
        const RulingRow& row = ruling.rows[static_cast<std::size_t>(r)];
        int column = 0;
        for (const auto& text : {row.zone, row.what, row.allowed, row.counted}) {
            auto* item = new QTableWidgetItem(QString::fromStdString(text));
            if (column >= 2) item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
            if (!row.met) {
                QFont bold = rows_->font();
                bold.setBold(true);
                item->setFont(bold);
                item->setForeground(t.damaged);
                item->setBackground(t.panel);
            }
            rows_->setItem(r, column++, item);
        }
    }
    for (std::size_t i = 0; i < buttons_.size(); ++i) {
        const bool used = i < ruling.actions.size();
        buttons_[i]->setVisible(used);
        if (!used) continue;
        const QString key = keyOf(ruling.actions[i].kind) + (i == 0 ? tr(" or Enter") : QString());
        buttons_[i]->setText(QStringLiteral("%1   (%2)").arg(QString::fromStdString(ruling.actions[i].text), key));
    }
}

}  // namespace clendo
