#include "app/look/ferrule_view.h"

#include <QMouseEvent>
#include <QVBoxLayout>

#include "app/widgets/theme.h"
#include "record/state/ferrule.h"

namespace clendo {
namespace {

/// Of a ferrule, as its fibres lie.
int perRow(std::size_t fibres) { return static_cast<int>(fibres) / rowsOfFerrule(static_cast<int>(fibres)); }

}  // namespace

FerruleView::FerruleView(QWidget* parent) : QWidget(parent), title_(new TextBlock(this)), grid_(new QGridLayout)
{
    setObjectName(QStringLiteral("ferruleView"));
    title_->setObjectName(QStringLiteral("ferruleTally"));
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(title_);
    layout->addLayout(grid_);
    grid_->setSpacing(4);
}

void FerruleView::build(std::size_t count)
{
    for (const auto& cell : cells_) {
        delete cell.picture;
        delete cell.words;
    }
    cells_.clear();
    for (std::size_t i = 0; i < count; ++i) {
        const int wide = perRow(count), row = 2 * (static_cast<int>(i) / wide), column = static_cast<int>(i) % wide;
        auto* picture = new FacePicture(this);
        picture->setObjectName(QStringLiteral("fibre%1").arg(i + 1));
        picture->setMinimumSize(em(2), em(2.6));
        picture->setFixedHeight(em(2.6));
        picture->setAcceptDrops(false);
        auto* words = new QLabel(this);
        words->setAlignment(Qt::AlignCenter);
        words->setMinimumWidth(em(1));
        connect(picture, &FacePicture::clicked, this, [this, i] {
            if (i < faces_.size()) emit chosen(faces_[i]);
        });
        grid_->addWidget(picture, row, column);
        grid_->addWidget(words, row + 1, column);
        cells_.push_back({picture, words});
    }
}

void FerruleView::show(const JobState& state, const FaceId& chosen, const QString& words, const ImageOf& imageOf)
{
    faces_ = ferruleOf(state, chosen);
    if (cells_.size() != faces_.size()) build(faces_.size());
    title_->setParagraphs({{{tr("All fibres  "), true}, {words, false, theme().soft}}});
    for (std::size_t i = 0; i < faces_.size(); ++i) {
        const FaceState& face = state.face(faces_[i]);
        const Link* link = state.link(faces_[i].link);
        const Look* look = face.lastJudged();
        const auto condition = name(face.condition);
        cells_[i].picture->show(look ? imageOf(look->seen.picture) : QImage(), look, optionalOf(state.faceClass(faces_[i])), QString());
        cells_[i].picture->setMark(face.condition);
        cells_[i].picture->setToolTip(
            tr("fibre %1: %2").arg(link->fibre).arg(QString::fromUtf8(condition.data(), static_cast<qsizetype>(condition.size()))));
        const bool here = faces_[i] == chosen;
        cells_[i].words->setText(here ? QStringLiteral("▸%1").arg(link->fibre) : QString::number(link->fibre));
        QFont font = this->font();
        font.setBold(here);
        cells_[i].words->setFont(font);
    }
}

}  // namespace clendo
