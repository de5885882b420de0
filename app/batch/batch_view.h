#pragma once
#include <QComboBox>
#include <QProgressBar>
#include <QPushButton>
#include <QTableView>
#include <QTimer>
#include <QWidget>

#include "app/batch/sheet_model.h"
#include "app/widgets/face_picture.h"
#include "app/widgets/text_block.h"
#include "batch/batch_judge.h"
#include "batch/cord_certificate.h"
#include "batch/cord_line.h"
#include "record/advice/advice.h"

namespace clendo {

class WatchedFolder;

/// Many pictures at once: a folder, or cords one after the other on a line.
class BatchView : public QWidget {
    Q_OBJECT
public:
    explicit BatchView(QWidget* parent = nullptr);
    /// The criteria that hold from the next start on; `preferred` is the class of the chosen cable.
    void show(const Criteria& criteria, const std::string& preferred);
    void judgeFolder(const QString& folder);
    void watchLine(const QString& folder);
    /// On a line: the cord in hand is given up, the next picture is another cord's.
    void nextCord();
    void stop();
    void exportTo(const QString& path);
    [[nodiscard]] Advice advice() const;
    [[nodiscard]] const SheetModel& sheet() const { return *model_; }
    [[nodiscard]] bool busy() const { return judge_->waiting() > 0; }

    /// On a line: the label of the cord in hand, scanned or typed; a number at its end counts on.
    void relabel(const QString& label);
    void askForLabel();
    /// On a line: one end of each cord, or both.
    void toggleBothEnds();
    /// On a line: the looks at the last cord that was finished, as a certificate of its own (PDF, JSON and CSV beside the pictures).
    void writeCord();
    /// What was measured of a cord beside its looks; it goes on its certificate.
    using LossesOf = std::function<std::vector<CordLossRow>(const std::string& cord)>;
    void setLosses(LossesOf losses) { lossesOf_ = std::move(losses); }
    /// The cord in hand and its end; nothing where no line is watched.
    [[nodiscard]] const CordLine* line() const { return line_ ? &cords_ : nullptr; }
    /// On a line: what is to be looked at of a cleaning machine; it goes on the certificates.
    void checkCleaner();

    /// Stands above the table.
    void putAbove(QWidget* bar);

    void askForFolder();
    void askForLine();
    void askForExport();

signals:
    void changed();
    void said(const QString& sentence, bool trouble);

private:
    std::shared_ptr<const BatchRules> rules();
    void take(std::vector<SheetRow> rows);
    void flush();
    void showChosen();
    void showRow(const SheetRow& row, const QImage& image);

    BatchJudge* judge_;
    WatchedFolder* line_ = nullptr;
    SheetModel* model_;
    Criteria criteria_;
    std::shared_ptr<const BatchRules> rules_;
    std::vector<SheetRow> waiting_;  ///< judged, not yet in the table
    QTimer flush_;
    std::string shownFile_;  ///< whose picture is decoded
    int begun_ = 0;          ///< folders and lines, so that a list that comes late finds that it is no longer wanted
    CordLine cords_;         ///< on a line
    LossesOf lossesOf_;
    CleanerCheck cleaner_;  ///< on a line
    QString lineFolder_;
    QComboBox* class_;
    QProgressBar* progress_;
    QPushButton *stop_, *export_;
    QTableView* table_;
    FacePicture* picture_;
};

}  // namespace clendo
