#include "app/sign/check_dialog.h"

#include <QHeaderView>
#include <QLabel>
#include <QTableWidget>
#include <QVBoxLayout>

#include "app/widgets/dialog_buttons.h"
#include "app/widgets/theme.h"
#include "record/journal/time_text.h"

namespace clendo {
namespace {

QString words(const std::string& text) { return QString::fromStdString(text); }

/// A table of two columns that is only read.
QTableWidget* tableOf(QWidget* parent, const char* name, const QStringList& heads, const std::vector<std::array<QString, 2>>& rows)
{
    auto* table = new QTableWidget(static_cast<int>(rows.size()), 2, parent);
    table->setObjectName(QString::fromLatin1(name));
    table->setHorizontalHeaderLabels(heads);
    table->verticalHeader()->hide();
    table->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table->setSelectionMode(QAbstractItemView::NoSelection);
    table->setFocusPolicy(Qt::NoFocus);
    table->setShowGrid(false);
    table->setWordWrap(true);
    table->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Interactive);
    table->horizontalHeader()->setSectionResizeMode(1, QHeaderView::Stretch);
    for (int r = 0; r < table->rowCount(); ++r)
        for (int c = 0; c < 2; ++c) table->setItem(r, c, new QTableWidgetItem(rows[static_cast<std::size_t>(r)][static_cast<std::size_t>(c)]));
    table->setColumnWidth(0, em(9));
    table->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    table->verticalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);  // as wide as the dialog comes to be
    return table;
}

}  // namespace

CheckDialog::CheckDialog(const QString& folder, const seal::FolderCheck& check, QWidget* parent) : QDialog(parent)
{
    setObjectName(QStringLiteral("checkDialog"));
    setWindowTitle(tr("Was this certificate changed?"));
    auto* layout = new QVBoxLayout(this);
    const auto label = [&](const QString& text, const QColor& tone, double size = 1, const char* name = "") {
        auto* out = new QLabel(text, this);
        out->setTextFormat(Qt::PlainText);
        out->setWordWrap(true);
        out->setObjectName(QString::fromLatin1(name));
        QFont font = out->font();
        font.setPointSizeF(font.pointSizeF() * size);
        font.setBold(size > 1);
        out->setFont(font);
        tint(out, QPalette::WindowText, tone);
        layout->addWidget(out);
    };
    const bool sure = check.ok() && check.standing == seal::Standing::Known;
    label(words(check.sentence()), check.ok() ? sure ? theme().fit : theme().work : theme().damaged, 1.25, "checkSentence");
    QString of = folder;
    if (check.seal)
        of = tr("%1 of %2, written %3 by its writer’s clock; %4 files, %5 of them pictures and traces. %6")
                 .arg(words(check.subject), words(check.job), words(timeText(check.seal->statement.writtenAt)))
                 .arg(check.seal->statement.files.size())
                 .arg(check.evidence)
                 .arg(folder);
    label(of, theme().ink);
    std::vector<std::array<QString, 2>> wrong, signOffs;
    for (const auto& w : check.wrong) wrong.push_back({words(w.what), words(w.message)});
    if (!wrong.empty()) layout->addWidget(tableOf(this, "checkWrong", {tr("What"), tr("What is wrong")}, wrong));
    for (const auto& s : check.signOffs)
        signOffs.push_back({words(s.subject), s.state == "stands"
                                                  ? tr("signed off by %1, %2: that stood when it was written").arg(words(s.by), words(s.at))
                                                  : tr("signed off by %1, %2: overtaken").arg(words(s.by), words(s.at))});
    if (!signOffs.empty()) layout->addWidget(tableOf(this, "checkSignOffs", {tr("Fibre or cable"), tr("What a person said of it")}, signOffs));
    if (!check.beside.empty()) {
        QStringList beside;
        for (const auto& path : check.beside) beside << words(path);
        label(tr("In the folder, and no part of the certificate: %1").arg(beside.join(QStringLiteral(", ")).left(400)), theme().soft);
    }
    label(
        tr("A signature that holds shows that the files are as they were when that key signed them. It does not show that what was measured is true, "
           "nor "
           "when it was written, nor whose key it is: that is known only of a key whose sixteen digits somebody compared with its holder (Ctrl+K)."),
        theme().soft);
    layout->addWidget(acceptOrBack(*this, tr("Done (Enter)")).row);
    setMinimumWidth(em(44));
}

}  // namespace clendo
