#include "app/quick/quick_view.h"

#include <QComboBox>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/frame/command.h"
#include "app/widgets/face_picture.h"
#include "app/widgets/text_block.h"
#include "app/widgets/theme.h"
#include "files/files.h"

namespace clendo {

QuickView::QuickView(QWidget* parent)
    : QWidget(parent),
      title_(new TextBlock(this)),
      class_(new QComboBox(this)),
      picture_(new FacePicture(this)),
      jobs_(new QWidget(this)),
      recent_(new QVBoxLayout)
{
    setObjectName(QStringLiteral("quickView"));
    title_->setText(tr("Quick look: a picture, no job"), true);
    class_->setObjectName(QStringLiteral("quickClass"));
    class_->setAccessibleName(tr("Judged as"));
    class_->setFocusPolicy(Qt::TabFocus);
    const auto criteria = loadCriteria("2015", dataFolder());
    if (criteria)
        for (const auto& [name, faceClass] : criteria->classes)
            class_->addItem(QString::fromStdString(faceClass.title), QString::fromStdString(name));
    class_->setCurrentIndex(std::max(0, class_->findData(QStringLiteral("sm-upc"))));
    picture_->setZoomable();
    auto* head = new QHBoxLayout;
    head->addWidget(title_, 1);
    head->addWidget(class_);
    jobs_->setObjectName(QStringLiteral("recentJobs"));
    jobs_->setLayout(recent_);
    recent_->setContentsMargins(0, 0, 0, 0);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(14, 10, 14, 10);
    layout->addLayout(head);
    layout->addWidget(picture_, 1);
    layout->addWidget(jobs_);
    connect(class_, &QComboBox::currentIndexChanged, this, &QuickView::classChosen);
    connect(picture_, &FacePicture::dropped, this, &QuickView::dropped);
}

std::string QuickView::className() const { return class_->currentData().toString().toStdString(); }

void QuickView::show(const QImage& image, const QuickLook* look, const QString& words)
{
    const Look* seen = look && !look->state.face(look->face).looks.empty() ? &look->state.face(look->face).looks.back() : nullptr;
    picture_->show(image, seen, look ? optionalOf(look->state.faceClass(look->face)) : std::nullopt, words);
}

void QuickView::showJobs(bool offered, const std::vector<RecentJob>& recent, const std::vector<const Command*>& others)
{
    jobs_->setVisible(offered);
    QStringList paths;
    for (const RecentJob& job : recent) paths << job.path;
    if (!offered || (paths == shown_ && recent_->count() > 0)) return;
    shown_ = paths;
    while (QLayoutItem* item = recent_->takeAt(0)) {
        delete item->widget();
        delete item;
    }
    for (const auto& [job, changed] : recent) {
        auto* button = new QPushButton(
            tr("%1   last changed %2").arg(QFileInfo(job).completeBaseName(), changed.toString(QStringLiteral("yyyy-MM-dd HH:mm"))), jobs_);
        button->setObjectName(QStringLiteral("recentJob"));
        button->setToolTip(job);
        button->setFocusPolicy(Qt::TabFocus);
        connect(button, &QPushButton::clicked, this, [this, path = job] { emit jobWanted(path); });
        recent_->addWidget(button);
    }
    auto* ways = new QWidget(jobs_);
    auto* row = new QHBoxLayout(ways);
    row->setContentsMargins(0, 0, 0, 0);
    for (const Command* command : others) {
        auto* button = new QPushButton(QStringLiteral("%1   (%2)").arg(command->words, command->key()), ways);
        button->setObjectName(QString::fromStdString(command->id));
        button->setFocusPolicy(Qt::TabFocus);
        connect(button, &QPushButton::clicked, this, [this, id = command->id] { emit commandWanted(id); });
        row->addWidget(button);
    }
    recent_->addWidget(ways);
}

}  // namespace clendo
