#pragma once
#include <QWidget>

#include "record/learning.h"
#include "record/overrulings.h"

namespace clendo {

/// What the journal teaches, as bars that are read in a minute.
class LearnDesk : public QWidget {
    Q_OBJECT
public:
    explicit LearnDesk(QWidget* parent = nullptr);
    void show(std::span<const Entry> entries, const JobState& state);
    [[nodiscard]] const Learned& learned() const { return learned_; }

protected:
    void paintEvent(QPaintEvent*) override;

private:
    Learned learned_;
    Overrulings overruled_;
};

}  // namespace clendo
