#pragma once
#include <QCheckBox>
#include <QComboBox>
#include <QDialog>
#include <QDoubleSpinBox>
#include <QListWidget>
#include <QSpinBox>
#include <map>
#include <vector>

#include "record/state/job_policy.h"

class QGridLayout;

namespace clendo {

/// What holds for the whole job: cords, limits, wavelengths, attempts, and the questions on which practitioners disagree. Each with its default and
/// what it changes, in a line.
class PolicyDialog : public QDialog {
    Q_OBJECT
public:
    explicit PolicyDialog(const JobSettings& job, QWidget* parent = nullptr);
    /// The settings as they were chosen.
    [[nodiscard]] JobSettings job() const;

private:
    void row(const QString& question, QWidget* answer, const QString& why, const QString& changes);
    void cords();
    void limits();
    void wavelengths();
    void attempts();
    void questions();
    void chooseLimits(int index);
    void alsoLimits();
    QDoubleSpinBox* cord(const char* name, Metre now);

    JobSettings job_;
    QWidget* inside_;
    QGridLayout* grid_;
    QDoubleSpinBox *launch_, *tail_;
    QComboBox* limits_;
    QListWidget* also_;
    QSpinBox* attempts_;
    int limitsBefore_ = 0;
    std::vector<std::pair<int, QCheckBox*>> wavelengths_;
    std::map<std::string, QComboBox*> answers_;
};

}  // namespace clendo
