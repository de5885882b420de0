#pragma once
#include <QTableWidget>

#include "record/state/state.h"

namespace clendo {

/// The line piece by piece: what was planned beside what a shot shows there.
class LineTable : public QTableWidget {
    Q_OBJECT
public:
    explicit LineTable(QWidget* parent = nullptr);
    void show(const JobState& state, const Link& link, const TraceShot& shot);
    using QTableWidget::show;
};

}  // namespace clendo
