#pragma once
#include <QFuture>
#include <QString>
#include <QWidget>
#include <functional>
#include <string_view>

#include "plant/plan.h"
#include "record/advice/filed.h"
#include "record/advice/round.h"
#include "result/result.h"

namespace clendo {

class CommandTable;
class FacePicture;
class JobSession;
struct OpenJob;

/// What desks and commands may ask of the window.
class WindowFrame {
public:
    virtual ~WindowFrame() = default;
    /// Null: no job is open.
    [[nodiscard]] virtual JobSession* session() const = 0;
    /// The job with what takes pictures and traces in for it; null: none is open.
    [[nodiscard]] virtual OpenJob* job() const = 0;
    [[nodiscard]] virtual const FaceId& chosen() const = 0;
    /// The chosen link; null: none.
    [[nodiscard]] virtual const Link* link() const = 0;
    virtual void choose(const FaceId& face) = 0;
    virtual void showDesk(const QString& id) = 0;
    /// The id of the desk that is shown.
    [[nodiscard]] virtual QString desk() const = 0;
    [[nodiscard]] virtual const CommandTable& commands() const = 0;
    /// Runs a command by its id, or says why it cannot be done now.
    virtual void run(std::string_view id) = 0;
    /// Whether the command that runs is the one that ran last: a second press of its key.
    [[nodiscard]] virtual bool again() const = 0;
    /// The picture of a face that the shown desk has, to be zoomed; null: it has none.
    [[nodiscard]] virtual FacePicture* picture() const = 0;
    /// What is done, so that the next step is of the same kind: looking or cleaning.
    virtual void working(StepKind kind) = 0;
    virtual void say(const QString& sentence, bool trouble = false) = 0;
    /// An error goes into the log too, with its detail.
    virtual void say(const Error& error) = 0;
    void say(const Said& said) { say(QString::fromStdString(said.sentence), said.trouble); }
    /// Gives a file to the desk that works on such files.
    virtual void takeFile(const QString& file) = 0;
    virtual void refresh() = 0;
    /// Shows how far longer work is, lets a person stop it, and says what came of it.
    virtual void follow(const QString& title, const QFuture<Result<QString>>& work) = 0;
    /// The parent of dialogs.
    virtual QWidget* widget() = 0;
    /// A desk by its class; it is there whether it was shown or not.
    template <class D>
    [[nodiscard]] D& deskOf()
    {
        return *widget()->findChild<D*>(QString(), Qt::FindDirectChildrenOnly);
    }
    /// Opens a job, or says why it cannot and keeps the one that is open. It is read in the background; `then` goes on when it is there.
    /// The one that is open is read once more only where that is said.
    enum class Again { No, Yes };
    virtual void openJob(const QString& path, Again again, std::function<void()> then) = 0;
    void openJob(const QString& path) { openJob(path, Again::No, {}); }
    /// Makes a job and opens it, or says why it cannot.
    virtual void createJob(const QString& path, const QString& name, std::function<void()> then) = 0;
};

/// For Command::whyNot.
QString needsJob(const WindowFrame& frame);
QString needsLink(const WindowFrame& frame);

}  // namespace clendo
