#include "app/frame/ribbon_view.h"

#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>

#include "app/widgets/theme.h"

namespace clendo {

namespace {

/// Whether it is the half of its pair that looks to A.
bool isLeft(const FaceId& face) { return face.side == face.connection.towardsA(); }

}  // namespace

RibbonView::RibbonView(QWidget* parent) : QWidget(parent)
{
    setObjectName(QStringLiteral("ribbon"));
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    setAccessibleName(tr("The chosen link from end A to end B"));
}

QSize RibbonView::sizeHint() const { return {em(50), em(7.4)}; }

void RibbonView::show(const JobState* state, const Link* link, const FaceId& chosen)
{
    state_ = state;
    link_ = link;
    chosen_ = chosen;
    planned_ = link ? plannedLoss(*state, *link) : std::vector<PlannedLoss>();
    update();
}

double RibbonView::xOf(Metre at) const
{
    const double left = em(8), right = width() - em(8);
    return left + (right - left) * (at / link_->cable->length);
}

double RibbonView::xOf(Connection at) const
{
    if (const auto end = at.deviceEnd()) return *end == End::A ? em(2.6) : width() - em(2.6);
    if (const auto end = at.panelEnd()) return xOf(*end == End::A ? Metre(0) : link_->cable->length);
    const auto& panels = link_->cable->inner;
    const double room = std::min(double(em(4.6)), (xOf(link_->cable->length) - xOf(Metre(0))) / double(panels.size() + 1));
    const double lastX = xOf(link_->cable->length);
    double x = xOf(Metre(0));
    for (std::size_t n = 0; n < static_cast<std::size_t>(at.innerNumber()) && n < panels.size(); ++n)
        x = std::min(std::max(xOf(panels[n].at), x + room), lastX - room * double(panels.size() - n));
    return x;
}

QPointF RibbonView::middleOf(const FaceId& face) const
{
    const bool mated = state_->state(link_->id).mated.contains(face.connection);
    const double gap = mated ? 1 : em(0.35);
    return {xOf(face.connection) + (isLeft(face) ? -gap : gap), double(em(2.75))};
}

void RibbonView::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.fillRect(rect(), theme().card);
    p.setPen(theme().rule);
    p.drawLine(rect().bottomLeft(), rect().bottomRight());
    if (!link_) {
        p.setPen(theme().soft);
        p.drawText(rect(), Qt::AlignCenter, tr("No link yet: plan a cable"));
        return;
    }
    const double y = em(2.75), radius = em(0.82);
    p.setPen(QPen(theme().ink, 2.2));
    p.drawLine(QPointF(em(2.5), y), QPointF(width() - em(2.5), y));
    paintHidden(p);
    for (const auto& face : link_->faces()) {
        const QPointF middle = middleOf(face);
        const bool left = isLeft(face);
        const QRectF half(left ? middle.x() - radius * 1.55 : middle.x(), y - radius * 1.25, radius * 1.55, radius * 2.5);
        if (face == chosen_) {
            p.setPen(QPen(theme().fit, 1.5));
            p.setBrush(theme().chosen);
            p.drawRoundedRect(half.adjusted(-5, -4, 5, 4), 6, 6);
        }
        paintFace(p, middle, radius, left, state_->face(face).condition);
    }
    QFont small = font();
    small.setPointSizeF(font().pointSizeF() * 0.88);
    p.setFont(small);
    paintLabels(p);
    for (const auto& splice : link_->cable->splices) {
        const double x = xOf(splice.at), r = em(0.32);
        QPolygonF diamond{{x - r, y}, {x, y - r * 1.3}, {x + r, y}, {x, y + r * 1.3}};
        p.setPen(QPen(theme().ink, 1.6));
        p.setBrush(theme().card);
        p.drawPolygon(diamond);
    }
    paintLoss(p, em(5.0), em(2.0));
}

void RibbonView::showHidden(std::vector<HiddenLength> hidden)
{
    hidden_ = std::move(hidden);
    update();
}

/// Dead zones behind what reflects: at least so wide that they can be seen.
void RibbonView::paintHidden(QPainter& p) const
{
    if (hidden_.empty()) return;
    const double y = em(2.75), tall = em(0.7), least = em(2.3);  // beyond the face that stands there
    p.setPen(Qt::NoPen);
    p.setBrush(QBrush(theme().work, Qt::Dense4Pattern));
    for (const auto& h : hidden_) {
        const double from = xOf(h.from), to = std::max(xOf(h.to), from + least);
        p.drawRect(QRectF(from, y - tall, to - from, 2 * tall));
    }
    p.setPen(theme().work);
    const double x = xOf(Metre(0)) + em(3);
    p.drawText(QRectF(x, em(3.9), xOf(link_->cable->length) - x - em(3), em(1.1)), Qt::AlignHCenter | Qt::AlignVCenter,
               tr("dotted: the advised shot will not show a joint there, %1 m behind what reflects")
                   .arg((hidden_.front().to - hidden_.front().from).value(), 0, 'f', 0));
}

/// What stands above the line and how the chosen face is. Where two names would overlap, the later one is left out: ends come first, then panels.
void RibbonView::paintLabels(QPainter& p) const
{
    std::vector<QRectF> taken;
    const auto label = [&](double x, const QString& words, const QColor& colour) {
        const double half = p.fontMetrics().horizontalAdvance(words) / 2.0 + em(0.4);
        x = std::clamp(x, half, std::max(half, width() - half));
        const QRectF place(x - half, em(0.2), 2 * half, em(1.1));
        if (std::any_of(taken.begin(), taken.end(), [&](const QRectF& other) { return other.intersects(place); })) return;
        taken.push_back(place);
        p.setPen(colour);
        p.drawText(place, Qt::AlignCenter, words);
    };
    const auto text = [](const std::string& words) { return QString::fromStdString(words); };
    const CablePlan& cable = *link_->cable;
    for (const End end : {End::A, End::B}) label(xOf(Connection(end)), text(link_->port(end)), theme().ink);
    for (const Connection at : cable.connections())
        if (!at.panelEnd()) label(xOf(at), text(cable.panel(at)), theme().ink);
    for (const auto& splice : cable.splices) label(xOf(splice.at), tr("splice, %1").arg(text(splice.name)), theme().soft);
    if (chosen_.link != link_->id) return;
    p.setPen(theme().soft);
    const QString state = QString::fromStdString(std::string(name(state_->face(chosen_).condition)));
    const QString words = (chosen_.side == Side::Cord ? tr("cord: %1") : tr("port: %1")).arg(state);
    const double half = em(7), x = std::clamp(xOf(chosen_.connection), p.fontMetrics().horizontalAdvance(words) / 2.0 + em(0.4),
                                              width() - p.fontMetrics().horizontalAdvance(words) / 2.0 - em(0.4));
    p.drawText(QRectF(x - half, em(3.9), 2 * half, em(1.1)), Qt::AlignCenter, words);
}

/// What may be lost up to each place, wavelength by wavelength, and from the top left to what was lost in all.
void RibbonView::paintLoss(QPainter& p, double top, double height) const
{
    if (planned_.empty()) return;
    const auto highest = std::max_element(planned_.begin(), planned_.end(), [](const auto& a, const auto& b) { return a.limit < b.limit; });
    const auto yOf = [&](Decibel dB) { return top + height * std::min(1.15, dB / highest->limit); };
    const auto& loss = state_->state(link_->id).loss;
    // one line does for all where nothing was read and no limit differs
    const bool one = !loss && std::all_of(planned_.begin(), planned_.end(), [&](const auto& other) { return other.limit == highest->limit; });
    QStringList lines;
    for (const auto& at : planned_) {
        QPolygonF stairs{{xOf(Metre(0)), top}};
        for (const auto& point : at.points) stairs << QPointF(xOf(point.at), yOf(point.loss));
        stairs << QPointF(xOf(link_->cable->length), top);
        QColor fill = theme().chosen;
        fill.setAlphaF(0.55F);
        p.setPen(Qt::NoPen);
        p.setBrush(fill);
        p.drawPolygon(stairs);
        QString lost;
        for (const auto& r : loss ? loss->results : std::vector<LossResult>()) {
            if (!r.worst || std::abs((r.wavelength - at.wavelength).value()) > 1) continue;
            p.setPen(QPen(theme().of(r.verdict == LossVerdict::Pass ? Tone::Fit : r.verdict == LossVerdict::Fail ? Tone::Damaged : Tone::Work), 2.2));
            p.drawLine(QPointF(xOf(Metre(0)), top), QPointF(xOf(link_->cable->length), yOf(std::max(Decibel(0), *r.worst))));
            lost = tr("%1 of ").arg(r.worst->value(), 0, 'f', 2);
        }
        const QString nm = one ? QString() : tr("%1: ").arg(at.wavelength.value());
        if (!one || lines.empty()) lines << nm + lost + tr("%1").arg(at.limit.value(), 0, 'f', 2);
    }
    p.setPen(theme().soft);
    p.drawText(QRectF(em(0.6), top - em(0.1), em(7), em(1.1)), Qt::AlignLeft, tr("may lose, dB"));
    const double x = xOf(link_->cable->length) + em(0.5);
    p.drawText(QRectF(x, top - em(0.5), width() - x - em(0.4), height + em(0.4)), Qt::AlignRight | Qt::AlignBottom, lines.join(QLatin1Char('\n')));
}

void RibbonView::mousePressEvent(QMouseEvent* event)
{
    if (!link_) return;
    const FaceId* best = nullptr;
    const auto faces = link_->faces();
    double nearest = em(2.2);
    for (const auto& face : faces) {
        const bool left = isLeft(face);
        const double off = std::hypot(middleOf(face).x() + (left ? -1 : 1) * em(0.5) - event->position().x(), em(2.75) - event->position().y());
        if (off < nearest) {
            nearest = off;
            best = &face;
        }
    }
    if (best) emit faceChosen(*best);
}

}  // namespace clendo
