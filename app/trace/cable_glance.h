#pragma once
#include <QLabel>
#include <QWidget>
#include <memory>

#include "app/trace/glance_map.h"
#include "app/trace/glance_rows.h"
#include "record/output/shots_of_cable.h"

namespace clendo {

/// All fibres of the chosen link's cable at a glance: where one lost more than the others, and which tray that may be.
class CableGlance : public QWidget {
    Q_OBJECT
public:
    explicit CableGlance(QWidget* parent = nullptr);
    void show(JobSession& session, const Link* link);
    using QWidget::show;
    /// The job goes, and its rows with it.
    void forget();
    /// Shots from the other end, or at the other wavelength.
    void nextShots();
    [[nodiscard]] GlanceMap& map() { return *map_; }
    /// What it says of the fibres, in words.
    [[nodiscard]] QString says() const { return says_->text(); }
    [[nodiscard]] int onTheirWay() const { return rows_ ? static_cast<int>(rows_->onTheirWay()) : 0; }

signals:
    /// This fibre's trace is wanted.
    void opened(const QString& link);

private:
    void fill();
    void say(const CablePlan& cable, const ShotsOfCable& shots);

    JobSession* session_ = nullptr;
    std::string link_;
    std::size_t choice_ = 0;
    std::vector<std::string> links_;  ///< of the rows
    std::unique_ptr<GlanceRows> rows_;
    bool filling_ = false;
    QLabel *title_, *says_;
    GlanceMap* map_;
};

}  // namespace clendo
