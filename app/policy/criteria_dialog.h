#pragma once
#include <QDialog>
#include <QDoubleSpinBox>
#include <QLineEdit>
#include <QPushButton>

#include "app/frame/job_session.h"
#include "app/policy/criteria_column.h"

namespace clendo {

/// Acceptance criteria: two side by side on the chosen face, copied and changed for the house, and the one that this job is judged by.
class CriteriaDialog : public QDialog {
    Q_OBJECT
public:
    CriteriaDialog(JobSession& session, const FaceId& face, QWidget* parent = nullptr);

private:
    void showBoth();
    void offer();
    void copy();
    void keep();
    void use();
    void readFrom();
    void saveTo();
    void say(const QString& sentence, bool trouble);
    /// `done`: what to say then.
    void file(const Criteria& criteria, const QString& done);
    [[nodiscard]] Result<Criteria> criteriaOf(const QString& edition) const;
    [[nodiscard]] bool isOwn(const QString& edition) const;
    [[nodiscard]] const face::FaceMeasurement* look() const;

    JobSession& session_;
    FaceId face_;
    CriteriaColumn *left_, *right_;
    QComboBox* class_;
    QLineEdit* name_;
    QDoubleSpinBox* mustResolve_;
    QPushButton *keep_, *use_;
    TextBlock* said_;
};

}  // namespace clendo
