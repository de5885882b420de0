#include "app/hands/hands_panel.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>

#include "app/frame/command.h"
#include "app/frame/window_frame.h"
#include "app/hands/demo_hands.h"
#include "app/widgets/theme.h"

namespace clendo {

HandsPanel::HandsPanel(WindowFrame& frame, DemoHands& hands, QWidget* parent) : QDockWidget(tr("In the demo, your hands"), parent)
{
    setObjectName(QStringLiteral("handsPanel"));
    setFeatures(QDockWidget::DockWidgetClosable);
    setAllowedAreas(Qt::BottomDockWidgetArea);
    auto* inside = new QWidget(this);
    auto* column = new QVBoxLayout(inside);
    column->setContentsMargins(10, 2, 10, 6);
    column->setSpacing(3);
    auto* row = new QHBoxLayout;
    row->setSpacing(4);
    for (const auto& command : frame.commands().all()) {
        if (!command.id.starts_with("hands.") || command.id == "hands.panel") continue;
        auto* button = new QPushButton(QStringLiteral("%1 · %2").arg(command.words.section(QLatin1String(": "), 1), command.key()), inside);
        button->setFocusPolicy(Qt::NoFocus);
        button->setMinimumHeight(36);
        button->setToolTip(command.words);
        const std::string id = command.id;
        connect(button, &QPushButton::clicked, this, [&frame, id] { frame.run(id); });
        row->addWidget(button);
    }
    row->addStretch(1);
    column->addLayout(row);
    auto* said =
        new QLabel(tr("What your hands do is done to the simulated world. The record learns it when you file it, as in any other job."), inside);
    said->setObjectName(QStringLiteral("handsSaid"));
    tint(said, QPalette::WindowText, theme().soft);
    connect(&hands, &DemoHands::done, said, &QLabel::setText);
    column->addWidget(said);
    setWidget(inside);
}

}  // namespace clendo
