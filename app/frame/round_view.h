#pragma once
#include <QFrame>

#include "app/widgets/text_block.h"
#include "record/advice/round.h"

class QScrollArea;

namespace clendo {

class RoundStrips;

/// What is left: the next step as a card, the ones after it as lines, and below the whole plan as strips of ports.
class RoundView : public QFrame {
    Q_OBJECT
public:
    explicit RoundView(QWidget* parent = nullptr);
    /// `next`: the step that comes now and the ones after it; `place`: of which alone the round is; empty: all.
    void show(const std::shared_ptr<const JobState>& state, const Round& round, const std::vector<Step>& next, const FaceId& chosen,
              const std::string& place);
    void clear();

signals:
    void faceChosen(const clendo::FaceId& face);
    void kindChosen(clendo::StepKind kind);

private:
    void showNext(const std::vector<Step>& next, const Round& round);

    TextBlock* title_;
    TextBlock* progress_;
    TextBlock* card_;
    TextBlock* then_;
    QScrollArea* area_;
    RoundStrips* strips_;
    FaceId chosen_;
};

}  // namespace clendo
