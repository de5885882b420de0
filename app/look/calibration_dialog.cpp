#include "app/look/calibration_dialog.h"

#include <QDateTime>
#include <QFormLayout>
#include <QLineEdit>

#include "app/widgets/dialog_buttons.h"
#include "app/widgets/theme.h"

namespace clendo {

CalibrationDialog::CalibrationDialog(const JobState& state, const FaceId& face, QWidget* parent)
    : QDialog(parent), scope_(new QComboBox(this)), scale_(new QDoubleSpinBox(this)), words_(new TextBlock(this))
{
    setObjectName(QStringLiteral("calibrationDialog"));
    setWindowTitle(tr("Calibrate a scope and its tip"));
    scope_->setObjectName(QStringLiteral("scopeName"));
    scope_->setEditable(true);
    scope_->lineEdit()->setPlaceholderText(tr("scope and tip: scope 2, tip for 1.25 mm"));
    for (const auto& [name, known] : state.calibrations) scope_->addItem(QString::fromStdString(name));
    scale_->setObjectName(QStringLiteral("scopeScale"));
    scale_->setDecimals(4);
    scale_->setRange(0.05, 5);
    scale_->setSingleStep(0.001);
    scale_->setSuffix(tr(" µm per pixel"));
    const Look* look = state.face(face).lastJudged();
    QStringList words;
    if (look) {
        const double seen = look->seen.measured.scale.micrometresPerPixel();
        scale_->setValue(seen);
        words
            << tr("The last look at the chosen face gives %1 µm per pixel, from its cladding of 125 µm (known to 0.5 %). A graticule is better: type "
                  "what it gives.")
                   .arg(seen, 0, 'f', 4);
    } else {
        words << tr("Look at a face first, or type what a graticule gives.");
    }
    for (const auto& [name, known] : state.calibrations)
        words << tr("%1: %2 µm per pixel, %3")
                     .arg(QString::fromStdString(name))
                     .arg(known.scale.micrometresPerPixel(), 0, 'f', 4)
                     .arg(QDateTime::fromSecsSinceEpoch(known.at).date().toString(Qt::ISODate));
    words_->setText(words.join(QLatin1Char('\n')));
    auto* form = new QFormLayout(this);
    form->addRow(tr("Scope and tip"), scope_);
    form->addRow(tr("Shows"), scale_);
    form->addRow(words_);
    auto* buttons = acceptOrBack(*this, tr("Keep it (Enter)")).row;
    form->addRow(buttons);
    setMinimumWidth(em(32));
    scope_->setFocus();
}

ScopeCalibrated CalibrationDialog::fact() const { return {scope_->currentText().trimmed().toStdString(), Scale(scale_->value())}; }

void CalibrationDialog::accept()
{
    if (!scope_->currentText().trimmed().isEmpty()) return QDialog::accept();
    words_->setText(tr("Name the scope and its tip: the scale holds for both together."), true, theme().damaged);
    scope_->setFocus();
}

}  // namespace clendo
