#pragma once
#include <QPointer>
#include <memory>
#include <nlohmann/json_fwd.hpp>

#include "app/frame/window_frame.h"
#include "instruments/line_talk.h"

class QDockWidget;

namespace clendo {

class ScpiScope;

/// In the demo, your hands: what a person does to cords and faces is done to the simulated world, which runs as a process of its own
/// (docs/simulation.md). The record learns nothing by it: that is filed by the keys of every other job.
class DemoHands : public QObject {
    Q_OBJECT
public:
    /// `ready`: a file with the line that clendo-sim printed. `scope`: the folder into which its scope saves. An Error where the simulation is not
    /// there.
    static Result<void> attach(WindowFrame& frame, const QString& ready, const QString& scope);
    ~DemoHands() override;
    /// Null: this is no demo.
    static DemoHands* of(WindowFrame& frame);

    // What hands can do. `fibre` is the chosen one.
    void forReference();  ///< the source cord RC-1 straight into the meter
    void forProof();      ///< the receive cord RC-2 behind it
    void ontoFibre();     ///< both cords onto the ports of the chosen fibre
    void cordsOff();
    void clean(const char* method);
    void onFace(const char* deed);  ///< "touch", "drop", "part"
    void matePair();
    void showPanel();

signals:
    /// What came of it, in a sentence.
    void done(const QString& sentence);

private:
    DemoHands(WindowFrame& frame, QObject* parent);
    /// One deed after the other; what fails is said only where `must`.
    void act(const nlohmann::json& deed, bool must = true, const QString& then = {});
    void lookAt(const FaceId& face);
    [[nodiscard]] std::string portAt(End end) const;

    WindowFrame& frame_;
    std::unique_ptr<LineTalk> hands_;
    QPointer<ScpiScope> scope_;
    std::unique_ptr<ScpiScope> stills_;
    QPointer<QDockWidget> panel_;
    bool sourceAtB_ = false;
};

}  // namespace clendo
