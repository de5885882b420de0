#include "app/loss/gear_row.h"

#include <QHBoxLayout>
#include <QSignalBlocker>
#include <algorithm>

namespace clendo {
namespace {

constexpr int endRole = Qt::UserRole + 1;  // of a cord in hand, which of its ends is free

}  // namespace

GearRow::GearRow(QWidget* parent) : QWidget(parent), takenOffLabel_(new QLabel(tr("Taken off"), this)), takenOff_(new QComboBox(this))
{
    auto* gear = new QHBoxLayout(this);
    gear->setContentsMargins(0, 0, 0, 0);
    for (const auto& [kind, words] : {std::pair("source", tr("Source")), {"meter", tr("Meter")}, {"cord", tr("Cord")}}) {
        auto* box = new QComboBox(this);
        box->setObjectName(QStringLiteral("gear_%1").arg(QLatin1String(kind)));
        box->setAccessibleName(words);
        box->setFocusPolicy(Qt::TabFocus);
        box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
        gear->addWidget(new QLabel(words, this));
        gear->addWidget(box, 1);
        boxes_.emplace_back(kind, box);
        connect(box, &QComboBox::activated, this, &GearRow::changed);
    }
    gear->addWidget(takenOffLabel_);
    gear->addWidget(takenOff_, 1);
    takenOff_->setObjectName(QStringLiteral("takenOff"));
    takenOff_->setAccessibleName(tr("Launch cord whose loss is taken off"));
    takenOff_->setFocusPolicy(Qt::TabFocus);
}

/// What the kit has; the only one of its kind is in hand, of several nothing is said until somebody says it.
void GearRow::offer(const JobState& state)
{
    bool any = false;
    for (auto& [kind, box] : boxes_) {
        struct Item {
            QString words, name, free;  ///< which end is free; empty: not said
        };
        QList<Item> items;
        QStringList names, before;
        for (const auto& [id, item] : state.kit) {
            if (item.what.kind != kind || item.what.gone) continue;
            const QString name = QString::fromStdString(id);
            names << name;
            items << Item{name, name, {}};
            if (kind == "cord")
                items << Item{tr("%1, end A on the source").arg(name), name, QStringLiteral("B")}
                      << Item{tr("%1, end B on the source").arg(name), name, QStringLiteral("A")};
        }
        any = any || !names.isEmpty();
        for (int i = 1; i < box->count(); ++i)
            if (box->itemData(i, endRole).toString().isEmpty()) before << box->itemText(i);
        if (before == names && box->count() > 0) continue;
        const QString inHand = box->currentIndex() > 0 ? box->currentText() : names.size() == 1 ? names.front() : QString();
        const QSignalBlocker quiet(box);
        box->clear();
        box->addItem(tr("not said"));
        for (const auto& item : items) {
            box->addItem(item.words, item.name);
            box->setItemData(box->count() - 1, item.free, endRole);
        }
        box->setCurrentIndex(std::max(0, box->findText(inHand)));
    }
    setVisible(any);
    const bool subtract = state.policy("launch_loss") == "subtract";
    takenOffLabel_->setVisible(subtract);
    takenOff_->setVisible(subtract);
    const QString before = takenOff_->currentIndex() > 0 ? takenOff_->currentText() : QString();
    takenOff_->clear();
    takenOff_->addItem(tr("no launch cord"));
    for (const auto& [id, item] : state.kit)
        if (subtract && item.what.kind == "cord" && !item.what.gone) takenOff_->addItem(QString::fromStdString(id));
    takenOff_->setCurrentIndex(std::max(0, takenOff_->findText(before)));
}

std::vector<std::string> GearRow::names() const
{
    std::vector<std::string> out;
    for (const auto& [kind, box] : boxes_)
        if (box->currentIndex() > 0) out.push_back(box->currentData().toString().toStdString());
    return out;
}

std::optional<FaceId> GearRow::freeEnd() const
{
    for (const auto& [kind, box] : boxes_)
        if (const QString free = box->currentData(endRole).toString(); !free.isEmpty())
            return FaceId{box->currentData().toString().toStdString(), free == QLatin1String("A") ? End::A : End::B, Side::Cord};
    return std::nullopt;
}

std::string GearRow::launchCord() const { return takenOff_->currentIndex() > 0 ? takenOff_->currentText().toStdString() : std::string(); }

std::string GearRow::meter() const
{
    for (const auto& [kind, box] : boxes_)
        if (kind == "meter" && box->currentIndex() > 0) return box->currentText().toStdString();
    return {};
}

}  // namespace clendo
