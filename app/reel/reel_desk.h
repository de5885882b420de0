#pragma once
#include "app/frame/desk.h"
#include "app/frame/window_frame.h"

namespace clendo {

class ReelView;
struct ReelStanding;

/// Reels of cable: from what was ordered to the decision, and which of them serves which run.
class ReelDesk : public Desk {
    Q_OBJECT
public:
    explicit ReelDesk(WindowFrame& frame) : frame_(frame) {}
    [[nodiscard]] QString id() const override { return QStringLiteral("reel"); }
    [[nodiscard]] QString title() const override { return tr("Reels"); }
    QWidget* view() override;
    void show(const Shown& shown) override;
    [[nodiscard]] Advice advice(const Shown& shown) const override;
    void jobGoes() override { chosen_.clear(); }
    /// Asked while it is shown only: else a trace belongs to a link.
    [[nodiscard]] bool accepts(const QString& file) const override;
    void take(const QString& file) override { takeTraces({file}); }
    void takeAll(const QStringList& files) override { takeTraces(files); }

    /// The chosen reel; empty: there is none.
    [[nodiscard]] std::string reel() const;
    void choose(const std::string& reel);
    /// The one after it, or before it.
    void next(int by);
    /// What somebody does, each with its dialog.
    void deliver(bool anew);
    void drawSample();
    void makeJoint();
    void openTraces();
    void takeTraces(const QStringList& files);
    void addPicture();
    void takeCordOut();
    void decide();
    void planCuts();
    /// Which cable was laid from it.
    void lay();
    void writeReport();
    /// Why nothing can be done with a reel now; empty: there is one.
    [[nodiscard]] QString needsReel() const;

private:
    [[nodiscard]] ReelStanding standing() const;
    [[nodiscard]] const JobState& state() const { return frame_.session()->state(); }
    void askForCutsAgain();

    WindowFrame& frame_;
    ReelView* view_ = nullptr;
    std::string chosen_;
};

}  // namespace clendo
