#pragma once
#include <QWidget>

#include "record/learning.h"

namespace clendo {

/// What the journal teaches, as bars that are read in a minute.
class LearnDesk : public QWidget {
    Q_OBJECT
public:
    explicit LearnDesk(QWidget* parent = nullptr);
    void show(const JobState& state);

protected:
    void paintEvent(QPaintEvent*) override;

private:
    Learned learned_;
};

}  // namespace clendo
