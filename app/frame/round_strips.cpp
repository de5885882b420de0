#include "app/frame/round_strips.h"

#include <QHelpEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>
#include <algorithm>
#include <map>
#include <tuple>

#include "app/widgets/theme.h"

namespace clendo {
namespace {

constexpr int portsInRow = 12;

/// Half a disc that is flat below (the cord) or above (behind the adapter), drawn once.
const QPixmap& half(FaceCondition condition, bool upper, int side, double ratio)
{
    static std::map<std::tuple<FaceCondition, bool, int, double, bool>, QPixmap> known;
    QPixmap& pixmap = known[{condition, upper, side, ratio, theme().dark}];
    if (!pixmap.isNull()) return pixmap;
    pixmap = QPixmap(qRound(side * ratio), qRound(side * ratio));
    pixmap.setDevicePixelRatio(ratio);
    pixmap.fill(Qt::transparent);
    QPainter p(&pixmap);
    p.setRenderHint(QPainter::Antialiasing);
    p.translate(side / 2.0, side / 2.0);
    p.rotate(90);
    paintFace(p, {upper ? side * 0.2 : -side * 0.2, 0}, side * 0.4, upper, condition);
    return pixmap;
}

QString text(const std::string& words) { return QString::fromStdString(words); }

}  // namespace

RoundStrips::RoundStrips(QWidget* parent) : QWidget(parent) { setObjectName(QStringLiteral("roundStrips")); }

const Strip& RoundStrips::stripOf(const Row& row) const { return state_->plan->stations.strips[tally_.strips[row.item].strip]; }

const CablePlan& RoundStrips::cableOf(const Row& row) const { return state_->plan->cables[stripOf(row).cable]; }

QSize RoundStrips::sizeHint() const { return {em(12), height_}; }

void RoundStrips::show(std::shared_ptr<const JobState> state, RoundTally tally, const FaceId& chosen)
{
    state_ = std::move(state);
    tally_ = std::move(tally);
    chosen_ = chosen;
    layOut();
    QStringList words;
    for (const auto& [strip, faces] : tally_.strips) {
        const Strip& ports = state_->plan->stations.strips[strip];
        words << tr("%1: %2 of %3 faces fit").arg(text(state_->plan->cables[ports.cable].rackAndPanel(ports.at))).arg(faces.done).arg(faces.all);
    }
    for (const auto& light : tally_.light) words << tr("%1: %2 of %3").arg(text(light.title)).arg(light.fibres.done).arg(light.fibres.all);
    setAccessibleName(words.join(QStringLiteral("; ")));
    update();
}

void RoundStrips::layOut()
{
    rows_.clear();
    int y = 0;
    const auto add = [&](RowKind kind, double height, std::size_t item, int first = 0) {
        rows_.push_back({kind, y, em(height), item, first});
        y += em(height);
    };
    std::string place;
    for (std::size_t n = 0; n < tally_.strips.size(); ++n) {
        const Strip& strip = state_->plan->stations.strips[tally_.strips[n].strip];
        const CablePlan& cable = state_->plan->cables[strip.cable];
        if (place != cable.place(strip.at)) {
            place = cable.place(strip.at);
            add(RowKind::Place, 1.55, n);
        } else {
            add(RowKind::Strip, 1.3, n);
        }
        for (int first = 1; first <= cable.fibres; first += portsInRow) add(RowKind::Ports, 2.35, n, first);
    }
    y += em(0.3);
    for (std::size_t n = 0; n < tally_.light.size(); ++n) add(RowKind::Light, 1.2, n);
    height_ = y + em(0.2);
    setFixedHeight(height_);
    updateGeometry();
}

QRect RoundStrips::portAt(const Row& row, int n) const
{
    const double each = double(width()) / portsInRow;
    return QRect(int(each * n), row.y, int(each), row.height);
}

const RoundStrips::Row* RoundStrips::rowAt(int y) const
{
    const auto after = std::upper_bound(rows_.begin(), rows_.end(), y, [](int at, const Row& row) { return at < row.y; });
    return after == rows_.begin() ? nullptr : &*std::prev(after);
}

QRect RoundStrips::chosenPort() const
{
    for (const auto& row : rows_) {
        if (row.kind != RowKind::Ports || stripOf(row).at != chosen_.connection) continue;
        const Link* link = state_->link(chosen_.link);
        const int n = link && link->cable->id == cableOf(row).id ? link->fibre - row.first : -1;
        if (n >= 0 && n < portsInRow) return portAt(row, n);
    }
    return {};
}

std::optional<FaceId> RoundStrips::faceAt(QPoint at) const
{
    const Row* row = rowAt(at.y());
    if (!row || row->kind != RowKind::Ports) return std::nullopt;
    const CablePlan& cable = cableOf(*row);
    const int fibre = row->first + std::clamp(at.x() * portsInRow / std::max(1, width()), 0, portsInRow - 1);
    if (fibre > cable.fibres) return std::nullopt;
    const bool upper = at.y() - row->y < em(0.9);
    return FaceId{cable.id + "/" + std::to_string(fibre), stripOf(*row).at, upper ? Side::Cord : Side::Port};
}

void RoundStrips::paintEvent(QPaintEvent* event)
{
    if (!state_) return;
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const QRect marked = chosenPort();
    for (const auto& row : rows_) {
        if (row.y > event->rect().bottom()) break;
        if (row.y + row.height < event->rect().top()) continue;
        const QRect box(0, row.y, width(), row.height);
        switch (row.kind) {
            case RowKind::Place:
            case RowKind::Strip: paintHead(p, row); break;
            case RowKind::Ports: paintPorts(p, row, marked); break;
            case RowKind::Light: paintLight(p, row); break;
        }
    }
}

/// The place, where it begins, then the panel and how many of its faces are fit.
void RoundStrips::paintHead(QPainter& p, const Row& row) const
{
    const Theme& t = theme();
    QRect box(0, row.y, width() - em(0.4), row.height);
    if (row.kind == RowKind::Place) {
        QFont bold = font();
        bold.setBold(true);
        p.setFont(bold);
        p.setPen(t.ink);
        const QString place = text(cableOf(row).place(stripOf(row).at));
        p.drawText(box, Qt::AlignVCenter, p.fontMetrics().elidedText(place, Qt::ElideRight, box.width()));
        box.setLeft(p.fontMetrics().horizontalAdvance(place) + em(0.6));
        p.setFont(font());
    }
    const auto& faces = tally_.strips[row.item].faces;
    const QString count = tr("%1 of %2 fit").arg(faces.done).arg(faces.all);
    const int wide = p.fontMetrics().horizontalAdvance(count) + em(0.5);
    p.setPen(t.soft);
    p.drawText(box, Qt::AlignRight | Qt::AlignVCenter, count);
    p.drawText(
        box.adjusted(0, 0, -wide, 0), Qt::AlignVCenter,
        p.fontMetrics().elidedText(text(cableOf(row).rackAndPanel(stripOf(row).at) + ", " + cableOf(row).id), Qt::ElideRight, box.width() - wide));
}

void RoundStrips::paintPorts(QPainter& p, const Row& row, const QRect& marked) const
{
    const Theme& t = theme();
    const CablePlan& cable = cableOf(row);
    const Connection at = stripOf(row).at;
    QFont small = font();
    small.setPointSizeF(font().pointSizeF() * 0.75);
    p.setFont(small);
    const int side = em(0.95);
    for (int n = 0; n < portsInRow && row.first + n <= cable.fibres; ++n) {
        const int fibre = row.first + n;
        const QRect box = portAt(row, n);
        if (box == marked) {
            p.setPen(QPen(t.fit, 1.5));
            p.setBrush(t.chosen);
            p.drawRoundedRect(QRectF(box).adjusted(0.5, 0.5, -0.5, -em(0.2)), 4, 4);
        }
        const std::string link = cable.id + "/" + std::to_string(fibre);
        const bool mated = state_->state(link).mated.contains(at);
        const double gap = mated ? 0.5 : em(0.12), x = box.center().x() + 0.5 - side / 2.0, middle = row.y + em(0.85);
        const double ratio = devicePixelRatioF();
        p.drawPixmap(QPointF(x, middle - gap - side * 0.7), half(state_->face({link, at, Side::Cord}).condition, true, side, ratio));
        p.drawPixmap(QPointF(x, middle + gap - side * 0.3), half(state_->face({link, at, Side::Port}).condition, false, side, ratio));
        p.setPen(box == marked ? t.ink : t.soft);
        const int number = cable.ferruleFibres > 1 ? fibre : cable.firstPortAt(at) + fibre - 1;
        p.drawText(QRect(box.left() - em(0.3), row.y + em(1.5), box.width() + em(0.6), em(0.8)), Qt::AlignCenter, QString::number(number));
    }
    p.setFont(font());
}

void RoundStrips::paintLight(QPainter& p, const Row& row) const
{
    const Theme& t = theme();
    const LightTally& light = tally_.light[row.item];
    const QRect words(0, row.y, width() - em(0.4), row.height);
    p.setPen(t.ink);
    p.drawText(words, Qt::AlignVCenter, text(light.title));
    p.setPen(t.soft);
    p.drawText(words, Qt::AlignRight | Qt::AlignVCenter, tr("%1 of %2").arg(light.fibres.done).arg(light.fibres.all));
    const double left = words.width() * 0.42, right = words.width() * 0.76;  // the longest title and count stand beside it
    const QRectF bar(left, row.y + row.height / 2.0 - em(0.15), right - left, em(0.3));
    p.setPen(QPen(t.rule, 1));
    p.setBrush(t.card);
    p.drawRoundedRect(bar, 2, 2);
    if (light.fibres.done == 0) return;
    p.setPen(Qt::NoPen);
    p.setBrush(t.fit);
    p.drawRoundedRect(QRectF(bar.left(), bar.top(), bar.width() * light.fibres.done / std::max(1, light.fibres.all), bar.height()), 2, 2);
}

void RoundStrips::mousePressEvent(QMouseEvent* event)
{
    if (const auto face = faceAt(event->pos())) return emit faceChosen(*face);
    const Row* row = rowAt(event->pos().y());
    if (row && row->kind == RowKind::Light) emit kindChosen(tally_.light[row->item].kind);
}

bool RoundStrips::event(QEvent* event)
{
    if (event->type() != QEvent::ToolTip) return QWidget::event(event);
    const auto* help = static_cast<QHelpEvent*>(event);
    const auto face = state_ ? faceAt(help->pos()) : std::nullopt;
    if (face) {
        const auto condition = name(state_->face(*face).condition);
        QToolTip::showText(help->globalPos(), text(state_->where(*face)) + QStringLiteral(": ") +
                                                  QString::fromUtf8(condition.data(), static_cast<qsizetype>(condition.size())));
    } else {
        QToolTip::hideText();
    }
    return true;
}

void RoundStrips::changeEvent(QEvent* event)
{
    if (event->type() == QEvent::FontChange && state_) layOut();
    QWidget::changeEvent(event);
}

}  // namespace clendo
