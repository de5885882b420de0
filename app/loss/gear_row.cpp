#include "app/loss/gear_row.h"

#include <QHBoxLayout>
#include <QSignalBlocker>
#include <algorithm>

namespace clendo {
namespace {

/// What the kit has of a kind; the only one is in hand, of several nothing is said until somebody says it. Gives whether there is any.
bool offerKind(QComboBox& box, const JobState& state, std::string_view kind)
{
    QStringList names, before;
    for (const auto& [id, item] : state.kit)
        if (item.what.kind == kind && !item.what.gone) names << QString::fromStdString(id);
    for (int i = 1; i < box.count(); ++i) before << box.itemText(i);
    if (before == names && box.count() > 0) return !names.isEmpty();
    const QString inHand = box.currentIndex() > 0 ? box.currentText() : names.size() == 1 ? names.front() : QString();
    const QSignalBlocker quiet(&box);
    box.clear();
    box.addItem(GearRow::tr("not said"));
    for (const auto& name : names) box.addItem(name, name);
    box.setCurrentIndex(std::max(0, box.findText(inHand)));
    return !names.isEmpty();
}

}  // namespace

GearRow::GearRow(QWidget* parent)
    : QWidget(parent),
      source_(new QComboBox(this)),
      meter_(new QComboBox(this)),
      cord_(new CordBox(tr("not said"), tr("%1, end %2 on the source"), this)),
      receive_(new CordBox(tr("not said"), tr("%1, end %2 on the meter"), this)),
      takenOffLabel_(new QLabel(tr("Taken off"), this)),
      takenOff_(new QComboBox(this))
{
    auto* gear = new QHBoxLayout(this);
    gear->setContentsMargins(0, 0, 0, 0);
    cord_->offerPlain(true);
    struct Box {
        const char* name;
        QString words;
        QComboBox* box;
    };
    for (const auto& [name, words, box] : {Box{"gear_source", tr("Source"), source_}, Box{"gear_meter", tr("Meter"), meter_},
                                           Box{"gear_cord", tr("Its cord"), cord_}, Box{"gear_receive", tr("Meter's cord"), receive_}}) {
        box->setObjectName(QLatin1String(name));
        box->setAccessibleName(words);
        box->setFocusPolicy(Qt::TabFocus);
        box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
        gear->addWidget(new QLabel(words, this));
        gear->addWidget(box, 1);
        connect(box, &QComboBox::activated, this, &GearRow::changed);
    }
    gear->addWidget(takenOffLabel_);
    gear->addWidget(takenOff_, 1);
    takenOff_->setObjectName(QStringLiteral("takenOff"));
    takenOff_->setAccessibleName(tr("Launch cord whose loss is taken off"));
    takenOff_->setFocusPolicy(Qt::TabFocus);
}

void GearRow::offer(const JobState& state)
{
    const bool sources = offerKind(*source_, state, "source"), meters = offerKind(*meter_, state, "meter");
    cord_->offer(state, true);
    receive_->offer(state);
    setVisible(sources || meters || cord_->count() > 1);
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
    for (const QComboBox* box : {source_, meter_, static_cast<QComboBox*>(cord_)})
        if (box->currentIndex() > 0) out.push_back(box->currentData().toString().toStdString());
    return out;
}

std::string GearRow::launchCord() const { return takenOff_->currentIndex() > 0 ? takenOff_->currentText().toStdString() : std::string(); }

std::string GearRow::meter() const { return meter_->currentIndex() > 0 ? meter_->currentText().toStdString() : std::string(); }

}  // namespace clendo
