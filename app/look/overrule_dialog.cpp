#include "app/look/overrule_dialog.h"

#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>

#include "app/widgets/dialog_buttons.h"
#include "app/widgets/text_block.h"
#include "app/widgets/theme.h"
#include "app/widgets/words.h"

namespace clendo {
namespace {

QDoubleSpinBox* micrometres(QWidget* parent, const char* objectName, double from, double to, double value)
{
    auto* box = new QDoubleSpinBox(parent);
    box->setObjectName(QString::fromLatin1(objectName));
    box->setRange(from, to);
    box->setDecimals(1);
    box->setValue(value);
    box->setSuffix(QStringLiteral(" µm"));
    return box;
}

}  // namespace

OverruleDialog::OverruleDialog(const FaceId& face, const Look& look, const std::optional<FaceClass>& faceClass, QWidget* parent)
    : QDialog(parent),
      face_(face),
      look_(look.entry),
      which_(new QComboBox(this)),
      as_(new QComboBox(this)),
      x_(micrometres(this, "missedX", -125, 125, 0)),
      y_(micrometres(this, "missedY", -125, 125, 0)),
      size_(micrometres(this, "missedSize", 0.5, 125, 5)),
      place_(new QWidget(this)),
      reason_(new QLineEdit(this)),
      trouble_(new TextBlock(this))
{
    setObjectName(QStringLiteral("overruleDialog"));
    setWindowTitle(tr("The picture says otherwise"));
    which_->setObjectName(QStringLiteral("overruled"));
    for (const auto& f : look.seen.measured.findings) {
        const auto zone = faceClass ? zoneOf(f, *faceClass) : std::nullopt;
        if (faceClass && !zone) continue;
        which_->addItem(tr("%1 of %2 µm%3, at %4, %5 µm")
                            .arg(text(name(f.appearance)))
                            .arg(judgedSize(f).value(), 0, 'f', 1)
                            .arg(zone ? tr(", zone %1").arg(text(name(*zone))) : QString())
                            .arg(f.centre.x.value(), 0, 'f', 0)
                            .arg(f.centre.y.value(), 0, 'f', 0),
                        f.id);
    }
    which_->addItem(tr("one that was missed"), 0);
    as_->setObjectName(QStringLiteral("as"));
    as_->addItems({tr("is not real"), tr("is a scratch"), tr("is a defect, no scratch")});
    reason_->setObjectName(QStringLiteral("reason"));
    reason_->setPlaceholderText(tr("why: a reflection, seen in the other scope, …"));
    auto* row = new QHBoxLayout(place_);
    row->setContentsMargins(0, 0, 0, 0);
    for (auto* box : {x_, y_, size_}) row->addWidget(box);
    auto* form = new QFormLayout(this);
    form->addRow(tr("Finding"), which_);
    form->addRow(tr("It"), as_);
    form->addRow(tr("Right, down, size"), place_);
    form->addRow(tr("Reason"), reason_);
    form->addRow(trouble_);
    auto* buttons = acceptOrBack(*this, tr("File it (Enter)")).row;
    connect(which_, &QComboBox::currentIndexChanged, this, &OverruleDialog::adapt);
    form->addRow(buttons);
    setMinimumWidth(em(30));
    adapt();
    which_->setFocus();
}

void OverruleDialog::adapt()
{
    const bool missed = which_->currentData().toInt() == 0;
    as_->setEnabled(!missed);
    place_->setEnabled(missed);
}

FindingOverruled OverruleDialog::fact() const
{
    FindingOverruled f;
    f.face = face_;
    f.look = look_;
    f.finding = which_->currentData().toInt();
    f.as = f.finding == 0 ? FindingOverruled::As::Missed : static_cast<FindingOverruled::As>(as_->currentIndex());
    f.reason = reason_->text().trimmed().toStdString();
    if (f.finding == 0) {
        f.place = {Micrometre(x_->value()), Micrometre(y_->value())};
        f.size = Micrometre(size_->value());
    }
    return f;
}

void OverruleDialog::accept()
{
    if (!reason_->text().trimmed().isEmpty()) return QDialog::accept();
    trouble_->setText(tr("Say why: whoever reads the record has only this."), true, theme().damaged);
    reason_->setFocus();
}

}  // namespace clendo
