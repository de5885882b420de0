#pragma once
#include <QFuture>
#include <QMainWindow>
#include <QStackedWidget>
#include <map>
#include <memory>
#include <optional>

#include "app/frame/command.h"
#include "app/frame/desk.h"
#include "app/frame/open_job.h"
#include "app/frame/side_column.h"
#include "app/frame/window_frame.h"
#include "record/advice/next_step.h"

class QFrame;
class QPushButton;
class QTimer;

namespace clendo {

class AdviceView;
class BigWords;
class ClocksBar;
class RibbonView;
class Room;
class RoundView;
class WorkBar;

/// Ribbon, round, desk, advice and clocks. Holds what is chosen and nothing else; every fact goes through the session. Knows no desk and no command
/// by name: they register themselves (desk.h, command.h).
class MainWindow : public QMainWindow, public WindowFrame {
    Q_OBJECT
public:
    explicit MainWindow(QWidget* parent = nullptr);
    ~MainWindow() override;

    using WindowFrame::openJob;
    void openJob(const QString& path, Again again, std::function<void()> then) override;
    void createJob(const QString& path, const QString& name, std::function<void()> then) override;
    void createJob(const QString& path, const QString& name)
    {
        createJob(path, name, [this] { say(tr("New job. Plan the first cable: B.")); });
    }
    /// The same for a job that is being read already.
    using JobOnItsWay = QFuture<std::shared_ptr<Result<ReadJob>>>;
    void takeJob(const JobOnItsWay& job, std::function<void()> then = {});
    /// Whether a job is being read.
    [[nodiscard]] bool opening() const { return opening_ != nullptr; }

    [[nodiscard]] JobSession* session() const override { return job_ ? job_->session.get() : nullptr; }
    [[nodiscard]] OpenJob* job() const override { return job_.get(); }
    [[nodiscard]] const FaceId& chosen() const override { return chosen_; }
    [[nodiscard]] const Link* link() const override;
    void choose(const FaceId& face) override;
    void showDesk(const QString& id) override;
    [[nodiscard]] QString desk() const override { return desk_->id(); }
    [[nodiscard]] const CommandTable& commands() const override { return commands_; }
    void run(std::string_view id) override;
    [[nodiscard]] bool again() const override { return again_; }
    [[nodiscard]] FacePicture* picture() const override { return desk_->picture(); }
    void working(StepKind kind) override { working_ = kind; }
    using WindowFrame::say;
    void say(const QString& sentence, bool trouble = false) override;
    void say(const Error& error) override;
    void takeFile(const QString& file) override;
    void refresh() override;
    void follow(const QString& title, const QFuture<Result<QString>>& work) override;
    QWidget* widget() override { return this; }

protected:
    void keyPressEvent(QKeyEvent*) override;
    void showEvent(QShowEvent*) override;
    void closeEvent(QCloseEvent*) override;
    void resizeEvent(QResizeEvent*) override;
    void dragEnterEvent(QDragEnterEvent*) override;
    void dropEvent(QDropEvent*) override;

private:
    void buildParts();
    void buildCommands();
    [[nodiscard]] std::vector<Command> ownCommands();
    void openMenu();
    void findCommand();
    void run(const Command& command);
    void setJob(std::unique_ptr<JobSession> session);
    void askForJob(bool fresh);
    /// What is being judged or filed.
    [[nodiscard]] int underWay() const;
    void closeWhenDone();
    [[nodiscard]] Shown shown() const;
    void showNoJob();
    /// Where a file is worked on, the shown one first; null: nowhere.
    [[nodiscard]] Desk* deskFor(const QString& file) const;
    /// Where a step of the round is done.
    [[nodiscard]] Desk* deskFor(StepKind kind) const;
    /// Made when the view is first shown.
    QWidget* roomFor(QWidget* view);
    void setChosen(const FaceId& face);
    void goTo(const Step& step);
    [[nodiscard]] Standing standing() const { return {chosen_, desk_->isFor(StepKind::Look), working_}; }
    void goOn();
    void moveFace(int by);
    void moveLink(int by);
    void nextPlace();
    void leaveOrStop();
    void showCarry();
    void showBigWords();
    void setDark(bool dark);
    void showColumns();

    std::unique_ptr<OpenJob> job_;
    LeftJobs* leftJobs_;
    QObject* opening_ = nullptr;  ///< the job that is being read
    QString openingPath_;
    bool closing_ = false;
    std::vector<Desk*> desks_;  ///< in the order of their numbers
    Desk* desk_ = nullptr;
    CommandTable commands_;
    std::string ranLast_;  ///< the command that ran last
    bool again_ = false;
    FaceId chosen_;
    bool dark_ = false;
    StepKind working_ = StepKind::Look;  ///< what was done last: looking or cleaning
    std::string place_;                  ///< of which the round is shown; empty: all

    QFrame* bar_;
    class TextBlock *jobLabel_, *rulesLabel_;
    QPushButton* menuButton_;
    RibbonView* ribbon_;
    RoundView* round_;
    AdviceView* advice_;
    std::optional<SideColumn> roundColumn_, adviceColumn_;
    WorkBar* work_;
    ClocksBar* clocks_;
    QStackedWidget* stack_;
    std::map<QWidget*, Room*> rooms_;  ///< by the view in it
    BigWords* bigWords_ = nullptr;
    QTimer* ageing_;
};

}  // namespace clendo
