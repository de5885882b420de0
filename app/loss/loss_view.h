#pragma once
#include <QComboBox>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QWidget>
#include <map>

#include "app/frame/job_session.h"
#include "app/loss/light_gear.h"

namespace clendo {

class GearRow;
class LightRun;
class PlugDrawing;
class ReferenceDrawing;

/// Reference and readings: what to plug into what, the levels by wavelength and direction, where the loss goes, all fibres small.
class LossView : public QWidget {
    Q_OBJECT
public:
    explicit LossView(const LightRun& run, QWidget* parent = nullptr);
    void show(JobSession& session, const Link* link);
    /// Puts the cursor into the first reference (or reading) that is missing, else into the first.
    void focusReference();
    void focusReading();
    [[nodiscard]] LightGear inHand() const;

private:
    class Budget;
    class Fibres;
    struct Field {
        bool reference = false;
        int wavelength = 0;
        Direction direction = Direction::AtoB;
        QLineEdit* edit = nullptr;
    };

    void build(const std::vector<int>& wavelengths);
    void fill(const JobState& state, const Link& link);
    void typed(const Field& field);
    void typedRelative(const Field& field);
    bool confirmed(const Field& field, const PowerRead& read);
    void tell(const QString& trouble);
    void fileReading(const Field& field, DecibelMilliwatt level);
    void focusFirst(bool reference);
    void focusNext(const Field& field);

    JobSession* session_ = nullptr;
    std::string link_;
    void gearChanged();

    QComboBox* method_;
    GearRow* gear_;
    QWidget* grid_;
    QLabel* trouble_;
    QComboBox* launch_;
    ReferenceDrawing* references_;
    PlugDrawing* diagram_;
    Budget* budget_;
    Fibres* fibres_;
    std::vector<Field> fields_;
    std::vector<int> builtFor_;
    std::pair<const QLineEdit*, QString> asked_{};  ///< of a figure that was asked about
};

}  // namespace clendo
