#pragma once
#include <QMainWindow>
#include <QStackedWidget>
#include <memory>

#include "app/job_session.h"
#include "record/round.h"
#include "record/ruling.h"

class QFrame;
class QMenu;
class QPushButton;
class QTimer;

namespace clendo {

class BatchView;
class BigWords;
class ClocksBar;
class JournalDesk;
class LearnDesk;
class LiveDesk;
class LookView;
class LossView;
class PictureIntake;
class RibbonView;
class RoundView;
class RulingView;
class SignView;
class TraceIntake;
class TraceView;
class WatchedFolder;

enum class Desk { Look, Loss, Trace, Sign, Batch, Journal, Learn };

/// Ribbon, round, desk, ruling and clocks. Holds what is chosen and nothing else; every fact goes through the session.
class MainWindow : public QMainWindow {
    Q_OBJECT
public:
    explicit MainWindow(QWidget* parent = nullptr);
    ~MainWindow() override;

    /// Opens a job, or says why it cannot and keeps the one that is open.
    bool openJob(const QString& path);
    /// The same for a job that has been read already.
    bool openJob(Result<ReadJob> job);
    /// What is left of the damaged job that is open, as a new one, which is opened.
    bool saveWhatIsLeft(const QString& to);
    bool createJob(const QString& path, const QString& name);
    /// The folder into which a scope saves.
    void watchFolder(const QString& folder);
    /// Key P then asks the simulated scope to save a picture of the chosen face there.
    void useSimulatedScope(const QString& folder);
    /// Where live pictures come from (key V).
    [[nodiscard]] LiveDesk& live() { return *live_; }

    void choose(const FaceId& face);
    void showDesk(Desk desk);
    /// Many at once; also without a job, by the criteria of 2015.
    BatchView& batch();
    [[nodiscard]] JobSession* session() const { return session_.get(); }
    [[nodiscard]] const FaceId& chosen() const { return chosen_; }
    [[nodiscard]] Desk desk() const { return desk_; }

    void takePicture(const QString& path);
    /// Shows what would come of a table of cables, and plans what is accepted.
    void importTable(const QString& path);
    void openTrace(const QString& path);

signals:
    void certificateWritten(const QStringList& paths);

protected:
    bool batchKey(int key);
    void keyPressEvent(QKeyEvent*) override;
    void showEvent(QShowEvent*) override;
    void closeEvent(QCloseEvent*) override;
    void resizeEvent(QResizeEvent*) override;

private:
    void buildParts();
    void buildActions();
    void openMenu();
    void askForWatchedFolder();
    void showKeys();
    void setSession(std::unique_ptr<JobSession> session);
    void letFinish();
    [[nodiscard]] int stillJudged() const;
    void refresh();
    void act(ActionKind action);
    QWidget* viewOf(Desk desk);
    void nextStep();
    [[nodiscard]] const Step* stepAfter(const std::vector<const Step*>& open) const;
    void goTo(const Step& step);
    void moveFace(int by);
    void moveLink(int by);
    void clean();
    void mate();
    void cleanSleeve();
    void handled();
    void joinTestCord();
    void workOnTestCord();
    std::optional<FaceId> askForKitFace(const QString& title);
    static QString pictureFilter();
    void showContacts();
    void choosePolicies();
    void sign(bool wholeCable);
    void proveFibre(bool elsewhere);
    void askForLength();
    void writeCertificate();
    void planCable();
    void askForTable();
    void saveTableExample();
    void showKit();
    void nextPlace();
    void showCarry();
    void toggleBigWords();
    void sound(const FaceId& face);
    void unroll();
    void toggleLive();
    void turnKey();
    void judged(const FaceId& face);
    void chooseScope(QMenu* menu);
    void calibrate();
    void showProfiles();
    void overrule();
    void askForFile();
    std::optional<Direction> askDirection(const QString& file, const QString& placeA, const QString& placeB);
    void askForJob(bool fresh);
    void troubledJobEntries(QMenu* menu);
    void askWhereToSave();
    void takeLockOver();
    void joinAgain();
    void setDark(bool dark);
    void say(const QString& sentence, bool trouble);
    /// An error goes into the log too, with its detail.
    void say(const Error& error);
    void showLog();
    [[nodiscard]] Ruling rulingNow() const;
    [[nodiscard]] const Link* link() const;

    /// A job that was left while something of it was still being judged.
    struct Leaving {
        std::unique_ptr<JobSession> session;
        std::unique_ptr<PictureIntake> pictures;
        std::unique_ptr<TraceIntake> traces;
    };
    std::unique_ptr<JobSession> session_;
    std::unique_ptr<PictureIntake> intake_;
    std::unique_ptr<TraceIntake> traces_;
    std::vector<std::unique_ptr<Leaving>> leaving_;
    bool closing_ = false;
    LiveDesk* live_;
    WatchedFolder* watched_;
    QString simulatedScope_;
    FaceId chosen_;
    Desk desk_ = Desk::Look;
    bool dark_ = false, soundOn_ = true;
    StepKind working_ = StepKind::Look;  ///< what was done last: looking or cleaning
    std::string place_;                  ///< of which the round is shown; empty: all
    FaceId refused_;                     ///< whose mating was refused by the last key
    std::string unsigned_;               ///< whose signature was refused by the last key

    QFrame* bar_;
    class TextBlock *jobLabel_, *rulesLabel_;
    QPushButton* menuButton_;
    RibbonView* ribbon_;
    RoundView* round_;
    RulingView* ruling_;
    ClocksBar* clocks_;
    QStackedWidget* stack_;
    LookView* look_;
    LossView* loss_ = nullptr;  // these are made when first shown
    TraceView* trace_ = nullptr;
    SignView* sign_ = nullptr;
    BatchView* batch_ = nullptr;
    JournalDesk* journal_ = nullptr;
    LearnDesk* learn_ = nullptr;
    BigWords* bigWords_ = nullptr;
    QTimer* ageing_;
};

}  // namespace clendo
