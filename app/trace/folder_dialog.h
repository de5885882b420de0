#pragma once
#include <QComboBox>
#include <QDialog>
#include <QLabel>
#include <QProgressBar>
#include <QPushButton>
#include <QTableWidget>

#include "app/frame/job_session.h"
#include "app/trace/folder_reading.h"

namespace clendo {

/// A folder of traces before it is filed: to which fibre each one belongs and from which end it was shot. What is unsure comes first and is asked;
/// what nobody answers is left out.
class FolderDialog : public QDialog {
    Q_OBJECT
public:
    FolderDialog(JobSession& session, const QStringList& files, const ShotCords& shotWith, QWidget* parent = nullptr);
    void accept() override;

signals:
    void filed(const QString& sentence, bool trouble);

private:
    void buildChoices();
    void place();
    void fill();
    void set();
    void fileAll(const std::vector<TraceShot>& shots);
    [[nodiscard]] QString wordsOf(const FolderFile& file) const;

    JobSession& session_;
    ShotCords shotWith_;
    FolderReading reading_;
    std::vector<FolderFile> files_;
    QComboBox *pattern_, *fibre_, *end_;
    QTableWidget* table_;
    QLabel* says_;
    QProgressBar* progress_;
    QPushButton *set_, *accept_ = nullptr;
    std::size_t filed_ = 0, failed_ = 0;
};

}  // namespace clendo
