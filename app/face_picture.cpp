#include "app/face_picture.h"

#include <QDragEnterEvent>
#include <QMimeData>
#include <QPainter>

#include "app/theme.h"

namespace clendo {
namespace {

constexpr double fieldUm = 265;  // what is shown: zone D and a little more

}  // namespace

FacePicture::FacePicture(QWidget* parent) : QWidget(parent)
{
    setObjectName(QStringLiteral("facePicture"));
    setAcceptDrops(true);
    setMinimumSize(em(14), em(14));
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
}

QSize FacePicture::sizeHint() const { return {em(28), em(26)}; }

void FacePicture::show(const QImage& image, const Try* look, const std::optional<ConnectorCriteria>& criteria, const QString& words)
{
    image_ = image;
    look_ = look ? std::optional(*look) : std::nullopt;
    criteria_ = criteria;
    words_ = words;
    update();
}

void FacePicture::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    p.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
    p.setPen(Qt::NoPen);
    p.setBrush(theme().pictureGround);
    p.drawRoundedRect(rect(), 6, 6);
    if (image_.isNull()) {
        p.setPen(QColor(0xD8, 0xE0, 0xE8));
        p.drawText(rect().adjusted(em(1), em(1), -em(1), -em(1)), Qt::AlignCenter | Qt::TextWordWrap, words_);
        return;
    }
    // around the fibre where it was found, else the whole picture
    QRectF source(image_.rect());
    if (look_ && look_->seen.measured.claddingDiameter > Pixel(0)) {
        const auto& m = look_->seen.measured;
        const double side = fieldUm / m.scale.micrometresPerPixel(), tall = side * height() / std::max(1, width());
        const QSizeF field = tall > side ? QSizeF(side, tall) : QSizeF(side * width() / std::max(1, height()), side);
        source = QRectF(m.centre.x.value() - field.width() / 2, m.centre.y.value() - field.height() / 2, field.width(), field.height());
    }
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
    if (look_) paintFindings(p, toScreen);
    if (words_.isEmpty()) return;
    p.setPen(QColor(0xD8, 0xE0, 0xE8));
    const QRectF foot(0, height() - em(1.7), width(), em(1.7));
    p.fillRect(foot, QColor(0, 0, 0, 120));
    p.drawText(foot.adjusted(em(0.6), 0, -em(0.6), 0), Qt::AlignVCenter, words_);
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
    if (criteria_ && !thumbnail)
        for (const auto& ring : criteria_->zones) {
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
    for (const auto& f : m.findings) {
        if (criteria_ && !zoneOf(f, *criteria_)) continue;
        const bool bad = breaking.contains(f.id);
        const QPointF at = place(f.centre);
        const double half = std::max(thumbnail ? 3.0 : 7.0, f.size.value() / 2 * screenPerUm + 4), arm = std::min(half * 0.7, 9.0);
        p.setPen(QPen(bad ? theme().pictureMark : QColor(0xBF, 0xD9, 0xEE, bad ? 255 : 150), bad ? 2.4 : 1.2));
        paintCorners(p, at, half, arm);
        const Zone zone = criteria_ ? zoneOf(f, *criteria_).value_or(Zone::D) : Zone::D;
        if (thumbnail) continue;
        if (bad || zone == Zone::A || zone == Zone::B) p.drawText(at + QPointF(half + 3, 4), QString::number(judgedSize(f).value(), 'f', 1));
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
