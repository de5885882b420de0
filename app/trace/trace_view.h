#pragma once
#include <QLabel>
#include <QTableWidget>
#include <QWidget>

#include "app/frame/job_session.h"
#include "app/trace/trace_intake.h"
#include "app/widgets/cord_box.h"
#include "modules/trace_plot.h"

namespace clendo {

/// The measured trace over what was planned, and the line piece by piece. Which of the shots is shown: key D.
class TraceView : public QWidget {
    Q_OBJECT
public:
    explicit TraceView(QWidget* parent = nullptr);
    void show(JobSession& session, const Link* link);
    void nextShot();
    /// The cords with which is shot, as far as it was said.
    [[nodiscard]] ShotCords cords() const { return {launch_->freeEnd(), tail_->freeEnd()}; }

signals:
    void dropped(const QString& path);

protected:
    void dragEnterEvent(QDragEnterEvent*) override;
    void dropEvent(QDropEvent*) override;

private:
    void plot(const TraceShot& shot, const Link& link);
    void table(const TraceShot& shot, const Link& link);

    JobSession* session_ = nullptr;
    std::string link_;
    std::size_t shot_ = 0, shots_ = 0;
    QLabel* title_;
    QLabel* empty_;
    TracePlot* plot_ = nullptr;  ///< none where the module is missing: the table still shows everything
    QTableWidget* pieces_;
    QWidget* shotWith_;
    CordBox *launch_, *tail_;
};

}  // namespace clendo
