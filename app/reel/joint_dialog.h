#pragma once
#include <QComboBox>
#include <QDialog>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QSpinBox>
#include <functional>

#include "app/widgets/text_block.h"
#include "record/facts/reel_facts.h"
#include "reel/joint_kinds.h"

namespace clendo {

/// Getting light into a bare end: the part's own figures, and its steps to tick, with what can hurt where it can.
class JointDialog : public QDialog {
    Q_OBJECT
public:
    /// `last`: the joint that was made before, whose kind and part are taken; null: none. `usesOf`: how often a part was used so far.
    JointDialog(std::string reel, int fibre, int fibres, reel::JointKinds kinds, const ReelJointMade* last,
                std::function<int(const std::string& part)> usesOf, QWidget* parent);
    [[nodiscard]] ReelJointMade made() const;

private:
    void fill();
    void follow();
    [[nodiscard]] const reel::JointKind* kind() const;

    std::string reel_;
    reel::JointKinds kinds_;
    std::function<int(const std::string&)> usesOf_;
    QSpinBox* fibre_;
    QComboBox* kind_;
    QLineEdit* part_;
    TextBlock *figures_, *caution_;
    QListWidget* steps_;
};

}  // namespace clendo
