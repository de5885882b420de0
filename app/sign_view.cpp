#include "app/sign_view.h"

#include <QHeaderView>
#include <QPainter>
#include <QVBoxLayout>

#include "app/theme.h"
#include "record/certificate.h"

namespace clendo {
namespace {

QPixmap faceRow(const JobState& state, const Link& link)
{
    const int h = em(1.3);
    QPixmap pixmap(h * 9, h * 2);
    pixmap.setDevicePixelRatio(2);
    pixmap.fill(Qt::transparent);
    QPainter p(&pixmap);
    double x = h * 0.75;
    bool left = true;
    for (const auto& face : link.faces()) {
        paintFace(p, {x, h / 2.0}, h * 0.36, left, state.face(face).condition);
        x += left ? 3 : h * 1.9;
        left = !left;
    }
    return pixmap;
}

}  // namespace

SignView::SignView(QWidget* parent) : QWidget(parent), title_(new QLabel(this)), table_(new QTableWidget(this))
{
    setObjectName(QStringLiteral("signView"));
    table_->setObjectName(QStringLiteral("signTable"));
    table_->setColumnCount(6);
    table_->setHorizontalHeaderLabels({tr("Fibre"), tr("Faces A, B"), tr("Loss, worst"), tr("Margin"), tr("Trace"), tr("Signed")});
    table_->verticalHeader()->hide();
    table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table_->setSelectionMode(QAbstractItemView::NoSelection);
    table_->setFocusPolicy(Qt::NoFocus);
    table_->setShowGrid(false);
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    table_->verticalHeader()->setDefaultSectionSize(em(2));
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(14, 10, 14, 10);
    layout->addWidget(title_);
    layout->addWidget(table_, 1);
}

void SignView::show(const JobState& state, const Link* chosen)
{
    if (!chosen) return;
    std::vector<const Link*> links;
    int signedCount = 0;
    for (const auto& link : state.links) {
        if (link.cable != chosen->cable) continue;
        links.push_back(&link);
        signedCount += state.state(link.id).signedAt ? 1 : 0;
    }
    title_->setText(tr("<b>Sign-off, cable %1</b>: %2 of %3 fibres signed. S signs the fibre; Shift+S signs the cable when all its fibres are.")
                        .arg(QString::fromStdString(chosen->cable->id))
                        .arg(signedCount)
                        .arg(links.size()) +
                    (state.signedCables.contains(chosen->cable->id) ? tr(" <b>The cable is signed.</b>") : QString()));
    title_->setWordWrap(true);
    table_->setRowCount(static_cast<int>(links.size()));
    for (int r = 0; r < table_->rowCount(); ++r) {
        const Link& link = *links[static_cast<std::size_t>(r)];
        const LinkState& s = state.state(link.id);
        QString worst = QStringLiteral("–"), margin = QStringLiteral("–");
        double least = 1e9;
        if (s.loss)
            for (const auto& result : s.loss->results)
                if (result.margin && result.margin->value() < least) {
                    least = result.margin->value();
                    worst = tr("%1 dB").arg(result.worst->value(), 0, 'f', 2);
                    margin = tr("%1 dB").arg(least, 0, 'f', 2);
                }
        auto* faces = new QLabel(table_);
        faces->setPixmap(faceRow(state, link));
        QStringList words;
        for (const auto& face : link.faces())
            words << QString::fromStdString(link.where(face) + ": " + std::string(name(state.face(face).condition)));
        faces->setToolTip(words.join(QLatin1Char('\n')));
        faces->setAccessibleName(words.join(QStringLiteral(", ")));
        table_->setCellWidget(r, 1, faces);
        int column = 0;
        for (const QString& text : {QStringLiteral("%1  %2").arg(link.fibre).arg(QString::fromStdString(link.colour)), QString(), worst, margin,
                                    s.traces.empty()       ? QStringLiteral("–")
                                    : s.traces.size() == 1 ? tr("1 shot")
                                                           : tr("%1 shots").arg(s.traces.size()),
                                    s.signedAt ? QString::fromStdString(s.signedBy) : QStringLiteral("–")}) {
            auto* item = new QTableWidgetItem(text);
            if (link.id == chosen->id) item->setBackground(theme().chosen);
            if (column == 3 && least < 0) item->setForeground(theme().damaged);
            table_->setItem(r, column++, item);
        }
        if (link.id == chosen->id) table_->scrollToItem(table_->item(r, 0));
    }
}

}  // namespace clendo
