#include "app/plan_dialog.h"

#include <fmt/format.h>

#include <QDialogButtonBox>
#include <QFormLayout>
#include <QPushButton>
#include <QRegularExpression>

#include "app/theme.h"

namespace clendo {

std::optional<Metre> parseLength(QString text)
{
    text = text.trimmed().toLower();
    double factor = 1;
    if (text.endsWith(QLatin1String("km")))
        factor = 1000, text.chop(2);
    else if (text.endsWith(QLatin1Char('m')))
        text.chop(1);
    bool ok = false;
    const double value = text.trimmed().replace(QLatin1Char(','), QLatin1Char('.')).toDouble(&ok) * factor;
    return ok && std::isfinite(value) ? std::optional(Metre(value)) : std::nullopt;
}

Result<std::vector<Splice>> parseSplices(const QString& text)
{
    std::vector<Splice> out;
    const auto parts = text.split(QLatin1Char(';'), Qt::SkipEmptyParts);
    for (const QString& part : parts) {
        static const QRegularExpression form(QStringLiteral(R"(^\s*([0-9.,]+)(?:\s*(km|m)\b)?\s*(.*?)\s*$)"));
        const auto match = form.match(part);
        const auto at = match.hasMatch() ? parseLength(match.captured(1) + match.captured(2)) : std::nullopt;
        if (!at)
            return failure(
                Error::Code::PlanInvalid,
                fmt::format(
                    "“{}” is not a splice. Write the distance from end A, then a name; a semicolon between two: 1180 manhole 3; 1905 sea wall.",
                    part.trimmed().toStdString()));
        const QString label = match.captured(3).isEmpty() ? QString::number(out.size() + 1) : match.captured(3);
        out.push_back({label.toStdString(), *at});
    }
    return out;
}

PlanDialog::PlanDialog(QWidget* parent)
    : QDialog(parent),
      fibres_(new QSpinBox(this)),
      ferrule_(new QSpinBox(this)),
      fibre_(new QComboBox(this)),
      criteria_(new QComboBox(this)),
      trouble_(new QLabel(this))
{
    setObjectName(QStringLiteral("planDialog"));
    setWindowTitle(tr("Plan a cable"));
    id_ = edit("cableId", tr("VP-04"));
    placeA_ = edit("placeA", tr("Tide Hall"));
    panelA_ = edit("panelA", tr("TH-R2"));
    placeB_ = edit("placeB", tr("Breakwater Hut"));
    panelB_ = edit("panelB", tr("BH box"));
    length_ = edit("cableLength", tr("2400 m"));
    splices_ = edit("splices", tr("1180 manhole 3; 1905 sea wall"));
    fibres_->setObjectName(QStringLiteral("fibres"));
    fibres_->setRange(1, 864);
    fibres_->setValue(12);
    fibre_->addItems({QStringLiteral("OS2"), QStringLiteral("OS1"), QStringLiteral("indoor-outdoor"), QStringLiteral("OM3"), QStringLiteral("OM4"),
                      QStringLiteral("OM5")});
    criteria_->addItems({QStringLiteral("sm-upc"), QStringLiteral("sm-apc"), QStringLiteral("sm-pc"), QStringLiteral("mm-pc"),
                         QStringLiteral("sm-multi"), QStringLiteral("mm-multi")});
    trouble_->setObjectName(QStringLiteral("planTrouble"));
    trouble_->setWordWrap(true);
    tint(trouble_, QPalette::WindowText, theme().damaged);
    auto* form = new QFormLayout(this);
    form->addRow(tr("Cable"), id_);
    form->addRow(tr("End A, place"), placeA_);
    form->addRow(tr("End A, panel"), panelA_);
    form->addRow(tr("End B, place"), placeB_);
    form->addRow(tr("End B, panel"), panelB_);
    form->addRow(tr("Fibres"), fibres_);
    ferrule_->setObjectName(QStringLiteral("ferruleFibres"));
    ferrule_->setRange(1, 24);
    form->addRow(tr("In one ferrule"), ferrule_);
    form->addRow(tr("Fibre"), fibre_);
    form->addRow(tr("End faces"), criteria_);
    form->addRow(tr("Length"), length_);
    form->addRow(tr("Splices from A"), splices_);
    form->addRow(trouble_);
    auto* buttons = new QDialogButtonBox(this);
    auto* ok = buttons->addButton(tr("Plan it (Enter)"), QDialogButtonBox::AcceptRole);
    ok->setProperty("first", true);
    ok->setDefault(true);
    buttons->addButton(tr("Back (Esc)"), QDialogButtonBox::RejectRole);
    connect(buttons, &QDialogButtonBox::accepted, this, &PlanDialog::accept);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    form->addRow(buttons);
    setMinimumWidth(em(30));
}

QLineEdit* PlanDialog::edit(const char* objectName, const QString& hint)
{
    auto* e = new QLineEdit(this);
    e->setObjectName(QString::fromLatin1(objectName));
    e->setPlaceholderText(hint);
    return e;
}

void PlanDialog::accept()
{
    CablePlan c;
    c.id = id_->text().trimmed().toStdString();
    c.placeA = placeA_->text().trimmed().toStdString();
    c.placeB = placeB_->text().trimmed().toStdString();
    c.panelA = panelA_->text().trimmed().isEmpty() ? c.placeA : panelA_->text().trimmed().toStdString();
    c.panelB = panelB_->text().trimmed().isEmpty() ? c.placeB : panelB_->text().trimmed().toStdString();
    c.fibre = fibre_->currentText().toStdString();
    c.criteria = criteria_->currentText().toStdString();
    c.fibres = fibres_->value();
    c.ferruleFibres = ferrule_->value();
    if (c.ferruleFibres > 1) c.connector = "MPO";
    c.length = parseLength(length_->text()).value_or(Metre(0));
    const auto splices = parseSplices(splices_->text());
    const auto ok = splices.and_then([&](const std::vector<Splice>& s) {
        c.splices = s;
        return check(c);
    });
    if (!ok) {
        trouble_->setText(QString::fromStdString(ok.error().message));
        return;
    }
    cable_ = c;
    QDialog::accept();
}

}  // namespace clendo
