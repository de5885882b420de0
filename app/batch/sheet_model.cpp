#include "app/batch/sheet_model.h"

#include <QFileInfo>
#include <algorithm>

#include "app/widgets/theme.h"
#include "app/widgets/words.h"
#include "record/advice/batch_advice.h"

namespace clendo {
void SheetModel::clear(bool line)
{
    beginResetModel();
    taken_.clear();
    shown_.clear();
    line_ = line;
    endResetModel();
}

void SheetModel::add(const std::vector<SheetRow>& rows, const FaceClass& faceClass)
{
    beginResetModel();
    faceClass_ = faceClass;
    for (const auto& row : rows) {
        const std::pair entry{severityOf(row), taken_.size()};
        taken_.push_back(row);
        const auto place =
            line_ ? shown_.begin()
                  : std::upper_bound(shown_.begin(), shown_.end(), entry, [](const auto& a, const auto& b) { return a.first.worseThan(b.first); });
        shown_.insert(place, entry);
    }
    endResetModel();
}

const SheetRow* SheetModel::at(const QModelIndex& index) const
{
    const auto row = static_cast<std::size_t>(index.row());
    return index.isValid() && row < shown_.size() ? &taken_[shown_[row].second] : nullptr;
}

int SheetModel::rowCount(const QModelIndex& parent) const { return parent.isValid() ? 0 : static_cast<int>(shown_.size()); }

QVariant SheetModel::data(const QModelIndex& index, int role) const
{
    const SheetRow* row = at(index);
    if (!row) return {};
    const auto outcome = outcomeOf(*row);
    if (role == Qt::ForegroundRole && index.column() == 1) return theme().of(toneOf(outcome));
    if (role == Qt::ToolTipRole && index.column() == 3) return QString::fromStdString(whyOf(*row, faceClass_));
    if (role != Qt::DisplayRole) return {};
    switch (index.column()) {
        case 0: return QString::fromStdString(row->called());
        case 1: return text(name(outcome));
        case 2: return QString::fromStdString(whyOf(*row, faceClass_));
        case 3: return QFileInfo(QString::fromStdString(row->file)).fileName();
        default: return {};
    }
}

QVariant SheetModel::headerData(int section, Qt::Orientation orientation, int role) const
{
    if (orientation != Qt::Horizontal || role != Qt::DisplayRole) return {};
    return QStringList{tr("Cord"), tr("Outcome"), tr("Why"), tr("Picture")}.value(section);
}

}  // namespace clendo
