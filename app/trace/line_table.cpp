#include "app/trace/line_table.h"

#include <QHeaderView>

#include "app/widgets/theme.h"
#include "record/rules/plan_match.h"

namespace clendo {
namespace {

QString number(const std::optional<Decibel>& value, int digits = 2)
{
    return value ? QString::number(value->value(), 'f', digits) : QStringLiteral("–");
}
QString metres(const std::optional<Metre>& value) { return value ? QString::number(value->value(), 'f', 0) : QStringLiteral("–"); }

}  // namespace

LineTable::LineTable(QWidget* parent) : QTableWidget(parent)
{
    setObjectName(QStringLiteral("pieces"));
    setColumnCount(7);
    setHorizontalHeaderLabels(
        {tr("The line"), tr("Plan, m from A"), tr("Found"), tr("Loss, dB"), tr("Allowed, dB"), tr("Reflectance, dB"), tr("Both ways, dB")});
    verticalHeader()->hide();
    setEditTriggers(QAbstractItemView::NoEditTriggers);
    setSelectionMode(QAbstractItemView::NoSelection);
    setFocusPolicy(Qt::NoFocus);
    setShowGrid(false);
    horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    verticalHeader()->setDefaultSectionSize(em(1.6));
}

void LineTable::show(const JobState& state, const Link& link, const TraceShot& shot)
{
    const auto rows = matchPlan(state, link, shot);
    setRowCount(static_cast<int>(rows.size()));
    for (int r = 0; r < rowCount(); ++r) {
        const LineRow& row = rows[static_cast<std::size_t>(r)];
        int column = 0;
        for (const QString& text :
             {QString::fromStdString(row.name), metres(row.planned), row.planned && !row.found ? tr("not seen") : metres(row.found), number(row.loss),
              number(row.limit), number(row.reflectance, 1), number(row.bothWays)}) {
            auto* item = new QTableWidgetItem(text);
            if (column > 0) item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
            constexpr int reflectanceColumn = 5;
            if (row.overLimit() || !row.planned || (column == reflectanceColumn && row.reflectsTooMuch())) {
                item->setForeground(theme().work);
                QFont bold = font();
                bold.setBold(true);
                item->setFont(bold);
            }
            if (column == reflectanceColumn && row.reflectanceLimit)
                item->setToolTip(tr("at most %1 dB").arg(row.reflectanceLimit->value(), 0, 'f', 0));
            setItem(r, column++, item);
        }
    }
}

}  // namespace clendo
