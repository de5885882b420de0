#include "app/look/contacts_dialog.h"

#include <QVBoxLayout>

#include "app/widgets/dialog_buttons.h"
#include "app/widgets/text_block.h"
#include "app/widgets/theme.h"

namespace clendo {

ContactsDialog::ContactsDialog(const JobState& state, const FaceId& face, QWidget* parent) : QDialog(parent), graph_(new ContactGraph(this))
{
    setObjectName(QStringLiteral("contactsDialog"));
    setWindowTitle(tr("What touched what"));
    ContactPicture picture = contactPicture(state, face);
    auto* story = new TextBlock(this);
    story->setObjectName(QStringLiteral("contactStory"));
    QString legend =
        tr("Time goes to the right. A half-disc is a look: filled, it was fit; hatched, it needed work. A thick bar may have carried dirt, "
           "in the direction of its tip; a dotted one is a touch that explains nothing.");
    if (picture.leftOut > 0) legend += QLatin1Char(' ') + tr("%1 more faces touched these; go to one of them to see the rest.").arg(picture.leftOut);
    story->setParagraphs({{{QString::fromStdString(picture.story), true}}, {{legend, false, theme().soft}}});
    graph_->show(std::move(picture), face);
    auto* buttons = acceptOrBack(*this, tr("Go to this face (Enter)")).row;
    connect(graph_, &ContactGraph::wanted, this, &QDialog::accept);
    auto* layout = new QVBoxLayout(this);
    layout->addWidget(story);
    layout->addWidget(graph_, 1);
    layout->addWidget(buttons);
    resize(em(56), sizeHint().height());
    graph_->setFocus();
}

}  // namespace clendo
