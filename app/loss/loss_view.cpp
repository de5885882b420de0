#include "app/loss/loss_view.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QSignalBlocker>
#include <QVBoxLayout>

#include "app/loss/bench_bar.h"
#include "app/loss/gear_row.h"
#include "app/loss/loss_drawings.h"
#include "app/loss/plug_drawing.h"
#include "app/loss/reference_drawing.h"
#include "app/widgets/pick.h"
#include "app/widgets/theme.h"
#include "record/rules/plausible.h"
#include "record/state/complete_act.h"

namespace clendo {
namespace {

constexpr std::array<ReferenceMethod, 4> methods{ReferenceMethod::OneCord, ReferenceMethod::TwoCord, ReferenceMethod::ThreeCord,
                                                 ReferenceMethod::SingleEnded};

QString methodText(ReferenceMethod method)
{
    const int held = endConnectionsHeld(method);
    const QString counts = held == 2   ? QObject::tr("both end connections counted")
                           : held == 1 ? QObject::tr("one end connection counted")
                                       : QObject::tr("no end connection counted");
    const auto label = name(method), old = oldNames(method);
    return QStringLiteral("%1: %2 (%3)")
        .arg(QString::fromUtf8(label.data(), static_cast<qsizetype>(label.size())), counts,
             QString::fromUtf8(old.data(), static_cast<qsizetype>(old.size())));
}

QString levelText(DecibelMilliwatt level) { return QStringLiteral("%1 dBm").arg(level.value(), 0, 'f', 2); }

/// Enter files the level and the arrows stay here: the window must not take them for commands.
class LevelEdit : public QLineEdit {
public:
    using QLineEdit::QLineEdit;

protected:
    void keyPressEvent(QKeyEvent* event) override
    {
        QLineEdit::keyPressEvent(event);
        if (event->key() != Qt::Key_Escape && event->key() != Qt::Key_Tab && event->key() != Qt::Key_Backtab) event->accept();
    }
};

}  // namespace

LossView::LossView(const LightRun& run, QWidget* parent)
    : QWidget(parent),
      method_(new QComboBox(this)),
      gear_(new GearRow(this)),
      grid_(nullptr),
      trouble_(new QLabel(this)),
      launch_(new QComboBox(this)),
      references_(new ReferenceDrawing(this)),
      diagram_(new PlugDrawing(this)),
      budget_(new Budget(this)),
      fibres_(new Fibres(this))
{
    setObjectName(QStringLiteral("lossView"));
    method_->setObjectName(QStringLiteral("method"));
    method_->setFocusPolicy(Qt::TabFocus);
    for (const auto method : methods) method_->addItem(methodText(method));
    method_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    trouble_->setObjectName(QStringLiteral("lossTrouble"));
    trouble_->setWordWrap(true);
    trouble_->hide();
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(14, 8, 14, 8);
    layout->setSpacing(5);
    layout->addWidget(new BenchBar(run, this));
    auto* head = new QHBoxLayout;
    head->addWidget(new QLabel(tr("<b>Reference</b>"), this));
    head->addWidget(method_, 1);
    layout->addLayout(head);
    launch_->setObjectName(QStringLiteral("launch"));
    launch_->setFocusPolicy(Qt::TabFocus);
    launch_->setAccessibleName(tr("Launch"));
    launch_->addItem(tr("launch: not said"), QString());
    for (const QString& how : {tr("encircled flux"), tr("mandrel on the source cord")}) launch_->addItem(tr("launch: %1").arg(how), how);
    head->addWidget(launch_);
    layout->addWidget(gear_);
    layout->addWidget(diagram_);
    layout->addSpacing(4);
    layout->addWidget(trouble_);
    layout->addWidget(budget_);
    layout->addWidget(references_);
    layout->addWidget(new QLabel(tr("<b>Fibres</b>: loss in the worse direction against the allowed loss"), this));
    layout->addWidget(fibres_, 1);
    connect(gear_, &GearRow::changed, this, &LossView::gearChanged);
    connect(method_, &QComboBox::activated, this, [this](int index) {
        if (!session_) return;
        JobSettings job = session_->state().plan->job;
        job.method = methods[static_cast<std::size_t>(index)];
        if (job.method != session_->state().plan->job.method) session_->file(settingFacts(session_->state().plan->job, job));
    });
}

void LossView::build(const std::vector<int>& wavelengths)
{
    delete grid_;
    fields_.clear();
    grid_ = new QWidget(this);
    auto* grid = new QGridLayout(grid_);
    grid->setContentsMargins(0, 0, 0, 0);
    int column = 1;
    for (const QString& title : {tr("Reference\nsource at A"), tr("Reading\nsource at A"), tr("Reference\nsource at B"), tr("Reading\nsource at B"),
                                 tr("Loss\nsource at A"), tr("Loss\nsource at B")}) {
        auto* label = new QLabel(title, grid_);
        tint(label, QPalette::WindowText, theme().soft);
        grid->addWidget(label, 0, column++);
    }
    int row = 1;
    for (const int nm : wavelengths) {
        grid->addWidget(new QLabel(tr("<b>%1 nm</b>").arg(nm), grid_), row, 0);
        column = 1;
        for (const Direction d : {Direction::AtoB, Direction::BtoA})
            for (const bool reference : {true, false}) {
                const auto way = name(d);
                Field field{reference, nm, d, new LevelEdit(grid_)};
                field.edit->setObjectName(QStringLiteral("%1-%2-%3")
                                              .arg(reference ? QStringLiteral("reference") : QStringLiteral("reading"))
                                              .arg(nm)
                                              .arg(QString::fromUtf8(way.data(), 2)));
                field.edit->setPlaceholderText(tr("dBm"));
                field.edit->setAccessibleName(tr("%1 at %2 nm, %3")
                                                  .arg(reference ? tr("Reference") : tr("Reading"))
                                                  .arg(nm)
                                                  .arg(d == Direction::AtoB ? tr("source at A") : tr("source at B")));
                grid->addWidget(field.edit, row, column++);
                fields_.push_back(field);
                connect(field.edit, &QLineEdit::returnPressed, this, [this, field] { typed(field); });
            }
        for (const char* which : {"ab", "ba"}) {
            auto* loss = new QLabel(grid_);
            loss->setObjectName(QStringLiteral("loss-%1-%2").arg(nm).arg(QString::fromLatin1(which)));
            grid->addWidget(loss, row, column++);
        }
        ++row;
    }
    auto* rows = static_cast<QVBoxLayout*>(layout());
    rows->insertWidget(rows->indexOf(trouble_), grid_);
    builtFor_ = wavelengths;
}

void LossView::show(JobSession& session, const Link* link)
{
    session_ = &session;
    setEnabled(link != nullptr);
    if (!link) return;
    const auto wavelengths = session.state().plan->wavelengthsFor(*link->cable);
    if (builtFor_ != wavelengths || !grid_) build(wavelengths);
    const bool other = link_ != link->id;
    link_ = link->id;
    if (other) {
        tell({});
        asked_ = {};
        for (const auto& field : fields_) field.edit->setModified(false);
    }
    const QSignalBlocker quiet(method_);
    method_->setCurrentIndex(static_cast<int>(std::find(methods.begin(), methods.end(), session.state().plan->job.method) - methods.begin()));
    gear_->offer(session.state());
    fill(session.state(), *link);
}

/// Level, method, cords and instruments of a reference belong together: with another meter in hand the old level is none.
void LossView::gearChanged()
{
    if (!session_) return;
    const auto now = gear_->names();
    const auto free = gear_->freeEnd();
    std::vector<Fact> facts;
    for (const Direction d : {Direction::AtoB, Direction::BtoA}) {
        const auto& references = session_->state().references;
        const bool other = std::any_of(references.begin(), references.end(), [&](const auto& r) {
            const bool turned = r.second.freeEnd && free && *r.second.freeEnd != *free;
            return r.first.first == d && !r.second.with.empty() && (r.second.with != now || turned);
        });
        if (other) facts.emplace_back(std::in_place_type<ReferenceVoided>, d, std::string("other instruments or cords in hand"));
    }
    if (!facts.empty()) session_->file(std::move(facts));
}

void LossView::fill(const JobState& state, const Link& link)
{
    const LinkState& s = state.state(link.id);
    for (const auto& field : fields_) {
        QString text;
        if (field.reference) {
            if (const auto* set = state.reference(field.direction, Nanometre(field.wavelength)))
                text = set->zeroed ? tr("set to zero") : levelText(set->level);
        } else {
            for (const auto& [r, entry, at] : s.readings)
                if (r.direction == field.direction && std::abs(r.wavelength.value() - field.wavelength) < 0.5)
                    text = r.shown ? tr("%1 dB").arg(r.shown->value(), 0, 'f', 2) : levelText(r.power);
        }
        if (field.edit->isModified() || field.edit->text() == text) continue;  // what is being typed stays
        field.edit->setText(text);
        field.edit->setCursorPosition(0);  // a sign that is scrolled out of sight is a wrong reading
        if (field.edit->hasFocus()) field.edit->selectAll();
    }
    for (const int nm : builtFor_)
        for (const char* which : {"ab", "ba"}) {
            QString text;
            if (s.loss)
                for (const auto& r : s.loss->results) {
                    const auto& loss = which[0] == 'a' ? r.lossAb : r.lossBa;
                    if (std::abs(r.wavelength.value() - nm) < 0.5 && loss) text = tr("%1 dB").arg(loss->value(), 0, 'f', 2);
                }
            if (auto* label = findChild<QLabel*>(QStringLiteral("loss-%1-%2").arg(nm).arg(QString::fromLatin1(which))))
                label->setText(QStringLiteral("<b>%1</b>").arg(text));
        }
    launch_->setVisible(isMultimode(*link.cable));
    if (const LimitSet* limits = state.plan->limitsFor(*link.cable)) references_->show(state, limits->referencePair);
    diagram_->show(state.plan->job.method, tr("fibre %1").arg(link.fibre));
    std::vector<LossByElement> found;
    for (const int nm : builtFor_)
        if (auto one = lossByElement(state, link, Nanometre(double(nm)))) found.push_back(std::move(*one));
    budget_->setReport(s.loss, std::move(found));
    fibres_->state = &state;
    fibres_->chosen = link.id;
    fibres_->update();
}

/// What is wrong with what was typed; its line is there only where something is.
void LossView::tell(const QString& trouble)
{
    trouble_->setText(trouble);
    trouble_->setVisible(!trouble.isEmpty());
}

void LossView::typed(const Field& field)
{
    tint(trouble_, QPalette::WindowText, theme().damaged);
    const auto* on = field.reference || !session_ ? nullptr : session_->state().reference(field.direction, Nanometre(field.wavelength));
    if (on && on->zeroed) return typedRelative(field);
    const auto level = parsePower(field.edit->text().toStdString());
    if (!level) {
        tell(QString::fromStdString(level.error().message));
        field.edit->selectAll();
        return;
    }
    if (!field.reference && !confirmed(field, {link_, Nanometre(double(field.wavelength)), field.direction, *level})) return;
    tell({});
    field.edit->setModified(false);
    fileReading(field, *level);
}

/// What cannot well be is asked for before it is filed: Enter once more on the same figure says that it was read so.
bool LossView::confirmed(const Field& field, const PowerRead& read)
{
    const std::string question = session_ ? askBeforeFiling(session_->state(), read) : std::string();
    const std::pair<const QLineEdit*, QString> asked(field.edit, field.edit->text());
    if (question.empty() || asked_ == asked) {
        asked_ = {};
        return true;
    }
    asked_ = asked;
    tell(tr("%1 Look again; Enter files it as it stands.").arg(QString::fromStdString(question)));
    field.edit->selectAll();
    return false;
}

/// A meter that was set to zero shows the loss itself; by which sign, it is asked once.
void LossView::typedRelative(const Field& field)
{
    const std::string meter = gear_->meter();
    const auto& signs = session_->state().meterSigns;
    const auto sign = signs.find(meter);
    std::vector<Fact> facts;
    bool negative = sign != signs.end() && sign->second;
    if (sign == signs.end()) {
        const auto answer = pick(this, tr("A meter set to zero"), tr("With the link in, where less light comes out, it shows"),
                                 {tr("a number below zero: −1.62 dB"), tr("a number above zero: 1.62 dB")}, false);
        if (!answer) return;
        negative = answer->contains(QChar(0x2212));
        facts.emplace_back(MeterSignKept{meter, negative});
    }
    const auto loss = parseRelative(field.edit->text().toStdString(), negative);
    if (!loss) {
        tell(QString::fromStdString(loss.error().message));
        field.edit->selectAll();
        return;
    }
    PowerRead read{link_, Nanometre(double(field.wavelength)), field.direction, {}};
    read.shown = *loss;
    read.receiveEnd = gear_->receiveEnd();
    if (!confirmed(field, read)) return;
    tell({});
    field.edit->setModified(false);
    facts.emplace_back(std::move(read));
    session_->file(std::move(facts));
    focusNext(field);
}

LightGear LossView::inHand() const
{
    const bool launched = launch_->isVisibleTo(this);  // multimode only
    return {gear_->names(), launched ? launch_->currentData().toString().toStdString() : std::string(), gear_->freeEnd(), gear_->launchCord(),
            gear_->receiveEnd()};
}

void LossView::fileReading(const Field& field, DecibelMilliwatt level)
{
    const Nanometre wavelength{double(field.wavelength)};
    const LightGear gear = inHand();
    Filing filing;
    if (field.reference) {
        filing.facts.emplace_back(gear.set({session_->state().plan->job.method, wavelength, field.direction, level}));
    } else {
        PowerRead read{link_, wavelength, field.direction, level};
        read.receiveEnd = gear.receiveEnd;
        filing.facts.emplace_back(std::move(read));
    }
    // hands type on; what could not be filed comes back to be filed again
    session_->file(std::move(filing), {}, field.edit, [edit = field.edit, typed = field.edit->text()] {
        edit->setText(typed);
        edit->setModified(true);
        edit->setFocus();
    });
    focusNext(field);
}

void LossView::focusNext(const Field& field)
{
    bool passed = false;
    for (const auto& other : fields_) {
        if (passed && other.reference == field.reference) {
            other.edit->setFocus();
            other.edit->selectAll();
            return;
        }
        passed = passed || other.edit == field.edit;
    }
    window()->setFocus();  // the last one: keys are commands again
}

void LossView::focusFirst(bool reference)
{
    const Field* first = nullptr;
    for (const auto& field : fields_)
        if (field.reference == reference && (!first || (!first->edit->text().isEmpty() && field.edit->text().isEmpty()))) first = &field;
    if (!first) return;
    first->edit->setFocus();
    first->edit->selectAll();
}

void LossView::focusReference() { focusFirst(true); }
void LossView::focusReading() { focusFirst(false); }

}  // namespace clendo
