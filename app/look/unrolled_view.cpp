#include "app/look/unrolled_view.h"

#include <QPainter>

#include "app/widgets/label_places.h"
#include "app/widgets/theme.h"
#include "face/judge/unroll.h"

namespace clendo {
namespace {

constexpr double reachUm = 80;  // the glass, the adhesive and a little ferrule: farther out only what is large counts

QImage unrolledImage(const QImage& image, const face::FaceMeasurement& measured, double turn)
{
    if (image.isNull() || !measured.usable()) return {};
    const QImage grey = image.convertToFormat(QImage::Format_Grayscale8);
    face::Picture picture{grey.width(), grey.height(), {}};
    picture.pixels.reserve(static_cast<std::size_t>(grey.width()) * static_cast<std::size_t>(grey.height()));
    for (int y = 0; y < grey.height(); ++y) picture.pixels.insert(picture.pixels.end(), grey.constScanLine(y), grey.constScanLine(y) + grey.width());
    face::UnrollFrame frame;
    frame.turnDegrees = turn;
    frame.reach = Micrometre(reachUm);
    const face::Picture flat = face::unroll(picture, measured, frame);
    if (!flat.sound()) return {};
    return QImage(flat.pixels.data(), flat.width, flat.height, flat.width, QImage::Format_Grayscale8).copy();
}

QString fateWords(face::Fate fate)
{
    const auto word = name(fate);
    return QString::fromUtf8(word.data(), static_cast<qsizetype>(word.size()));
}

}  // namespace

UnrolledView::UnrolledView(QWidget* parent) : QWidget(parent)
{
    setObjectName(QStringLiteral("unrolled"));
    setMinimumHeight(em(9));
}

QSize UnrolledView::sizeHint() const { return {em(28), em(15)}; }

void UnrolledView::show(const QImage& image, const Look& look, const QImage& imageBefore, const Look* before,
                        const std::optional<FaceClass>& faceClass)
{
    faceClass_ = faceClass;
    comparison_ = before ? face::compareLooks(before->seen.measured.findings, look.seen.measured.findings) : face::LookComparison();
    strips_.clear();
    strips_.push_back({unrolledImage(image, look.seen.measured, 0), look, 0});
    if (before) strips_.push_back({unrolledImage(imageBefore, before->seen.measured, comparison_.turnDegrees), *before, comparison_.turnDegrees});
    QString words = tr("Unrolled: %1 findings").arg(look.seen.measured.findings.size());
    if (const std::string since = comparison_.words(); !since.empty()) words += tr("; since the look before: %1").arg(QString::fromStdString(since));
    setAccessibleName(words);
    update();
}

void UnrolledView::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    p.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
    p.setPen(Qt::NoPen);
    p.setBrush(theme().pictureGround);
    p.drawRoundedRect(rect(), 6, 6);
    const double head = em(1.4), each = (height() - head) / double(std::max<std::size_t>(1, strips_.size()));
    p.setPen(QColor(0xD8, 0xE0, 0xE8));
    p.drawText(QRectF(em(0.6), 0, width() - em(1.2), head), Qt::AlignVCenter,
               p.fontMetrics().elidedText(accessibleName(), Qt::ElideRight, width() - em(1.2)));
    for (std::size_t i = 0; i < strips_.size(); ++i) paintStrip(p, strips_[i], QRectF(0, head + double(i) * each, width(), each - 2), i == 0);
}

void UnrolledView::paintStrip(QPainter& p, const Strip& strip, const QRectF& box, bool later) const
{
    p.save();
    p.setClipRect(box);
    const double left = em(2.4);
    const QRectF field(box.left() + left, box.top(), box.width() - left, box.height());
    if (!strip.image.isNull()) p.drawImage(field, strip.image);
    QFont small = font();
    small.setPointSizeF(font().pointSizeF() * 0.85);
    p.setFont(small);
    const double perUm = field.height() / reachUm;
    double above = 0;
    if (faceClass_)
        for (const auto& ring : faceClass_->zones) {
            const double y = field.top() + std::min(reachUm, ring.to.value() / 2) * perUm;
            p.setPen(QPen(QColor(255, 255, 255, 110), 1, Qt::DotLine));
            p.drawLine(QPointF(box.left(), y), QPointF(box.right(), y));
            const auto letter = name(ring.zone);
            const double middle = field.top() + (above + std::min(reachUm, ring.to.value() / 2)) / 2 * perUm;
            above = ring.to.value() / 2;
            p.setPen(QColor(0xD8, 0xE0, 0xE8));
            const double tall = std::max(em(1.0) * 1.0, 1.0);
            p.drawText(QRectF(box.left(), middle - tall / 2, em(1.0), tall), Qt::AlignCenter,
                       QString::fromUtf8(letter.data(), static_cast<qsizetype>(letter.size())));
        }
    // which look this is, upright along its edge
    p.save();
    p.translate(box.left() + em(1.7), box.center().y());
    p.rotate(-90);
    p.setPen(QColor(0xD8, 0xE0, 0xE8));
    p.drawText(QRectF(-box.height() / 2, -em(0.6), box.height(), em(1.2)), Qt::AlignCenter, later ? tr("now") : tr("before"));
    p.restore();
    face::UnrollFrame frame;
    frame.width = static_cast<int>(field.width());
    frame.height = static_cast<int>(field.height());
    frame.turnDegrees = strip.turn;
    frame.reach = Micrometre(reachUm);
    const std::set<int> breaking = strip.look.verdict ? strip.look.verdict->breaking() : std::set<int>();
    const bool compared = strips_.size() > 1;
    std::vector<const Finding*> shown;
    std::vector<QRectF> boxes;
    for (const auto& f : strip.look.seen.measured.findings) {
        if ((faceClass_ && !zoneOf(f, *faceClass_)) || f.centre.radius() > Micrometre(reachUm)) continue;
        const auto [x, y] = frame.at(f.centre);
        const double half = std::max(5.0, f.size.value() / 2 * perUm + 3);
        shown.push_back(&f);
        boxes.emplace_back(field.left() + x - half, field.top() + y - half, 2 * half, 2 * half);
    }
    LabelPlaces places(field, boxes);
    for (std::size_t i = 0; i < shown.size(); ++i) {
        const Finding& f = *shown[i];
        const bool bad = breaking.contains(f.id);
        p.setPen(QPen(bad ? theme().pictureMark : QColor(0xBF, 0xD9, 0xEE), bad ? 2.2 : 1.2));
        paintCorners(p, boxes[i].center(), boxes[i].width() / 2, std::min(boxes[i].width() * 0.35, 7.0));
        if (faceClass_ && zoneOf(f, *faceClass_) == Zone::D && !bad) continue;  // the ferrule's marks would hide the glass's words
        QString words = QString::number(judgedSize(f).value(), 'f', 1);
        if (compared && later) words += QLatin1Char(' ') + fateWords(comparison_.ofLater(f.id));
        p.drawText(places.place(i, p.fontMetrics().size(0, words)), Qt::AlignCenter, words);
    }
    p.restore();
}

}  // namespace clendo
