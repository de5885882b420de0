#pragma once
#include <QAbstractTableModel>
#include <vector>

#include "batch/sheet.h"
#include "record/advice/advice.h"

namespace clendo {

/// How the outcome of a picture is coloured.
Tone toneOf(SheetOutcome outcome);

/// The rows of a sheet, worst first while a folder is judged, the newest first on a line.
class SheetModel : public QAbstractTableModel {
    Q_OBJECT
public:
    using QAbstractTableModel::QAbstractTableModel;
    void clear(bool line);
    void add(const std::vector<SheetRow>& rows, const FaceClass& faceClass);
    [[nodiscard]] const std::vector<SheetRow>& taken() const { return taken_; }  ///< in the order in which they came
    [[nodiscard]] const SheetRow* at(const QModelIndex& index) const;
    [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
    [[nodiscard]] int columnCount(const QModelIndex& = {}) const override { return 4; }
    [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override;
    [[nodiscard]] QVariant headerData(int section, Qt::Orientation orientation, int role) const override;

private:
    std::vector<SheetRow> taken_;
    std::vector<std::pair<Severity, std::size_t>> shown_;  ///< places in `taken_`
    FaceClass faceClass_;
    bool line_ = false;
};

}  // namespace clendo
