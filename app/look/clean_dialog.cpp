#include "app/look/clean_dialog.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QVBoxLayout>
#include <array>

#include "app/widgets/dialog_buttons.h"
#include "app/widgets/theme.h"
#include "record/advice/cleaning_advice.h"

namespace clendo {
namespace {

constexpr std::array<const char*, 3> methodNames{"dry", "wet-then-dry", "fresh-tool"};

}  // namespace

CleanDialog::CleanDialog(const CleaningAdvice& advice, const QStringList& tools, QWidget* parent, Does does)
    : QDialog(parent), all_(tools), does_(std::move(does)), methods_(new QListWidget(this)), strokes_(new QSpinBox(this)), tools_(new QComboBox(this))
{
    setObjectName(QStringLiteral("cleanDialog"));
    setWindowTitle(tr("What did you do?"));
    auto* words = new QLabel(QString::fromStdString(advice.words), this);
    words->setWordWrap(true);
    int n = 0;
    for (const char* method : methodNames) {
        methods_->addItem(QStringLiteral("%1   %2").arg(++n).arg(QString::fromStdString(methodWords(method))));
        if (advice.method == method) methods_->setCurrentRow(n - 1);
    }
    methods_->setFocusPolicy(Qt::NoFocus);
    methods_->setFixedHeight(em(5.5));
    strokes_->setRange(1, 50);
    strokes_->setFocusPolicy(Qt::NoFocus);
    auto* row = new QHBoxLayout;
    row->addWidget(new QLabel(tr("Strokes (+ and −)"), this));
    row->addWidget(strokes_);
    tools_->setObjectName(QStringLiteral("cleaningTool"));
    offerTools();
    connect(methods_, &QListWidget::currentRowChanged, this, &CleanDialog::offerTools);
    tools_->setFocusPolicy(Qt::NoFocus);
    tools_->setVisible(!tools.isEmpty());
    if (!tools.isEmpty()) row->addWidget(new QLabel(tr("with (W)"), this));
    row->addWidget(tools_);
    row->addStretch();
    auto* buttons = acceptOrBack(*this, tr("File it (Enter)")).row;
    auto* layout = new QVBoxLayout(this);
    layout->addWidget(words);
    layout->addWidget(methods_);
    layout->addLayout(row);
    layout->addWidget(buttons);
    setMinimumWidth(em(24));
}

/// Those of the tools that do the chosen method; the one in hand stays where it can.
void CleanDialog::offerTools()
{
    const QString inHand = tools_->currentText();
    tools_->clear();
    for (const QString& tool : all_)
        if (!does_ || does_(tool, method())) tools_->addItem(tool);
    if (const int same = tools_->findText(inHand); same >= 0) tools_->setCurrentIndex(same);
}

std::string CleanDialog::method() const { return methodNames[static_cast<std::size_t>(std::clamp(methods_->currentRow(), 0, 2))]; }

void CleanDialog::keyPressEvent(QKeyEvent* event)
{
    const int key = event->key();
    if (key >= Qt::Key_1 && key <= Qt::Key_3)
        methods_->setCurrentRow(key - Qt::Key_1);
    else if (key == Qt::Key_Up || key == Qt::Key_Down)
        methods_->setCurrentRow(std::clamp(methods_->currentRow() + (key == Qt::Key_Up ? -1 : 1), 0, 2));
    else if (key == Qt::Key_Plus || key == Qt::Key_Right)
        strokes_->stepUp();
    else if (key == Qt::Key_Minus || key == Qt::Key_Left)
        strokes_->stepDown();
    else if (key == Qt::Key_W && tools_->count() > 0)
        tools_->setCurrentIndex((tools_->currentIndex() + 1) % tools_->count());
    else if (key == Qt::Key_Return || key == Qt::Key_Enter)
        accept();
    else
        QDialog::keyPressEvent(event);
}

}  // namespace clendo
