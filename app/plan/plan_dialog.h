#pragma once
#include <QComboBox>
#include <QDialog>
#include <QLabel>
#include <QLineEdit>
#include <QSpinBox>
#include <optional>

#include "plant/connectors.h"
#include "plant/plan.h"

namespace clendo {

class PlanDrawing;

/// One cable from nothing, or like another, drawn while it is typed. Enter accepts what is complete; else a sentence says what is missing, and its
/// field is chosen.
/// What is against the rules of the trade is said, and a second Enter plans it anyway.
class PlanDialog : public QDialog {
    Q_OBJECT
public:
    /// `planned`: the job's cables. `like`: what the fields begin with; may be null.
    PlanDialog(const std::vector<CablePlan>& planned, const std::vector<ConnectorFamily>& families, const CablePlan* like, QWidget* parent = nullptr);
    [[nodiscard]] const CablePlan& cable() const { return cable_; }

protected:
    void accept() override;

private:
    QLineEdit* edit(const char* objectName, const QString& hint);
    QComboBox* choice(const char* objectName, const QStringList& choices);
    QWidget* fields();
    void begin(const CablePlan& like);
    /// What is wrong, and with which field.
    struct Wrong {
        QString sentence;
        QWidget* field;
    };
    std::optional<Wrong> read(CablePlan& into) const;
    [[nodiscard]] std::optional<Wrong> wrongIn(const CablePlan& cable) const;
    [[nodiscard]] QString oddities(const CablePlan& cable) const;
    void drawTyped();

    const std::vector<CablePlan> planned_;
    const std::vector<ConnectorFamily> families_;
    QLineEdit *id_, *placeA_, *rackA_, *panelA_, *portsA_, *placeB_, *rackB_, *panelB_, *portsB_, *length_, *splices_, *inner_, *deviceA_, *deviceB_;
    QSpinBox *fibres_, *ferrule_, *tube_;
    QComboBox *fibre_, *connector_, *class_, *connectorB_, *classB_, *cordA_, *cordB_, *accessA_, *accessB_, *pinsA_, *pinsB_, *polarity_, *use_;
    QString warned_;  ///< what was said at the last Enter
    PlanDrawing* drawing_;
    QLabel* trouble_;
    CablePlan cable_;
};

}  // namespace clendo
