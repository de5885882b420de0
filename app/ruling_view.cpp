#include "app/ruling_view.h"

#include <QHBoxLayout>
#include <QPainter>
#include <QScrollArea>
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
        case ActionKind::CleanSleeve: return QStringLiteral("A");
        case ActionKind::Mate: return QStringLiteral("M");
        case ActionKind::NextStep: return QStringLiteral("N");
        case ActionKind::SetReference: return QStringLiteral("R");
        case ActionKind::ReadPower: return QStringLiteral("T");
        case ActionKind::ProveFibre: return QStringLiteral("F");
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
      headline_(new TextBlock(this)),
      sentence_(new TextBlock(this)),
      rowsTitle_(new TextBlock(this)),
      scroll_(new QScrollArea(this)),
      rows_(new RuleTable(scroll_)),
      help_(new TextBlock(this))
{
    setObjectName(QStringLiteral("ruling"));
    setFixedWidth(em(19));
    setAutoFillBackground(true);
    setBackgroundRole(QPalette::Base);
    headline_->setObjectName(QStringLiteral("rulingHeadline"));
    sentence_->setObjectName(QStringLiteral("rulingSentence"));
    help_->setObjectName(QStringLiteral("rulingHelp"));
    rows_->setObjectName(QStringLiteral("rulingRows"));
    rowsTitle_->setText(tr("How it was judged"), true);
    scroll_->setWidget(rows_);
    scroll_->setWidgetResizable(true);
    scroll_->setFrameShape(QFrame::NoFrame);
    scroll_->setFocusPolicy(Qt::NoFocus);
    scroll_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll_->viewport()->setBackgroundRole(QPalette::Base);
    auto* head = new QHBoxLayout;
    head->addWidget(mark_, 0, Qt::AlignTop);
    head->addWidget(headline_, 1);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(14, 12, 14, 12);
    layout->addLayout(head);
    layout->addWidget(sentence_);
    layout->addWidget(rowsTitle_);
    layout->addWidget(scroll_, 1);
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
    mark_->tone = ruling.tone;
    mark_->update();
    QFont large = font();
    large.setPointSizeF(font().pointSizeF() * 1.45);
    headline_->setFont(large);
    headline_->setText(QString::fromStdString(ruling.headline), true, t.of(ruling.tone));
    sentence_->setText(QString::fromStdString(ruling.sentence));
    QStringList help;
    for (const auto& line : ruling.help) help << QString::fromStdString(line);
    help_->setText(help.join(QLatin1Char('\n')), false, t.soft);
    rows_->setRows(ruling.rows);
    scroll_->setVisible(!ruling.rows.empty());
    rowsTitle_->setVisible(!ruling.rows.empty());
    for (std::size_t i = 0; i < buttons_.size(); ++i) {
        const bool used = i < ruling.actions.size();
        buttons_[i]->setVisible(used);
        if (!used) continue;
        const QString key = keyOf(ruling.actions[i].kind) + (i == 0 ? tr(" or Enter") : QString());
        buttons_[i]->setText(QStringLiteral("%1   (%2)").arg(QString::fromStdString(ruling.actions[i].text), key));
    }
}

}  // namespace clendo
