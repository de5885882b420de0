#include "app/plan/plan_dialog.h"

#include <fmt/format.h>

#include <QGridLayout>

#include "app/widgets/dialog_buttons.h"
#include "app/widgets/theme.h"
#include "plant/plan_text.h"
#include "record/rules/kit.h"

namespace clendo {

PlanDialog::PlanDialog(const std::vector<CablePlan>& planned, const std::vector<ConnectorFamily>& families, const CablePlan* like, QWidget* parent)
    : QDialog(parent),
      planned_(planned),
      families_(families),
      fibres_(new QSpinBox(this)),
      ferrule_(new QSpinBox(this)),
      tube_(new QSpinBox(this)),
      trouble_(new QLabel(this))
{
    setObjectName(QStringLiteral("planDialog"));
    setWindowTitle(tr("Plan a cable"));
    const QStringList classes{QStringLiteral("sm-upc"),       QStringLiteral("sm-apc"),   QStringLiteral("sm-pc"),   QStringLiteral("mm-pc"),
                              QStringLiteral("sm-multi-apc"), QStringLiteral("sm-multi"), QStringLiteral("mm-multi")};
    const QStringList cords = QStringList{tr("as the cable")} + classes;
    id_ = edit("cableId", tr("VP-04"));
    placeA_ = edit("placeA", tr("Tide Hall"));
    rackA_ = edit("rackA", tr("R2; empty: none"));
    panelA_ = edit("panelA", tr("TH-R2"));
    portsA_ = edit("portsA", tr("1-12; empty: from 1"));
    placeB_ = edit("placeB", tr("Breakwater Hut"));
    rackB_ = edit("rackB", tr("empty: none"));
    panelB_ = edit("panelB", tr("BH box"));
    portsB_ = edit("portsB", tr("1-12; empty: from 1"));
    length_ = edit("cableLength", tr("2400 m"));
    splices_ = edit("splices", tr("1180 manhole 3; 1905 sea wall"));
    inner_ = edit("patchedAt", tr("620 IDF-2 port 25; 624 IDF-3; empty: nowhere"));
    deviceA_ = edit("deviceA", tr("switch CR-1; empty: not part of it"));
    deviceB_ = edit("deviceB", tr("empty: not part of it"));
    cordA_ = choice("cordA", cords);
    cordB_ = choice("cordB", cords);
    accessA_ = choice("accessA", {tr("behind an adapter"), tr("inside a device"), tr("in a hardened port")});
    accessB_ = choice("accessB", {tr("behind an adapter"), tr("inside a device"), tr("in a hardened port")});
    const QStringList pins{tr("not said"), tr("on the cord's ferrule"), tr("on the port's ferrule")};
    pinsA_ = choice("pinsA", pins);
    pinsB_ = choice("pinsB", pins);
    fibres_->setObjectName(QStringLiteral("fibres"));
    fibres_->setRange(1, 864);
    fibres_->setValue(12);
    fibre_ = choice("fibreKind", {QStringLiteral("OS2"), QStringLiteral("OS1a"), QStringLiteral("OS1"), QStringLiteral("indoor-outdoor"),
                                  QStringLiteral("G.652.D"), QStringLiteral("OM1"), QStringLiteral("OM2"), QStringLiteral("OM3"),
                                  QStringLiteral("OM4"), QStringLiteral("OM5")});
    QStringList names;
    for (const auto& family : families_) names << QString::fromStdString(family.name);
    connector_ = choice("connector", names);
    criteria_ = choice("criteria", classes);
    const QString same = tr("as at end A");
    connectorB_ = choice("connectorB", QStringList{same} + names);
    criteriaB_ = choice("criteriaB", QStringList{same} + classes);
    const auto propose = [this] {  // a rectangular single-mode ferrule is angled as a rule
        const bool multimode = isMultimode(fibre_->currentText().toStdString());
        const auto* family = familyNamed(families_, connector_->currentText().toStdString());
        const bool rectangular = family && !family->ferrule;
        criteria_->setCurrentText(rectangular ? (multimode ? QStringLiteral("mm-multi") : QStringLiteral("sm-multi-apc"))
                                  : multimode ? QStringLiteral("mm-pc")
                                              : QStringLiteral("sm-upc"));
    };
    connect(fibre_, &QComboBox::activated, this, propose);
    connect(connector_, &QComboBox::activated, this, propose);
    ferrule_->setObjectName(QStringLiteral("ferruleFibres"));
    ferrule_->setRange(1, 24);
    tube_->setObjectName(QStringLiteral("tubeFibres"));
    tube_->setRange(1, 864);
    tube_->setValue(12);
    connect(connector_, &QComboBox::currentTextChanged, this, [this](const QString& name) {
        const auto* family = familyNamed(families_, name.toStdString());
        if (family && !family->holds(ferrule_->value()))
            ferrule_->setValue(family->holds(12) ? 12 : family->fibres.empty() ? 1 : family->fibres.front());
    });
    const auto pinsWhereShared = [this](int fibres) {
        for (auto* box : {pinsA_, pinsB_}) {
            box->setEnabled(fibres > 1);
            if (fibres == 1) box->setCurrentIndex(0);
        }
    };
    connect(ferrule_, &QSpinBox::valueChanged, this, pinsWhereShared);
    pinsWhereShared(ferrule_->value());
    trouble_->setObjectName(QStringLiteral("planTrouble"));
    trouble_->setWordWrap(true);
    trouble_->setMinimumHeight(em(2.6));
    tint(trouble_, QPalette::WindowText, theme().damaged);

    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(em(0.8));
    int row = 0;
    const auto line = [&](const QString& label, QWidget* left, QWidget* right) {
        grid->addWidget(new QLabel(label, this), row, 0);
        grid->addWidget(left, row, 1, 1, right ? 1 : 2);
        if (right) grid->addWidget(right, row, 2);
        ++row;
    };
    const auto pair = [this](QWidget* left, QWidget* right) {
        auto* both = new QWidget(this);
        auto* box = new QHBoxLayout(both);
        box->setContentsMargins(0, 0, 0, 0);
        box->addWidget(left, 2);
        box->addWidget(right, 3);
        return both;
    };
    line(tr("Cable, length"), id_, length_);
    grid->addWidget(new QLabel(tr("End A"), this), row, 1);
    grid->addWidget(new QLabel(tr("End B"), this), row++, 2);
    line(tr("Place"), placeA_, placeB_);
    line(tr("Rack, panel"), pair(rackA_, panelA_), pair(rackB_, panelB_));
    line(tr("Ports"), portsA_, portsB_);
    line(tr("Behind the panel"), accessA_, accessB_);
    line(tr("Cords that come there"), cordA_, cordB_);
    line(tr("Fibres, in one ferrule"), fibres_, ferrule_);
    line(tr("Guide pins"), pinsA_, pinsB_);
    line(tr("Connector"), connector_, connectorB_);
    line(tr("Faces judged as"), criteria_, criteriaB_);
    line(tr("Fibre; fibres in one tube"), fibre_, tube_);
    line(tr("Splices, from A"), splices_, nullptr);
    line(tr("Patched at, from A"), inner_, nullptr);
    line(tr("Cords go into"), deviceA_, deviceB_);
    grid->addWidget(trouble_, row, 0, 1, 3);
    auto* buttons = acceptOrBack(*this, tr("Plan it (Enter)")).row;
    auto* layout = new QVBoxLayout(this);
    layout->addLayout(grid);
    layout->addWidget(buttons);
    setMinimumWidth(em(40));
    if (like) begin(*like);
    id_->setFocus();
}

QLineEdit* PlanDialog::edit(const char* objectName, const QString& hint)
{
    auto* e = new QLineEdit(this);
    e->setObjectName(QString::fromLatin1(objectName));
    e->setPlaceholderText(hint);
    return e;
}

QComboBox* PlanDialog::choice(const char* objectName, const QStringList& choices)
{
    auto* box = new QComboBox(this);
    box->setObjectName(QString::fromLatin1(objectName));
    box->addItems(choices);
    return box;
}

/// All but its name and its splices; its ports go on where the other cable's end.
void PlanDialog::begin(const CablePlan& like)
{
    const auto text = [](const std::string& s) { return QString::fromStdString(s); };
    placeA_->setText(text(like.placeA));
    placeB_->setText(text(like.placeB));
    panelA_->setText(text(like.panelA));
    panelB_->setText(text(like.panelB));
    fibre_->setCurrentText(text(like.fibre));
    connector_->setCurrentText(text(like.connector));
    criteria_->setCurrentText(text(like.criteriaAt(End::A)));
    connector_->setCurrentText(text(like.connectorAt(End::A)));
    if (like.connectorAt(End::B) != like.connectorAt(End::A)) connectorB_->setCurrentText(text(like.connectorAt(End::B)));
    if (like.criteriaAt(End::B) != like.criteriaAt(End::A)) criteriaB_->setCurrentText(text(like.criteriaAt(End::B)));
    ferrule_->setValue(like.ferruleFibres);
    tube_->setValue(like.tubeFibres);
    rackA_->setText(text(like.endA.rack));
    rackB_->setText(text(like.endB.rack));
    fibres_->setValue(like.fibres);
    length_->setText(QStringLiteral("%1 m").arg(like.length.value()));
    for (const auto& [end, ports, cord, access, pins] :
         {std::tuple(End::A, portsA_, cordA_, accessA_, pinsA_), std::tuple(End::B, portsB_, cordB_, accessB_, pinsB_)}) {
        int next = 1;
        for (const auto& c : planned_)
            for (const End other : {End::A, End::B})
                if (c.place(other) == like.place(end) && c.at(other).rack == like.at(end).rack && c.panel(other) == like.panel(end))
                    next = std::max(next, c.at(other).firstPort + c.ports());
        ports->setText(QStringLiteral("%1-%2").arg(next).arg(next + like.ports() - 1));
        if (!like.at(end).cordCriteria.empty()) cord->setCurrentText(text(like.at(end).cordCriteria));
        access->setCurrentIndex(static_cast<int>(like.at(end).access));
        if (const auto side = like.at(end).pins) pins->setCurrentIndex(*side == Side::Cord ? 1 : 2);
    }
}

Result<CablePlan> PlanDialog::typed() const
{
    const auto bad = [](std::string sentence) -> Result<CablePlan> { return failure(Error::Code::PlanInvalid, std::move(sentence)); };
    CablePlan c;
    c.id = id_->text().trimmed().toStdString();
    c.placeA = placeA_->text().trimmed().toStdString();
    c.placeB = placeB_->text().trimmed().toStdString();
    c.panelA = panelA_->text().trimmed().isEmpty() ? c.placeA : panelA_->text().trimmed().toStdString();
    c.panelB = panelB_->text().trimmed().isEmpty() ? c.placeB : panelB_->text().trimmed().toStdString();
    c.fibre = fibre_->currentText().toStdString();
    c.connector = connector_->currentText().toStdString();
    c.criteria = criteria_->currentText().toStdString();
    if (connectorB_->currentIndex() > 0 && connectorB_->currentText() != connector_->currentText())
        c.endB.connector = connectorB_->currentText().toStdString();
    if (criteriaB_->currentIndex() > 0 && criteriaB_->currentText() != criteria_->currentText())
        c.endB.criteria = criteriaB_->currentText().toStdString();
    c.fibres = fibres_->value();
    c.ferruleFibres = ferrule_->value();
    c.tubeFibres = tube_->value();
    c.endA.rack = rackA_->text().trimmed().toStdString();
    c.endB.rack = rackB_->text().trimmed().toStdString();
    c.length = parseLength(length_->text().toStdString()).value_or(Metre(0));
    for (const auto& [end, ports, cord, access, pins] :
         {std::tuple(&c.endA, portsA_, cordA_, accessA_, pinsA_), std::tuple(&c.endB, portsB_, cordB_, accessB_, pinsB_)}) {
        if (pins->currentIndex() > 0) end->pins = pins->currentIndex() == 1 ? Side::Cord : Side::Port;
        if (cord->currentIndex() > 0) end->cordCriteria = cord->currentText().toStdString();
        end->access = static_cast<Access>(access->currentIndex());
        if (ports->text().trimmed().isEmpty()) continue;
        const auto range = parsePorts(ports->text().toStdString());
        if (!range) return bad(fmt::format("“{}” is no range of ports. Write the first and the last: 1-12.", ports->text().toStdString()));
        if (range->first != range->second && range->second - range->first + 1 != c.ports())
            return bad(fmt::format("Ports {} to {} are {}, and the cable needs {}.", range->first, range->second, range->second - range->first + 1,
                                   c.ports()));
        end->firstPort = range->first;
    }
    for (const auto& known : planned_)
        if (known.id == c.id) return bad(fmt::format("The job has a cable {} already. Give this one another name.", c.id));
    c.endA.device = deviceA_->text().trimmed().toStdString();
    c.endB.device = deviceB_->text().trimmed().toStdString();
    auto panels = parsePanels(inner_->text().toStdString());
    if (!panels) return tl::unexpected(panels.error());
    c.inner = std::move(*panels);
    return parseSplices(splices_->text().toStdString()).and_then([&](std::vector<Splice> splices) -> Result<CablePlan> {
        c.splices = std::move(splices);
        if (const auto ok = check(c); !ok) return tl::unexpected(ok.error());
        return c;
    });
}

void PlanDialog::accept()
{
    const auto cable = typed();
    if (!cable) {
        trouble_->setText(QString::fromStdString(cable.error().message));
        return;
    }
    auto all = planned_;
    all.push_back(*cable);
    QString warning;
    for (const auto& trouble : planTroubles(all, families_))
        if (trouble.about == cable->id) warning += (warning.isEmpty() ? "" : " ") + QString::fromStdString(trouble.sentence);
    if (!warning.isEmpty() && warning != warned_) {
        warned_ = warning;
        trouble_->setText(tr("%1 Enter again: plan it all the same.").arg(warning));
        return;
    }
    cable_ = *cable;
    QDialog::accept();
}

}  // namespace clendo
