#pragma once
#include <QMainWindow>
#include <QStackedWidget>
#include <memory>

#include "app/frame/command.h"
#include "app/frame/desk.h"
#include "app/frame/open_job.h"
#include "app/frame/window_frame.h"

class QFrame;
class QPushButton;
class QTimer;

namespace clendo {

class AdviceView;
class BigWords;
class ClocksBar;
class FoldStrip;
class RibbonView;
class RoundView;

/// Ribbon, round, desk, advice and clocks. Holds what is chosen and nothing else; every fact goes through the session. Knows no desk and no command
/// by name: they register themselves (desk.h, command.h).
class MainWindow : public QMainWindow, public WindowFrame {
    Q_OBJECT
public:
    explicit MainWindow(QWidget* parent = nullptr);
    ~MainWindow() override;

    using WindowFrame::openJob;
    bool openJob(const QString& path, Again again) override;
    /// The same for a job that has been read already.
    bool openJob(Result<ReadJob> job);
    bool createJob(const QString& path, const QString& name);

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
    void say(const QString& sentence, bool trouble = false) override;
    void say(const Error& error) override;
    void takeFile(const QString& file) override;
    void refresh() override;
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
    [[nodiscard]] int stillJudged() const;
    [[nodiscard]] Shown shown() const;
    void showNoJob();
    /// Where a file is worked on, the shown one first; null: nowhere.
    [[nodiscard]] Desk* deskFor(const QString& file) const;
    /// Where a step of the round is done.
    [[nodiscard]] Desk* deskFor(StepKind kind) const;
    void setChosen(const FaceId& face);
    void goTo(const Step& step);
    void goOn();
    void moveFace(int by);
    void moveLink(int by);
    void nextPlace();
    void showCarry();
    void showBigWords();
    void setDark(bool dark);
    void fold(bool& column, bool folded);
    void showColumns();

    std::unique_ptr<OpenJob> job_;
    LeftJobs* leftJobs_;
    bool closing_ = false;
    std::vector<Desk*> desks_;  ///< in the order of their numbers
    Desk* desk_ = nullptr;
    CommandTable commands_;
    std::string ranLast_;  ///< the command that ran last
    bool again_ = false;
    FaceId chosen_;
    bool dark_ = false, roundFolded_ = false, adviceFolded_ = false;
    StepKind working_ = StepKind::Look;  ///< what was done last: looking or cleaning
    std::string place_;                  ///< of which the round is shown; empty: all

    QFrame* bar_;
    class TextBlock *jobLabel_, *rulesLabel_;
    QPushButton* menuButton_;
    RibbonView* ribbon_;
    RoundView* round_;
    AdviceView* advice_;
    FoldStrip *roundStrip_, *adviceStrip_;
    ClocksBar* clocks_;
    QStackedWidget* stack_;
    BigWords* bigWords_ = nullptr;
    QTimer* ageing_;
};

}  // namespace clendo
