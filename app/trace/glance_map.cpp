#include "app/trace/glance_map.h"

#include <QHelpEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>
#include <algorithm>
#include <array>
#include <cmath>

#include "app/widgets/theme.h"

namespace clendo {
namespace {

constexpr float fullColour = 1.0F;  // dB

/// From blue (loses less) over the ground to orange (loses more): told apart with any colour sight.
QRgb colourOf(float more)
{
    struct Table {
        std::array<QRgb, 257> colours{};
        bool dark = false, made = false;
    };
    static Table table;
    if (!table.made || table.dark != theme().dark) {
        const QColor ground = theme().card, less(0x2B, 0x6C, 0xB5), lots(0xD9, 0x5F, 0x02);
        for (int i = 0; i <= 256; ++i) {
            const double share = std::abs(i - 128) / 128.0;
            const QColor& end = i < 128 ? less : lots;
            const auto mix = [&](int a, int b) { return static_cast<int>(std::lround(a + (b - a) * std::sqrt(share))); };
            table.colours[static_cast<std::size_t>(i)] =
                qRgb(mix(ground.red(), end.red()), mix(ground.green(), end.green()), mix(ground.blue(), end.blue()));
        }
        table.made = true;
        table.dark = theme().dark;
    }
    const float at = std::clamp(more / fullColour, -1.0F, 1.0F) * 128 + 128;
    return table.colours[static_cast<std::size_t>(at)];
}

double niceStep(double wide)
{
    const double step = std::pow(10, std::floor(std::log10(std::max(1e-9, wide / 6))));
    for (const double times : {1.0, 2.0, 5.0, 10.0})
        if (wide / (step * times) <= 8) return step * times;
    return step * 10;
}

}  // namespace

GlanceMap::GlanceMap(QWidget* parent) : QWidget(parent)
{
    setObjectName(QStringLiteral("glanceMap"));
    setAccessibleName(tr("The fibres of the cable, and what each one lost that most others did not"));
    setMinimumHeight(em(14));
}

QSize GlanceMap::sizeHint() const { return {em(50), em(26)}; }

void GlanceMap::show(std::vector<Row> rows, std::vector<Joint> joints, SeenRange whole)
{
    rows_ = std::move(rows);
    joints_ = std::move(joints);
    if (whole != whole_) seen_.reset();
    whole_ = whole;
    update();
}

std::vector<float> GlanceMap::map(SeenRange range, std::size_t columns) const
{
    std::vector<const otdr::LevelRow*> levels;
    for (const Row& row : rows_)
        if (row.levels) levels.push_back(row.levels);
    const auto shown = otdr::differenceMap(levels, Metre(range.first), Metre(range.second), columns);
    std::vector<float> out(rows_.size() * columns, std::nanf(""));
    std::size_t next = 0;
    for (std::size_t r = 0; r < rows_.size(); ++r)
        if (rows_[r].levels) {
            std::copy_n(shown.begin() + static_cast<std::ptrdiff_t>(next * columns), columns, out.begin() + static_cast<std::ptrdiff_t>(r * columns));
            ++next;
        }
    return out;
}

QRectF GlanceMap::field() const { return QRectF(rect()).adjusted(em(3.6), em(1.6), -em(0.8), -em(5.4)); }

std::optional<std::size_t> GlanceMap::rowAt(QPointF at) const
{
    const QRectF f = field();
    if (rows_.empty() || !QRectF(0, f.top(), width(), f.height()).contains(at)) return std::nullopt;
    return std::min(rows_.size() - 1, static_cast<std::size_t>((at.y() - f.top()) / f.height() * double(rows_.size())));
}

double GlanceMap::placeOf(double x) const
{
    const QRectF f = field();
    const auto [from, to] = seen();
    return from + (to - from) * (x - f.left()) / std::max(1.0, f.width());
}

void GlanceMap::paintRows(QPainter& p)
{
    const QRectF f = field();
    // two pixels a column: as fine as an eye sees, at half the cost
    const auto columns = static_cast<std::size_t>(std::max(1.0, f.width() / 2));
    const auto values = map(seen(), columns);
    QImage image(static_cast<int>(columns), static_cast<int>(std::max<std::size_t>(1, rows_.size())), QImage::Format_RGB32);
    const QRgb unknown = theme().rule.rgb();
    for (std::size_t r = 0; r < rows_.size(); ++r) {
        auto* line =
            reinterpret_cast<QRgb*>(image.scanLine(static_cast<int>(r)));  // NOLINT(cppcoreguidelines-pro-type-reinterpret-cast): as Qt has it
        const float* row = values.data() + r * columns;
        for (std::size_t c = 0; c < columns; ++c) line[c] = std::isnan(row[c]) ? unknown : colourOf(row[c]);
    }
    p.drawImage(f, image);
    const double tall = f.height() / double(std::max<std::size_t>(1, rows_.size()));
    for (std::size_t r = 0; r < rows_.size(); ++r) {
        if (rows_[r].levels) continue;
        p.fillRect(QRectF(f.left(), f.top() + double(r) * tall, f.width(), tall), QBrush(theme().soft, Qt::BDiagPattern));
    }
}

void GlanceMap::paintScale(QPainter& p) const
{
    const QRectF f = field();
    const double tall = f.height() / double(std::max<std::size_t>(1, rows_.size()));
    QFont small = font();
    small.setPointSizeF(font().pointSizeF() * 0.88);
    p.setFont(small);
    const double line = p.fontMetrics().height();
    double free = -1e9;
    for (std::size_t r = 0; r < rows_.size(); ++r) {
        const double y = f.top() + double(r) * tall;
        if (rows_[r].begins && r > 0) {
            p.setPen(QPen(theme().ink, 1));
            p.drawLine(QPointF(f.left() - em(0.5), y), QPointF(f.right(), y));
        }
        if (rows_[r].chosen) {
            p.setPen(QPen(theme().fit, 2));
            p.drawRect(QRectF(f.left() - 1, y, f.width() + 2, std::max(3.0, tall)));
        }
        const double middle = y + tall / 2;
        if (!rows_[r].chosen && middle - line / 2 < free) continue;
        p.setPen(rows_[r].chosen ? theme().fit : theme().soft);
        p.drawText(QRectF(0, middle - line / 2, f.left() - em(0.7), line), Qt::AlignRight | Qt::AlignVCenter, rows_[r].name);
        free = middle + line / 2;
    }
    const auto [from, to] = seen();
    const auto xOf = [&](double at) { return f.left() + f.width() * (at - from) / (to - from); };
    free = -1e9;
    for (const Joint& joint : joints_) {
        if (joint.at < from || joint.at > to) continue;
        p.setPen(QPen(theme().soft, 1, Qt::DashLine));
        p.drawLine(QPointF(xOf(joint.at), f.top()), QPointF(xOf(joint.at), f.bottom()));
        const double half = p.fontMetrics().horizontalAdvance(joint.name) / 2.0;
        const double middle = std::clamp(xOf(joint.at), f.left() + half, std::max(f.left() + half, f.right() - half));
        if (middle - half < free) continue;
        p.drawText(QRectF(middle - half, 0, 2 * half + 2, f.top()), Qt::AlignCenter, joint.name);
        free = middle + half + em(0.6);
    }
    p.setPen(theme().soft);
    p.drawText(QRectF(0, 0, f.left() - em(0.3), f.top()), Qt::AlignRight | Qt::AlignVCenter, tr("fibre"));
    p.drawText(QRectF(0, f.bottom() + em(0.2), f.left() - em(0.3), line), Qt::AlignRight, tr("m"));
    const double step = niceStep(to - from);
    for (double at = std::ceil(from / step) * step; at <= to; at += step)
        p.drawText(QRectF(xOf(at) - em(3), f.bottom() + em(0.2), em(6), line), Qt::AlignCenter, QString::number(at, 'f', step < 1 ? 1 : 0));
}

void GlanceMap::paintLegend(QPainter& p) const
{
    const QRectF f = field();
    const double y = f.bottom() + em(2.2), wide = em(12), tall = em(0.8);
    const QRectF bar(f.left(), y, wide, tall);
    for (int x = 0; x < int(wide); ++x)
        p.fillRect(QRectF(bar.left() + x, y, 1, tall), QColor(colourOf(fullColour * static_cast<float>(2.0 * x / wide - 1))));
    p.setPen(QPen(theme().rule, 1));
    p.drawRect(bar);
    p.setPen(theme().soft);
    const auto label = [&](double at, const QString& words) { p.drawText(QRectF(at - em(3), y + tall, em(6), em(1.2)), Qt::AlignCenter, words); };
    label(bar.left() + em(0.8), QStringLiteral("-1"));
    label(bar.center().x(), QStringLiteral("0"));
    label(bar.right() - em(0.8), tr("+1 dB"));
    p.drawText(QRectF(bar.right() + em(1), y - em(0.4), f.right() - bar.right() - em(1), em(2.8)), Qt::AlignLeft | Qt::TextWordWrap,
               tr("lost up to there beyond the median fibre; grey: dead zone or nothing seen; hatched: no trace that can be read"));
}

void GlanceMap::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    p.fillRect(rect(), theme().card);
    if (rows_.empty()) return;
    paintRows(p);
    paintScale(p);
    paintLegend(p);
}

void GlanceMap::see(double from, double to)
{
    constexpr double closest = 5;  // m
    const double all = whole_.second - whole_.first, wide = std::clamp(to - from, std::min(closest, all), all);
    const double begin = std::clamp((from + to - wide) / 2, whole_.first, whole_.second - wide);
    seen_ = wide >= all ? std::nullopt : std::optional(SeenRange{begin, begin + wide});
    update();
}

void GlanceMap::zoomBy(double factor)
{
    const auto [from, to] = seen();
    const double middle = (from + to) / 2, half = (to - from) / 2 / factor;
    see(middle - half, middle + half);
}

void GlanceMap::panBy(double share)
{
    const auto [from, to] = seen();
    see(from + share * (to - from), to + share * (to - from));
}

void GlanceMap::showWhole()
{
    seen_.reset();
    update();
}

void GlanceMap::mousePressEvent(QMouseEvent* event)
{
    pressed_ = event->position();
    dragged_ = false;
}

void GlanceMap::mouseMoveEvent(QMouseEvent* event)
{
    if (!pressed_) return;
    const double by = placeOf(pressed_->x()) - placeOf(event->position().x());
    if (!dragged_ && std::abs(event->position().x() - pressed_->x()) < QApplication::startDragDistance()) return;
    dragged_ = true;
    const auto [from, to] = seen();
    see(from + by, to + by);
    pressed_ = event->position();
}

void GlanceMap::mouseReleaseEvent(QMouseEvent* event)
{
    if (pressed_ && !dragged_)
        if (const auto row = rowAt(event->position())) emit wanted(static_cast<int>(*row));
    pressed_.reset();
}

void GlanceMap::wheelEvent(QWheelEvent* event)
{
    constexpr double perStep = 1.25, step = 120;
    const double factor = std::pow(perStep, event->angleDelta().y() / step), under = placeOf(event->position().x());
    const auto [from, to] = seen();
    see(under - (under - from) / factor, under + (to - under) / factor);
    event->accept();
}

bool GlanceMap::event(QEvent* event)
{
    if (event->type() == QEvent::ToolTip) {
        const auto* help = static_cast<QHelpEvent*>(event);
        const auto row = rowAt(help->pos());
        if (!row) return QWidget::event(event);
        const double at = placeOf(help->pos().x());
        const auto [from, to] = seen();
        const double wide = (to - from) / std::max(1.0, field().width() / 2);
        const float more = map({at, at + wide}, 1)[*row];
        QToolTip::showText(help->globalPos(), std::isnan(more) ? tr("fibre %1 at %2 m: not known").arg(rows_[*row].name).arg(at, 0, 'f', 0)
                                                               : tr("fibre %1: up to %2 m %3 dB more lost than by the median fibre")
                                                                     .arg(rows_[*row].name)
                                                                     .arg(at, 0, 'f', 0)
                                                                     .arg(double(more), 0, 'f', 2));
        return true;
    }
    return QWidget::event(event);
}

}  // namespace clendo
