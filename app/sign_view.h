#pragma once
#include <QLabel>
#include <QTableWidget>
#include <QWidget>

#include "app/job_session.h"

namespace clendo {

/// All fibres of the cable: faces, loss, trace, signature; the chosen one marked.
class SignView : public QWidget {
    Q_OBJECT
public:
    explicit SignView(QWidget* parent = nullptr);
    void show(const JobState& state, const Link* link);

private:
    QLabel* title_;
    QTableWidget* table_;
};

}  // namespace clendo
