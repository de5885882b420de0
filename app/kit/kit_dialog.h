#pragma once
#include <QComboBox>
#include <QDialog>
#include <QLineEdit>
#include <QSpinBox>
#include <QTableWidget>

#include "app/frame/job_session.h"
#include "app/widgets/text_block.h"

class QPushButton;

namespace clendo {

/// What is carried along, what is left of it, and whether it is ready for the round. Nothing here blocks: going on anyway asks for a reason.
class KitDialog : public QDialog {
    Q_OBJECT
public:
    explicit KitDialog(JobSession& session, QWidget* parent = nullptr);

protected:
    void keyPressEvent(QKeyEvent* event) override;

private:
    void refresh();
    void choose();
    void keep();
    void proveChosen(bool good);
    void lookedThrough();
    [[nodiscard]] const KitItem* chosen() const;

    JobSession& session_;
    QTableWidget* table_;
    TextBlock *open_, *said_;
    QLineEdit *id_, *connectors_, *serial_, *until_, *reason_;
    QComboBox* kind_;
    QSpinBox* most_;
    QPushButton* ready_;
};

}  // namespace clendo
