#pragma once
#include <QLabel>
#include <QTableWidget>
#include <QWidget>

#include "app/job_session.h"

namespace clendo {

/// All fibres of the cable with what was wanted of each; below, of the chosen one, part by part what is there and what is missing, and what overtook
/// its signature.
class SignView : public QWidget {
    Q_OBJECT
public:
    explicit SignView(QWidget* parent = nullptr);
    void show(const JobSession& session, const Link* link);

private:
    void fillFibres(const JobState& state, const Link& chosen);
    void fillParts(const JobState& state, const Link& chosen);
    void fillDifferences(const JobSession& session, const Link& chosen);

    QLabel *title_, *partsTitle_, *overtaken_;
    QTableWidget *table_, *parts_, *differences_;
    /// What overtook the signature of a link: asked once, it costs folds.
    struct Explained {
        Digest signature;
        std::size_t entries = 0;
        std::optional<Signature> what;
    } explained_;
};

}  // namespace clendo
