#include "app/frame/advice_view.h"

#include <QHBoxLayout>
#include <QPainter>
#include <QScrollArea>
#include <QVBoxLayout>

#include "app/widgets/theme.h"

namespace clendo {

class AdviceView::ToneMark : public QWidget {
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

AdviceView::AdviceView(const CommandTable& commands, QWidget* parent)
    : QFrame(parent),
      mark_(new ToneMark(this)),
      headline_(new TextBlock(this)),
      sentence_(new TextBlock(this)),
      rowsTitle_(new TextBlock(this)),
      scroll_(new QScrollArea(this)),
      rows_(new RuleTable(scroll_)),
      help_(new TextBlock(this)),
      commands_(commands)
{
    setObjectName(QStringLiteral("advice"));
    setFixedWidth(em(19));
    setAutoFillBackground(true);
    setBackgroundRole(QPalette::Base);
    headline_->setObjectName(QStringLiteral("adviceHeadline"));
    sentence_->setObjectName(QStringLiteral("adviceSentence"));
    help_->setObjectName(QStringLiteral("adviceHelp"));
    rows_->setObjectName(QStringLiteral("adviceRows"));
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
            if (i < advice_.actions.size()) emit wanted(advice_.actions[i].command);
        });
    }
}

void AdviceView::show(const Advice& advice)
{
    advice_ = advice;
    const Theme& t = theme();
    mark_->tone = advice.tone;
    mark_->update();
    QFont large = font();
    large.setPointSizeF(font().pointSizeF() * 1.45);
    headline_->setFont(large);
    headline_->setText(QString::fromStdString(advice.headline), true, t.of(advice.tone));
    sentence_->setText(QString::fromStdString(advice.sentence));
    QStringList help;
    for (const auto& line : advice.help) help << QString::fromStdString(line);
    help_->setText(help.join(QLatin1Char('\n')), false, t.soft);
    rows_->setRows(advice.rows);
    scroll_->setVisible(!advice.rows.empty());
    rowsTitle_->setVisible(!advice.rows.empty());
    for (std::size_t i = 0; i < buttons_.size(); ++i) {
        const bool used = i < advice.actions.size();
        buttons_[i]->setVisible(used);
        if (!used) continue;
        const Command* command = commands_.find(advice.actions[i].command);
        const QString key = (command ? command->key() : QString()) + (i == 0 ? tr(" or Enter") : QString());
        buttons_[i]->setText(QStringLiteral("%1   (%2)").arg(QString::fromStdString(advice.actions[i].text), key));
    }
}

}  // namespace clendo
