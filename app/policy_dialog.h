#pragma once
#include <QComboBox>
#include <QDialog>
#include <map>

#include "record/facts.h"

namespace clendo {

/// The job's policy: each question on which good practitioners disagree, with the default, its reason and what it changes.
class PolicyDialog : public QDialog {
    Q_OBJECT
public:
    explicit PolicyDialog(const JobSettings& job, QWidget* parent = nullptr);
    /// The job with the answers that were chosen.
    [[nodiscard]] JobSettings job() const;

private:
    JobSettings job_;
    std::map<std::string, QComboBox*> answers_;  ///< by question
};

}  // namespace clendo
