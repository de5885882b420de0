#pragma once
#include <QDialog>

#include "app/look/contact_graph.h"

namespace clendo {

/// What touched what around a face; Enter goes to the face chosen in it.
class ContactsDialog : public QDialog {
    Q_OBJECT
public:
    ContactsDialog(const JobState& state, const FaceId& face, QWidget* parent = nullptr);
    [[nodiscard]] FaceId chosen() const { return graph_->chosen(); }

private:
    ContactGraph* graph_;
};

}  // namespace clendo
