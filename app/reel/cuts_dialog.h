#pragma once
#include <QCheckBox>
#include <QDialog>
#include <QPushButton>
#include <QSpinBox>
#include <QTableWidget>
#include <optional>

#include "app/widgets/text_block.h"
#include "record/facts/reel_facts.h"

namespace clendo {

class CutsDrawing;

/// Which reel serves which run: searched for, shown as bars, changed by hand.
class CutsDialog : public QDialog {
    Q_OBJECT
public:
    /// `before`: the plan that holds so far, whose runs are taken; null: none. `troubles`: why it holds no longer; then another one is searched for.
    /// `notAccepted`: reels of the stock that nobody accepted yet.
    CutsDialog(std::vector<reel::Stock> stock, std::vector<std::string> notAccepted, const CutsPlanned* before,
               const std::vector<std::string>& troubles, QWidget* parent);
    [[nodiscard]] CutsPlanned planned() const;
    [[nodiscard]] bool searching() const { return searching_; }

private:
    void addRun(const QString& name, const QString& length, const QString& slack);
    void runsChanged();
    [[nodiscard]] Result<reel::CuttingWish> wish() const;
    void search();
    void found(const Result<reel::CuttingPlan>& plan);
    void showCuts(const std::vector<reel::ReelCuts>& cuts);
    void addPiece(const std::string& run, const QString& reel, Metre length);
    void splitPiece();
    void cutsChanged();
    [[nodiscard]] std::vector<reel::ReelCuts> cuts() const;
    void follow();

    std::vector<reel::Stock> stock_;
    std::vector<std::string> notAccepted_;
    QTableWidget *runs_, *cuts_;
    QCheckBox* joints_;
    QSpinBox* keep_;
    QPushButton *search_, *add_, *split_, *accept_;
    CutsDrawing* drawing_;
    TextBlock* says_;
    std::optional<reel::CuttingPlan> best_;  ///< of the wish as it stands; nothing: not searched
    bool byHand_ = false, filling_ = false, searching_ = false;
    std::uint64_t asked_ = 0;
};

}  // namespace clendo
