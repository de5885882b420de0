#include "app/plan/plan_dialog.h"

#include <fmt/format.h>

#include <QGridLayout>
#include <QScrollArea>
#include <map>

#include "app/plan/plan_drawing.h"
#include "app/widgets/dialog_buttons.h"
#include "app/widgets/on_screen.h"
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
      drawing_(new PlanDrawing(this)),
      trouble_(new QLabel(this))
{
    setObjectName(QStringLiteral("planDialog"));
    setWindowTitle(tr("Plan a cable"));
    const QStringList classes{QStringLiteral("sm-upc"),       QStringLiteral("sm-apc"),   QStringLiteral("sm-pc"),   QStringLiteral("mm-pc"),
                              QStringLiteral("sm-multi-apc"), QStringLiteral("sm-multi"), QStringLiteral("mm-multi")};
    const QStringList cords = QStringList{tr("as the cable")} + classes;
    id_ = edit("cableId", tr("its name in the plan"));
    placeA_ = edit("placeA", tr("building or room"));
    rackA_ = edit("rackA", tr("empty: none"));
    panelA_ = edit("panelA", tr("empty: as the place"));
    portsA_ = edit("portsA", tr("first-last; empty: from 1"));
    placeB_ = edit("placeB", tr("building or room"));
    rackB_ = edit("rackB", tr("empty: none"));
    panelB_ = edit("panelB", tr("empty: as the place"));
    portsB_ = edit("portsB", tr("first-last; empty: from 1"));
    length_ = edit("cableLength", tr("metres, or km"));
    splices_ = edit("splices", tr("metres and name; metres and name"));
    inner_ = edit("patchedAt", tr("metres, panel, port 25; empty: nowhere"));
    deviceA_ = edit("deviceA", tr("empty: not part of it"));
    deviceB_ = edit("deviceB", tr("empty: not part of it"));
    cordA_ = choice("cordA", cords);
    cordB_ = choice("cordB", cords);
    accessA_ = choice("accessA", {tr("behind adapters"), tr("inside a device"), tr("hardened")});
    accessB_ = choice("accessB", {tr("behind adapters"), tr("inside a device"), tr("hardened")});
    const QStringList pins{tr("not said"), tr("on the cord's ferrule"), tr("on the port's ferrule")};
    pinsA_ = choice("pinsA", pins);
    pinsB_ = choice("pinsB", pins);
    polarity_ = choice("polarity", {tr("1: straight (A)"), tr("the last of its group: reversed (B)"), tr("2: pairs crossed (C)")});
    use_ = choice("fibresUsed", {tr("all fibres"), tr("8 of each 12: 1-4 and 9-12")});
    fibres_->setObjectName(QStringLiteral("fibres"));
    fibres_->setRange(1, 864);
    fibres_->setValue(12);
    fibre_ = choice("fibreKind", {QStringLiteral("OS2"), QStringLiteral("OS1a"), QStringLiteral("OS1"), QStringLiteral("indoor-outdoor"),
                                  QStringLiteral("G.652.D"), QStringLiteral("G.657.A"), QStringLiteral("OM1"), QStringLiteral("OM2"),
                                  QStringLiteral("OM3"), QStringLiteral("OM4"), QStringLiteral("OM5")});
    QStringList names;
    for (const auto& family : families_) names << QString::fromStdString(family.name);
    connector_ = choice("connector", names);
    class_ = choice("faceClass", classes);
    const QString same = tr("as at end A");
    connectorB_ = choice("connectorB", QStringList{same} + names);
    classB_ = choice("faceClassB", QStringList{same} + classes);
    const auto propose = [this] {  // a rectangular single-mode ferrule is angled as a rule
        const bool multimode = isMultimode(fibre_->currentText().toStdString());
        const auto* family = familyNamed(families_, connector_->currentText().toStdString());
        const bool rectangular = family && !family->ferrule;
        class_->setCurrentText(rectangular ? (multimode ? QStringLiteral("mm-multi") : QStringLiteral("sm-multi-apc"))
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
    trouble_->setMinimumHeight(em(2.4));
    tint(trouble_, QPalette::WindowText, theme().damaged);
    auto* area = new QScrollArea(this);  // on small screens and with large letters
    area->setWidget(fields());
    area->setWidgetResizable(true);
    area->setFrameShape(QFrame::NoFrame);
    area->setFocusPolicy(Qt::NoFocus);
    auto* layout = new QVBoxLayout(this);
    layout->addWidget(drawing_);
    layout->addWidget(area, 1);
    layout->addWidget(trouble_);
    layout->addWidget(acceptOrBack(*this, tr("Plan it (Enter)")).row);
    resizeOnScreen(*this, {em(58), em(41)});
    if (like) begin(*like);
    for (auto* field : findChildren<QLineEdit*>()) connect(field, &QLineEdit::textChanged, this, &PlanDialog::drawTyped);
    for (auto* field : findChildren<QComboBox*>()) connect(field, &QComboBox::currentIndexChanged, this, &PlanDialog::drawTyped);
    for (auto* field : findChildren<QSpinBox*>()) connect(field, &QSpinBox::valueChanged, this, &PlanDialog::drawTyped);
    drawTyped();
    id_->setFocus();
}

/// Each field with its label above it, in the order in which Tab goes: the cable, end A, end B, what lies between.
QWidget* PlanDialog::fields()
{
    auto* all = new QWidget(this);
    auto* layout = new QVBoxLayout(all);
    layout->setContentsMargins(0, 0, em(0.4), 0);
    layout->setSpacing(em(0.5));
    struct Labelled {
        QString label;
        QWidget* field;
        int wide = 1;
    };
    const auto block = [all](int columns, const std::vector<Labelled>& list) {
        auto* grid = new QGridLayout;
        grid->setHorizontalSpacing(em(0.7));
        grid->setVerticalSpacing(em(0.15));
        int place = 0;
        for (const auto& one : list) {
            auto* label = new QLabel(one.label, all);
            label->setBuddy(one.field);
            tint(label, QPalette::WindowText, theme().soft);
            const int row = place / columns * 2, column = place % columns;
            grid->addWidget(label, row, column, 1, one.wide);
            grid->addWidget(one.field, row + 1, column, 1, one.wide);
            one.field->setParent(all);
            place += one.wide;
        }
        for (int column = 0; column < columns; ++column) grid->setColumnStretch(column, 1);
        return grid;
    };
    const auto head = [all](const QString& words) {
        auto* label = new QLabel(QStringLiteral("<b>%1</b>").arg(words), all);
        label->setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Fixed);
        return label;
    };
    layout->addLayout(block(6, {{tr("Cable"), id_},
                                {tr("Length"), length_},
                                {tr("Fibre"), fibre_},
                                {tr("Fibres"), fibres_},
                                {tr("Fibres in a ferrule"), ferrule_},
                                {tr("Fibres in a tube"), tube_},
                                {tr("Light into fibre 1 at A comes out at B at"), polarity_, 3},
                                {tr("Used are"), use_, 3}}));
    const auto end = [&](const QString& words, QWidget* place, QWidget* rack, QWidget* panel, QWidget* ports, QWidget* connector, QWidget* faceClass,
                         QWidget* access, QWidget* cord, QWidget* pins, QWidget* device) {
        auto* column = new QVBoxLayout;
        column->setSpacing(em(0.15));
        column->addWidget(head(words));
        column->addLayout(block(2, {{tr("Place"), place},
                                    {tr("Rack"), rack},
                                    {tr("Panel"), panel},
                                    {tr("Ports"), ports},
                                    {tr("Connector"), connector},
                                    {tr("Class"), faceClass},
                                    {tr("Its ports are"), access},
                                    {tr("Class of the cords there"), cord},
                                    {tr("Guide pins"), pins},
                                    {tr("Cords go into"), device}}));
        column->addStretch();
        return column;
    };
    auto* ends = new QHBoxLayout;
    ends->setSpacing(em(1.6));
    ends->addLayout(end(tr("End A"), placeA_, rackA_, panelA_, portsA_, connector_, class_, accessA_, cordA_, pinsA_, deviceA_));
    ends->addLayout(end(tr("End B"), placeB_, rackB_, panelB_, portsB_, connectorB_, classB_, accessB_, cordB_, pinsB_, deviceB_));
    layout->addLayout(ends);
    layout->addLayout(block(2, {{tr("Splices, from end A"), splices_}, {tr("Patched at, from end A"), inner_}}));
    layout->addStretch();
    QWidget* before = nullptr;
    for (QWidget* field :
         std::initializer_list<QWidget*>{id_,     length_, fibre_,      fibres_, ferrule_, tube_,  polarity_, use_,     placeA_,  rackA_,
                                         panelA_, portsA_, connector_,  class_,  accessA_, cordA_, pinsA_,    deviceA_, placeB_,  rackB_,
                                         panelB_, portsB_, connectorB_, classB_, accessB_, cordB_, pinsB_,    deviceB_, splices_, inner_}) {
        if (before) setTabOrder(before, field);
        before = field;
    }
    return all;
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
    class_->setCurrentText(text(like.classAt(End::A)));
    connector_->setCurrentText(text(like.connectorAt(End::A)));
    if (like.connectorAt(End::B) != like.connectorAt(End::A)) connectorB_->setCurrentText(text(like.connectorAt(End::B)));
    if (like.classAt(End::B) != like.classAt(End::A)) classB_->setCurrentText(text(like.classAt(End::B)));
    ferrule_->setValue(like.ferruleFibres);
    tube_->setValue(like.tubeFibres);
    polarity_->setCurrentIndex(like.polarity == "reversed" ? 1 : like.polarity == "pairs" ? 2 : 0);
    use_->setCurrentIndex(like.eightOfTwelve ? 1 : 0);
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
        if (!like.at(end).cordClass.empty()) cord->setCurrentText(text(like.at(end).cordClass));
        access->setCurrentIndex(static_cast<int>(like.at(end).access));
        if (const auto side = like.at(end).pins) pins->setCurrentIndex(*side == Side::Cord ? 1 : 2);
    }
}

/// All that can be read, whatever is wrong with the rest; the first that is wrong.
std::optional<PlanDialog::Wrong> PlanDialog::read(CablePlan& c) const
{
    std::optional<Wrong> wrong;
    const auto bad = [&wrong](const std::string& sentence, QWidget* field) {
        if (!wrong) wrong = Wrong{QString::fromStdString(sentence), field};
    };
    c.id = id_->text().trimmed().toStdString();
    c.placeA = placeA_->text().trimmed().toStdString();
    c.placeB = placeB_->text().trimmed().toStdString();
    c.panelA = panelA_->text().trimmed().isEmpty() ? c.placeA : panelA_->text().trimmed().toStdString();
    c.panelB = panelB_->text().trimmed().isEmpty() ? c.placeB : panelB_->text().trimmed().toStdString();
    c.fibre = fibre_->currentText().toStdString();
    c.connector = connector_->currentText().toStdString();
    c.className = class_->currentText().toStdString();
    if (connectorB_->currentIndex() > 0 && connectorB_->currentText() != connector_->currentText())
        c.endB.connector = connectorB_->currentText().toStdString();
    if (classB_->currentIndex() > 0 && classB_->currentText() != class_->currentText()) c.endB.className = classB_->currentText().toStdString();
    c.fibres = fibres_->value();
    c.ferruleFibres = ferrule_->value();
    c.tubeFibres = tube_->value();
    constexpr std::array polarities{"straight", "reversed", "pairs"};
    c.polarity = polarities[static_cast<std::size_t>(polarity_->currentIndex())];
    c.eightOfTwelve = use_->currentIndex() == 1;
    c.endA.rack = rackA_->text().trimmed().toStdString();
    c.endB.rack = rackB_->text().trimmed().toStdString();
    c.length = parseLength(length_->text().toStdString()).value_or(Metre(0));
    for (const auto& [end, ports, cord, access, pins] :
         {std::tuple(&c.endA, portsA_, cordA_, accessA_, pinsA_), std::tuple(&c.endB, portsB_, cordB_, accessB_, pinsB_)}) {
        if (pins->currentIndex() > 0) end->pins = pins->currentIndex() == 1 ? Side::Cord : Side::Port;
        if (cord->currentIndex() > 0) end->cordClass = cord->currentText().toStdString();
        end->access = static_cast<Access>(access->currentIndex());
        if (ports->text().trimmed().isEmpty()) continue;
        const auto range = parsePorts(ports->text().toStdString());
        if (!range) {
            bad(fmt::format("“{}” is no range of ports. Write the first and the last: 1-12.", ports->text().toStdString()), ports);
            continue;
        }
        if (range->first != range->second && range->second - range->first + 1 != c.ports())
            bad(fmt::format("Ports {} to {} are {}, and the cable needs {}.", range->first, range->second, range->second - range->first + 1,
                            c.ports()),
                ports);
        end->firstPort = range->first;
    }
    for (const auto& known : planned_)
        if (known.id == c.id) bad(fmt::format("The job has a cable {} already. Give this one another name.", c.id), id_);
    c.endA.device = deviceA_->text().trimmed().toStdString();
    c.endB.device = deviceB_->text().trimmed().toStdString();
    if (auto panels = parsePanels(inner_->text().toStdString()))
        c.inner = std::move(*panels);
    else
        bad(panels.error().message, inner_);
    if (auto splices = parseSplices(splices_->text().toStdString()))
        c.splices = std::move(*splices);
    else
        bad(splices.error().message, splices_);
    return wrong ? wrong : wrongIn(c);
}

/// What is wrong with the whole of it: sentence and field are the core's.
std::optional<PlanDialog::Wrong> PlanDialog::wrongIn(const CablePlan& cable) const
{
    const auto ok = check(cable);
    if (ok) return std::nullopt;
    const std::map<std::string_view, QWidget*> fields{{"place_a", placeA_},         {"place_b", placeB_},   {"fibres", fibres_},
                                                      {"ferrule_fibres", ferrule_}, {"tube_fibres", tube_}, {"polarity", polarity_},
                                                      {"eight_of_twelve", use_},    {"length_m", length_},  {"end_a", portsA_},
                                                      {"end_b", portsB_},           {"splices", splices_},  {"patched_at", inner_}};
    const auto field = fields.find(ok.error().detail);
    return Wrong{QString::fromStdString(ok.error().message), field == fields.end() ? id_ : field->second};
}

/// What is against the rules of the trade, beside what is planned already.
QString PlanDialog::oddities(const CablePlan& cable) const
{
    auto all = planned_;
    all.push_back(cable);
    QStringList out;
    for (const auto& trouble : planTroubles(all, families_))
        if (trouble.about == cable.id) out << QString::fromStdString(trouble.sentence);
    return out.join(QLatin1Char(' '));
}

void PlanDialog::drawTyped()
{
    CablePlan cable;
    const bool whole = !read(cable);
    drawing_->show(cable, whole ? oddities(cable) : QString());
}

void PlanDialog::accept()
{
    CablePlan cable;
    if (const auto wrong = read(cable)) {
        trouble_->setText(wrong->sentence);
        wrong->field->setFocus();
        if (auto* edit = qobject_cast<QLineEdit*>(wrong->field)) edit->selectAll();
        return;
    }
    const QString warning = oddities(cable);
    if (!warning.isEmpty() && warning != warned_) {
        warned_ = warning;
        trouble_->setText(tr("%1 Enter again: plan it anyway.").arg(warning));
        return;
    }
    cable_ = cable;
    QDialog::accept();
}

}  // namespace clendo
