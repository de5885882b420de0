#pragma once
#include <QAbstractTableModel>
#include <QComboBox>
#include <QLineEdit>
#include <QTableView>
#include <QTimer>
#include <QWidget>
#include <set>

#include "app/widgets/text_block.h"
#include "record/output/journal_view.h"
#include "session/job_snapshot.h"

namespace clendo {

/// The entries of a journal that match a filter, the newest first. A sentence is made when its row is shown, so a long journal opens at once.
class JournalModel : public QAbstractTableModel {
    Q_OBJECT
public:
    using QAbstractTableModel::QAbstractTableModel;
    /// `matches`: as journalMatches() gives them.
    void set(const JobSnapshot& job, const JournalFilter& filter, std::vector<std::size_t> matches);
    /// Whether this is the journal that is shown, with more entries: then only those are looked at.
    [[nodiscard]] bool grows(const JobSnapshot& job, const JournalFilter& filter) const;
    void grow(const JobSnapshot& job);
    void clear();
    [[nodiscard]] const Entry* at(int row) const;
    [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
    [[nodiscard]] int columnCount(const QModelIndex& = {}) const override { return 4; }
    [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override;
    [[nodiscard]] QVariant headerData(int section, Qt::Orientation orientation, int role) const override;

private:
    JobSnapshot job_;
    JournalFilter filter_;
    std::vector<std::size_t> shown_;
    Corrections corrected_;
};

/// The journal: everything in order, searched and filtered. Enter goes to the face of an entry.
class JournalView : public QWidget {
    Q_OBJECT
public:
    explicit JournalView(QWidget* parent = nullptr);
    void show(const JobSnapshot& job, const FaceId& chosen);
    /// Nothing is shown until the next show().
    void clear();
    void search();
    /// Only what is about the chosen face, its link, or everything again.
    void nextScope();

signals:
    void faceChosen(const FaceId& face);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void refresh();
    void offerChoices(const JobSnapshot& before);
    void offer(QComboBox* box, const QString& all, const std::set<QString>& choices);
    void showMatches(const JournalFilter& filter);
    void tellCount();
    void go();

    enum class Scope { All, Link, Face };
    QLineEdit* words_;
    QComboBox *kind_, *who_;
    TextBlock *said_, *detail_;
    QTableView* table_;
    JournalModel* model_;
    QTimer pause_;  ///< in typing
    JobSnapshot job_;
    std::set<QString> kinds_, people_;
    QObject* searching_ = nullptr;  ///< the search of a long journal, off the window's thread
    FaceId chosen_;
    Scope scope_ = Scope::All;
};

}  // namespace clendo
