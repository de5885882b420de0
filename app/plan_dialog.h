#pragma once
#include <QComboBox>
#include <QDialog>
#include <QLabel>
#include <QLineEdit>
#include <QSpinBox>

#include "plant/plan.h"

namespace clendo {

/// One cable from nothing: two ends, fibres, length, splices. Enter accepts what is complete; else a sentence says what is missing.
class PlanDialog : public QDialog {
    Q_OBJECT
public:
    explicit PlanDialog(QWidget* parent = nullptr);
    [[nodiscard]] const CablePlan& cable() const { return cable_; }

protected:
    void accept() override;

private:
    QLineEdit* edit(const char* objectName, const QString& hint);

    QLineEdit *id_, *placeA_, *panelA_, *placeB_, *panelB_, *length_, *splices_;
    QSpinBox *fibres_, *ferrule_;
    QComboBox *fibre_, *criteria_;
    QLabel* trouble_;
    CablePlan cable_;
};

/// "1180, 1905" or "1180 manhole 3; 1905 sea wall" as splices. An Error names the part that is no distance.
Result<std::vector<Splice>> parseSplices(const QString& text);
/// A length with comma or point, with or without m or km.
std::optional<Metre> parseLength(QString text);

}  // namespace clendo
