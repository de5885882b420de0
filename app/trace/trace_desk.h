#pragma once
#include "app/frame/desk.h"
#include "app/frame/window_frame.h"
#include "app/trace/read_trace.h"

namespace clendo {

class CableGlance;
class TraceView;
class WatchedFolder;

/// Traces over the plan, fibre by fibre or all of a cable at a glance.
class TraceDesk : public Desk {
    Q_OBJECT
public:
    explicit TraceDesk(WindowFrame& frame) : frame_(frame) {}
    [[nodiscard]] QString id() const override { return QStringLiteral("trace"); }
    [[nodiscard]] QString title() const override { return tr("Trace"); }
    QWidget* view() override;
    void show(const Shown& shown) override;
    [[nodiscard]] Advice advice(const Shown& shown) const override;
    /// Before the first shot: what it will not show.
    [[nodiscard]] std::vector<HiddenLength> hidden(const Shown& shown) const override;
    [[nodiscard]] bool isFor(StepKind kind) const override { return kind == StepKind::Trace; }
    [[nodiscard]] bool accepts(const QString& file) const override;
    void take(const QString& file) override;
    void jobGoes() override;
    void openTrace();
    /// Asks for a folder and takes all of its traces in.
    void openFolder();
    void takeAll(const QStringList& files) override;
    /// Takes in what an OTDR saves into a folder from now on.
    void watch(const QString& folder);
    void askWhatToWatch();
    /// From one fibre to all of its cable and back.
    void toggleGlance();
    /// What is shown: the view of one fibre, or null; the cable at a glance, or null.
    [[nodiscard]] TraceView* traces() const;
    [[nodiscard]] CableGlance* glance() const;

private:
    using ReadFile = Result<std::shared_ptr<const ReadTrace>>;
    void cameInto(const QString& file);
    void place(const QString& file, const ReadFile& read);
    void glanceAt(bool all);

    WindowFrame& frame_;
    QWidget* both_ = nullptr;
    bool glancing_ = false;
    TraceView* view_ = nullptr;
    CableGlance* glance_ = nullptr;
    WatchedFolder* watched_ = nullptr;
};

}  // namespace clendo
