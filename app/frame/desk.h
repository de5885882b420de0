#pragma once
#include <QObject>
#include <QWidget>
#include <memory>
#include <vector>

#include "app/frame/command.h"
#include "app/frame/job_session.h"
#include "record/advice/advice.h"
#include "record/advice/round.h"
#include "record/rules/hidden_by_shot.h"

namespace clendo {

class FacePicture;
struct OpenJob;

/// What a desk is asked to show.
struct Shown {
    JobSession* session;  ///< null: no job is open
    const Link* link;     ///< null: none is chosen
    FaceId chosen;

    [[nodiscard]] const JobState& state() const { return session->state(); }
};

/// One kind of work in the middle of the window, with the advice beside it. The window knows none by name.
class Desk : public QObject {
    Q_OBJECT
public:
    using QObject::QObject;
    [[nodiscard]] virtual QString id() const = 0;     ///< "loss"
    [[nodiscard]] virtual QString title() const = 0;  ///< "Light"
    /// Made when it is first wanted: what is not shown costs no start-up time.
    virtual QWidget* view() = 0;
    virtual void show(const Shown& shown) = 0;
    [[nodiscard]] virtual Advice advice(const Shown& shown) const = 0;
    /// Lengths of the link that the work which is advised here will not show, for the ribbon.
    [[nodiscard]] virtual std::vector<HiddenLength> hidden(const Shown& shown) const
    {
        (void)shown;
        return {};
    }
    /// The picture of a face that it shows, to be zoomed and moved; null: none.
    [[nodiscard]] virtual FacePicture* picture() { return nullptr; }
    /// Whether steps of this kind are done here.
    [[nodiscard]] virtual bool isFor(StepKind kind) const
    {
        (void)kind;
        return false;
    }
    /// Whether it needs the room of the advice, which folds to its strip meanwhile.
    [[nodiscard]] virtual bool isWide() const { return false; }
    /// Whether it can be shown without a job.
    [[nodiscard]] virtual bool needsJob() const { return true; }
    /// Whether it is shown where no job is open.
    [[nodiscard]] virtual bool isStart() const { return false; }
    /// Whether it works on a file that was dropped or pasted; then take() is called.
    [[nodiscard]] virtual bool accepts(const QString& file) const
    {
        (void)file;
        return false;
    }
    virtual void take(const QString& file) { (void)file; }
    /// Several that were dropped together.
    virtual void takeAll(const QStringList& files)
    {
        for (const QString& file : files) take(file);
    }
    /// A job was opened.
    virtual void jobComes(OpenJob& job) { (void)job; }
    /// Another desk is shown from now on.
    virtual void left() {}
    /// The job that was shown goes.
    virtual void jobGoes() {}

signals:
    /// The advice is another one, though the job is as it was.
    void adviceChanged();
};

/// A desk registers itself where it is defined: `static const DeskEntry entry(order, [](WindowFrame& frame) { return std::make_unique<...>(frame);
/// });` Its place in the order is its number on the keyboard, from the tenth on with Alt.
class DeskEntry {
public:
    using Make = std::unique_ptr<Desk> (*)(WindowFrame& frame);
    DeskEntry(int order, Make make);
    static std::vector<std::unique_ptr<Desk>> all(WindowFrame& frame);
};

}  // namespace clendo
