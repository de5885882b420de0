#include "app/widgets/cord_box.h"

#include <QSignalBlocker>
#include <algorithm>

namespace clendo {
namespace {

constexpr int endRole = Qt::UserRole + 1;  // which end goes to the link

}  // namespace

CordBox::CordBox(const QString& nothing, const QString& turned, QWidget* parent) : QComboBox(parent), nothing_(nothing), turned_(turned)
{
    setFocusPolicy(Qt::TabFocus);
    setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    addItem(nothing_);
}

void CordBox::offer(const JobState& state, bool only)
{
    QStringList names;
    for (const auto& [id, item] : state.kit)
        if (item.what.kind == "cord" && !item.what.gone) names << QString::fromStdString(id);
    if (names == std::exchange(names_, names)) return;
    const QString chosen = currentIndex() > 0 ? currentText() : only && plain_ && names.size() == 1 ? names.front() : QString();
    const QSignalBlocker quiet(this);
    clear();
    addItem(nothing_);
    for (const auto& name : names) {
        if (plain_) addItem(name, name);
        for (const auto& [away, free] : {std::pair("A", "B"), {"B", "A"}}) {
            addItem(turned_.arg(name, QLatin1String(away)), name);
            setItemData(count() - 1, QLatin1String(free), endRole);
        }
    }
    setCurrentIndex(std::max(0, findText(chosen)));
}

std::string CordBox::cord() const { return currentData().toString().toStdString(); }

std::optional<FaceId> CordBox::freeEnd() const
{
    const QString free = currentData(endRole).toString();
    if (free.isEmpty()) return std::nullopt;
    return FaceId{cord(), free == QLatin1String("A") ? End::A : End::B, Side::Cord};
}

}  // namespace clendo
