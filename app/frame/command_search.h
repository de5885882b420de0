#pragma once
#include <QDialog>

#include "app/frame/command.h"

class QLineEdit;
class QTableWidget;

namespace clendo {

/// All commands with their keys; a few letters find one, Enter runs it. It teaches the key.
class CommandSearch : public QDialog {
    Q_OBJECT
public:
    CommandSearch(const CommandTable& commands, const QString& desk, QWidget* parent = nullptr);
    /// The id of the command that was chosen.
    [[nodiscard]] const std::string& chosen() const { return chosen_; }

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void search();
    void choose();

    const CommandTable& commands_;
    QString desk_;
    QLineEdit* typed_;
    QTableWidget* list_;
    std::vector<const Command*> found_;
    std::string chosen_;
};

}  // namespace clendo
