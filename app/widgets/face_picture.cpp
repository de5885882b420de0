#include "app/widgets/face_picture.h"

#include <QDragEnterEvent>
#include <QMimeData>
#include <QPainter>
#include <QWheelEvent>
#include <algorithm>
#include <cmath>
#include <iterator>

#include "app/widgets/label_places.h"
#include "app/widgets/theme.h"

namespace clendo {
namespace {

constexpr double fieldUm = 265;  // what is shown: zone D and a little more
constexpr double mostZoom = 16, stepOfWheel = 1.2;

}  // namespace

FacePicture::FacePicture(QWidget* parent) : QWidget(parent)
{
    setObjectName(QStringLiteral("facePicture"));
    setAcceptDrops(true);
    setMinimumSize(em(14), em(14));
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
}

QSize FacePicture::sizeHint() const { return {em(28), em(26)}; }

void FacePicture::show(const QImage& image, const Look* look, const std::optional<FaceClass>& faceClass, const QString& words)
{
    const bool sameLook = look && look_ && look->entry == look_->entry;
    if (!sameLook && !live_) fit();
    image_ = image;
    look_ = look ? std::optional(*look) : std::nullopt;
    faceClass_ = faceClass;
    words_ = words;
    setAccessibleDescription(words);
    update();
}

void FacePicture::setLive(const std::optional<Live>& live)
{
    live_ = live;
    setAccessibleName(live ? tr("live, not filed: %1").arg(live->advice) : QString());
    update();
}

void FacePicture::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    paintPicture(p);
    if (live_) paintLive(p);
    if (!mark_) return;
    p.setClipping(false);
    p.setPen(Qt::NoPen);
    p.setBrush(theme().card);
    p.drawRect(QRectF(width() - em(1.15), 0, em(1.15), em(1.15)));
    paintFace(p, QPointF(width() - em(0.35), em(0.57)), em(0.42), true, *mark_);
}

QRectF FacePicture::source() const
{
    // around the fibre where it was found, else the whole picture
    QRectF out(image_.rect());
    if (look_ && look_->seen.measured.claddingDiameter > Pixel(0)) {
        const auto& m = look_->seen.measured;
        const double side = fieldUm / m.scale.micrometresPerPixel(), tall = side * height() / std::max(1, width());
        const QSizeF field = tall > side ? QSizeF(side, tall) : QSizeF(side * width() / std::max(1, height()), side);
        out = QRectF(m.centre.x.value() - field.width() / 2, m.centre.y.value() - field.height() / 2, field.width(), field.height());
    }
    const QSizeF shown = out.size() / zoom_;
    return {out.center() + moved_ - QPointF(shown.width() / 2, shown.height() / 2), shown};
}

void FacePicture::zoomAt(const QPointF& at, double factor)
{
    if (!zoomable_ || image_.isNull()) return;
    const QRectF before = source();
    const double next = std::clamp(zoom_ * factor, 1.0, mostZoom);
    const double perPixel = 1 / std::min(width() / before.width(), height() / before.height());
    const QPointF fromMiddle = (at - QPointF(width() / 2.0, height() / 2.0)) * perPixel;
    moved_ += fromMiddle * (1 - zoom_ / next);
    zoom_ = next;
    if (zoom_ == 1.0) moved_ = {};
    update();
}

void FacePicture::zoomBy(double factor) { zoomAt(QPointF(width() / 2.0, height() / 2.0), factor); }

void FacePicture::fit()
{
    zoom_ = 1;
    moved_ = {};
    update();
}

void FacePicture::setOverlay(bool shown)
{
    overlay_ = shown;
    update();
}

void FacePicture::mousePressEvent(QMouseEvent* event)
{
    QWidget::mousePressEvent(event);
    dragged_ = event->position();
    emit clicked();
}

void FacePicture::mouseMoveEvent(QMouseEvent* event)
{
    if (!zoomable_ || image_.isNull() || !(event->buttons() & Qt::LeftButton) || zoom_ <= 1) return;
    const QRectF shown = source();
    moved_ -= (event->position() - dragged_) / std::min(width() / shown.width(), height() / shown.height());
    dragged_ = event->position();
    update();
}

void FacePicture::wheelEvent(QWheelEvent* event)
{
    if (!zoomable_) return QWidget::wheelEvent(event);
    zoomAt(event->position(), std::pow(stepOfWheel, event->angleDelta().y() / 120.0));
    event->accept();
}

/// A striped frame, the word and the focus meter: three things that a frozen picture does not have.
void FacePicture::paintLive(QPainter& p) const
{
    const QColor bright = theme().pictureMark, light(0xD8, 0xE0, 0xE8);
    p.setClipping(false);
    p.setPen(QPen(bright, em(0.3), Qt::CustomDashLine, Qt::FlatCap));
    QPen stripes = p.pen();
    stripes.setDashPattern({2.5, 2.5});
    p.setPen(stripes);
    p.setBrush(Qt::NoBrush);
    p.drawRect(QRectF(rect()).adjusted(em(0.2), em(0.2), -em(0.2), -em(0.2)));
    QFont bold = font();
    bold.setBold(true);
    p.setFont(bold);
    const QString word = live_->silent ? tr("live, but nothing comes") : tr("live, not filed");
    const QRectF tag(em(0.8), em(0.8), p.fontMetrics().horizontalAdvance(word) + em(1.2), em(1.9));
    p.setPen(Qt::NoPen);
    p.setBrush(bright);
    p.drawRect(tag);
    p.setPen(QColor(0x22, 0x26, 0x2B));
    p.drawText(tag, Qt::AlignCenter, word);
    // the focus meter: a column that fills, with a mark for the sharpest of the last second, which is what a capture takes
    const QRectF column(width() - em(2.2), em(1.2), em(0.9), height() - em(5.6));
    const auto level = [&](double focus) { return column.bottom() - std::clamp(focus, 0.0, 1.0) * column.height(); };
    p.setPen(QPen(light, 1));
    p.setBrush(QColor(0, 0, 0, 140));
    p.drawRect(column);
    p.fillRect(QRectF(column.left(), level(live_->focus), column.width(), column.bottom() - level(live_->focus)), light);
    p.setPen(QPen(bright, em(0.2)));
    if (live_->sharpest > 0)
        p.drawLine(QPointF(column.left() - em(0.5), level(live_->sharpest)), QPointF(column.right() + em(0.4), level(live_->sharpest)));
    p.setPen(light);
    p.drawText(QRectF(column.left() - em(4), column.bottom() - em(1.6), em(3.7), em(1.6)), Qt::AlignRight | Qt::AlignBottom, tr("focus"));
    const QRectF foot(0, height() - em(3.4), width(), em(3.4));
    p.fillRect(foot, QColor(0, 0, 0, 150));
    p.setPen(light);
    p.drawText(foot.adjusted(em(0.9), 0, -em(0.9), -em(0.3)), Qt::AlignVCenter | Qt::TextWordWrap, live_->advice);
}

void FacePicture::paintPicture(QPainter& p)
{
    p.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
    p.setPen(Qt::NoPen);
    p.setBrush(theme().pictureGround);
    p.drawRoundedRect(rect(), 6, 6);
    if (image_.isNull()) {
        p.setPen(QColor(0xD8, 0xE0, 0xE8));
        p.drawText(rect().adjusted(em(1), em(1), -em(1), -em(1)), Qt::AlignCenter | Qt::TextWordWrap, words_);
        return;
    }
    const QRectF source = this->source();
    const double scale = std::min(width() / source.width(), height() / source.height());
    QTransform toScreen;
    toScreen.translate(width() / 2.0, height() / 2.0);
    toScreen.scale(scale, scale);
    toScreen.translate(-source.center().x() - 0.5, -source.center().y() - 0.5);
    p.setClipRect(rect());
    p.save();
    p.setTransform(toScreen, true);
    p.drawImage(QPointF(0, 0), image_);
    p.restore();
    if (look_ && overlay_) paintFindings(p, toScreen);
    if (words_.isEmpty()) return;
    p.setPen(QColor(0xD8, 0xE0, 0xE8));
    // as many lines as it takes: what stands last says what was not seen
    const QRectF room = rect().adjusted(em(0.6), 0, -em(0.6), 0);
    const double high = p.boundingRect(room, Qt::TextWordWrap, words_).height() + em(0.5);
    const QRectF foot(0, height() - high, width(), high);
    p.fillRect(foot, QColor(0, 0, 0, 120));
    p.drawText(foot.adjusted(em(0.6), 0, -em(0.6), 0), Qt::AlignVCenter | Qt::TextWordWrap, words_);
}

void FacePicture::paintFindings(QPainter& p, const QTransform& toScreen) const
{
    const auto& m = look_->seen.measured;
    if (!m.usable()) return;
    const double pxPerUm = 1 / m.scale.micrometresPerPixel();
    const auto place = [&](const FacePoint& at) {
        return toScreen.map(QPointF(m.centre.x.value() + at.x.value() * pxPerUm + 0.5, m.centre.y.value() + at.y.value() * pxPerUm + 0.5));
    };
    const double screenPerUm = pxPerUm * toScreen.m11();
    const QPointF centre = place({});
    QFont small = font();
    small.setPointSizeF(font().pointSizeF() * 0.9);
    small.setBold(true);
    p.setFont(small);
    const bool thumbnail = width() < em(10);  // a thumbnail: marks without words
    if (faceClass_ && !thumbnail)
        for (const auto& ring : faceClass_->zones) {
            const double r = ring.to.value() / 2 * screenPerUm;
            p.setPen(QPen(QColor(255, 255, 255, 90), 1, Qt::DotLine));
            p.setBrush(Qt::NoBrush);
            p.drawEllipse(centre, r, r);
            p.setPen(QColor(255, 255, 255, 170));
            const std::string_view letter = name(ring.zone);
            p.drawText(centre + QPointF(r * 0.7071 - em(0.75), -r * 0.7071 + em(0.9)),
                       QString::fromUtf8(letter.data(), static_cast<qsizetype>(letter.size())));
        }
    const std::set<int> breaking = look_->verdict ? look_->verdict->breaking() : std::set<int>();
    struct Mark {
        const Finding* finding;
        bool bad;
        QRectF box;
    };
    std::vector<Mark> marks;
    for (const auto& f : m.findings) {
        if (faceClass_ && !zoneOf(f, *faceClass_)) continue;
        const double half = std::max(thumbnail ? 3.0 : 7.0, f.size.value() / 2 * screenPerUm + 4);
        marks.push_back({&f, breaking.contains(f.id), QRectF(place(f.centre) - QPointF(half, half), QSizeF(2 * half, 2 * half))});
    }
    // what breaks a rule gets the best place for its words
    std::stable_partition(marks.begin(), marks.end(), [](const Mark& mark) { return mark.bad; });
    std::vector<QRectF> boxes;
    std::transform(marks.begin(), marks.end(), std::back_inserter(boxes), [](const Mark& mark) { return mark.box; });
    // the focus meter and the advice lie over a live picture
    LabelPlaces places(live_ ? QRectF(rect()).adjusted(0, 0, -em(2.8), -em(3.4)) : QRectF(rect()), boxes);
    for (std::size_t i = 0; i < marks.size(); ++i) {
        const auto& [f, bad, box] = marks[i];
        p.setPen(QPen(bad ? theme().pictureMark : QColor(0xBF, 0xD9, 0xEE, 150), bad ? 2.4 : 1.2));
        paintCorners(p, box.center(), box.width() / 2, std::min(box.width() * 0.35, 9.0));
        const Zone zone = faceClass_ ? zoneOf(*f, *faceClass_).value_or(Zone::D) : Zone::D;
        if (thumbnail || (!bad && zone != Zone::A && zone != Zone::B)) continue;
        const QString size = QString::number(judgedSize(*f).value(), 'f', 1);
        p.drawText(places.place(i, p.fontMetrics().size(0, size)), Qt::AlignCenter, size);
    }
}

void FacePicture::dragEnterEvent(QDragEnterEvent* event)
{
    if (event->mimeData()->hasUrls()) event->acceptProposedAction();
}

void FacePicture::dropEvent(QDropEvent* event)
{
    const auto urls = event->mimeData()->urls();
    for (const QUrl& url : urls)
        if (url.isLocalFile()) emit dropped(url.toLocalFile());
    event->acceptProposedAction();
}

}  // namespace clendo
