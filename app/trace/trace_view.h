#pragma once
#include <QLabel>
#include <QWidget>

#include "app/frame/job_session.h"
#include "app/trace/line_marks.h"
#include "app/trace/trace_drawing.h"
#include "app/trace/trace_intake.h"
#include "app/widgets/cord_box.h"
#include "modules/trace_plot.h"

namespace clendo {

class LineTable;
class OverviewStrip;

/// The measured trace over what was planned, and the line piece by piece. Which of the shots is shown: key D.
class TraceView : public QWidget {
    Q_OBJECT
public:
    explicit TraceView(QWidget* parent = nullptr);
    void show(JobSession& session, const Link* link);
    void nextShot();
    /// Of what is seen of the line: a part of it about the same middle, the parts beside it, all of it.
    void zoomBy(double factor);
    void panBy(double share);
    void showWhole();
    /// The joint before or behind the middle of what is seen comes to the middle.
    void toJoint(bool further);
    /// Other marks to measure with, or none.
    void nextMarks();
    /// The chosen mark moves by a pixel and a bit, or another one is chosen.
    void nudgeMark(int by);
    void chooseMark(bool further);
    /// Beside the shot from the other end: the first one from this end, or that of the reel from which the cable was laid, and what was lost since.
    void nextThen();
    void askForExport();
    [[nodiscard]] const std::optional<SeenRange>& range() const { return range_; }
    [[nodiscard]] const TraceDrawing& drawn() const { return drawn_; }
    /// The cords with which is shot, as far as it was said.
    [[nodiscard]] ShotCords cords() const { return {launch_->freeEnd(), tail_->freeEnd()}; }

signals:
    void said(const QString& sentence, bool trouble);

private:
    void plot();
    void see(double from, double to);
    void entitle(const Link& link);
    [[nodiscard]] const TraceShot* shown() const;
    /// What lies beneath the shown shot; nothing: there is no such shot.
    [[nodiscard]] std::optional<TraceShot> beneath(const TraceShot& shot, const Link& link) const;
    [[nodiscard]] std::shared_ptr<const otdr::Trace> traceOf(const TraceShot& shot) const;

    JobSession* session_ = nullptr;
    std::string link_;
    std::size_t shot_ = 0, shots_ = 0;
    enum class Beneath { OtherEnd, First, Reel } beneath_ = Beneath::OtherEnd;
    TraceDrawing drawn_;
    LineMarks marks_;
    std::optional<SeenRange> range_, whole_;
    QLabel* title_;
    QLabel* empty_;
    TracePlot* plot_ = nullptr;  ///< none where the module is missing: the table still shows everything
    OverviewStrip* overview_;
    QLabel* measured_;
    LineTable* pieces_;
    QWidget* shotWith_;
    CordBox *launch_, *tail_;
};

}  // namespace clendo
