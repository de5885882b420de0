#pragma once
#include <QLabel>
#include <QTableWidget>
#include <QWidget>

#include "app/frame/job_session.h"

namespace clendo {

/// All fibres of the cable with what was wanted of each; below, of the chosen one, part by part what is there and what is missing, and what overtook
/// its signature.
class SignView : public QWidget {
    Q_OBJECT
public:
    explicit SignView(QWidget* parent = nullptr);
    void show(JobSession& session, const Link* link);

private:
    void fillFibres(const JobState& state, const Link& chosen);
    void fillParts(const JobState& state, const Link& chosen);
    void fillDifferences(JobSession& session, const Link& chosen);
    void explain(JobSession& session, const Link& chosen, const SignatureState& signature);
    void tellDifferences(const JobSession& session, const SignatureState& signature);

    QLabel *title_, *partsTitle_, *overtaken_;
    QTableWidget *table_, *parts_, *differences_;
    /// What overtook the signature of a link: asked once, it costs folds. `what` comes later.
    struct Explained {
        Digest signature;
        std::size_t entries = 0;
        std::optional<Signature> what;
    } explained_;
};

}  // namespace clendo
