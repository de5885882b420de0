#pragma once
#include <QComboBox>
#include <optional>
#include <string>

#include "record/state/state.h"

namespace clendo {

/// A test cord of the kit, and which of its ends goes to the link; the first choice says nothing.
class CordBox : public QComboBox {
    Q_OBJECT
public:
    /// `nothing`: words of the first choice. `turned`: words for a cord (%1) of which an end (%2) is away from the link: "%1, end %2 on the source".
    CordBox(const QString& nothing, const QString& turned, QWidget* parent);
    /// Also to be had without saying which end goes to the link.
    void offerPlain(bool plain) { plain_ = plain; }
    /// What the kit has. What was chosen stays, as long as the kit has it. `only`: where the kit has one cord, it is chosen by itself.
    void offer(const JobState& state, bool only = false);
    /// By its name in the kit; empty: not said.
    [[nodiscard]] std::string cord() const;
    /// That goes to the link; nothing: not said.
    [[nodiscard]] std::optional<FaceId> freeEnd() const;

private:
    QString nothing_, turned_;
    QStringList names_;
    bool plain_ = false;
};

}  // namespace clendo
