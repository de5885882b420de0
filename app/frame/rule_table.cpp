#include "app/frame/rule_table.h"

#include <QPainter>
#include <array>

#include "app/widgets/theme.h"

namespace clendo {
namespace {

constexpr std::array<double, 4> widths{2.2, 0, 3.7, 2.8};  // em; the second takes the rest

QString cell(const AdviceRow& row, std::size_t column)
{
    const std::array<const std::string*, 4> cells{&row.zone, &row.what, &row.allowed, &row.counted};
    return QString::fromStdString(*cells[column]);
}

}  // namespace

RuleTable::RuleTable(QWidget* parent) : QWidget(parent) { setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Fixed); }

void RuleTable::setRows(std::vector<AdviceRow> rows)
{
    if (rows.size() != rows_.size()) updateGeometry();
    rows_ = std::move(rows);
    QStringList words;
    for (const auto& r : rows_)
        words << tr("zone %1, %2: allowed %3, found %4%5").arg(cell(r, 0), cell(r, 1), cell(r, 2), cell(r, 3), r.met ? QString() : tr(" (broken)"));
    setAccessibleName(words.join(QStringLiteral("; ")));
    update();
}

QSize RuleTable::sizeHint() const { return {em(16), em(1.45) * static_cast<int>(rows_.size() + 1)}; }

void RuleTable::paintEvent(QPaintEvent*)
{
    const Theme& t = theme();
    QPainter p(this);
    const double high = em(1.45);
    std::array<double, 4> wide{};
    double rest = width();
    for (std::size_t c = 0; c < 4; ++c) rest -= wide[c] = em(widths[c]);
    wide[1] = std::max(0.0, rest);
    const auto line = [&](double y, const auto& text) {
        double x = 0;
        for (std::size_t c = 0; c < 4; ++c) {
            const QRectF box(x + 3, y, wide[c] - 6, high);
            const int align = (c < 2 ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter;
            p.drawText(box, align, p.fontMetrics().elidedText(text(c), Qt::ElideRight, static_cast<int>(box.width())));
            x += wide[c];
        }
    };
    p.fillRect(QRectF(0, 0, width(), high), t.panel);
    p.setPen(t.soft);
    const std::array<QString, 4> heads{tr("Zone"), tr("What"), tr("Allowed"), tr("Found")};
    line(0, [&](std::size_t c) { return heads[c]; });
    const QFont plain = font();
    QFont bold = plain;
    bold.setBold(true);
    double y = 0;
    for (const auto& row : rows_) {
        y += high;
        if (!row.met) p.fillRect(QRectF(0, y, width(), high), t.panel);
        p.setFont(row.met ? plain : bold);
        p.setPen(row.met ? t.ink : t.damaged);
        line(y, [&](std::size_t c) { return cell(row, c); });
    }
}

}  // namespace clendo
