#pragma once
#include <QWidget>

#include "record/output/learning.h"
#include "record/rules/overrulings.h"

namespace clendo {

/// What the journal teaches, as bars that are read in a minute.
class LearnView : public QWidget {
    Q_OBJECT
public:
    explicit LearnView(QWidget* parent = nullptr);
    void show(std::span<const Entry> entries, const JobState& state);
    [[nodiscard]] const Learned& learned() const { return learned_; }

protected:
    void paintEvent(QPaintEvent*) override;

private:
    Learned learned_;
    Overrulings overruled_;
};

}  // namespace clendo
