#include "app/sign/sign_view.h"

#include <QHeaderView>
#include <QPointer>
#include <QVBoxLayout>

#include "app/widgets/theme.h"
#include "app/widgets/words.h"
#include "record/journal/time_text.h"
#include "record/rules/completeness.h"

namespace clendo {
namespace {

Tone toneOf(PartVerdict verdict)
{
    switch (verdict) {
        case PartVerdict::Pass: return Tone::Fit;
        case PartVerdict::NearLimit: return Tone::Work;
        case PartVerdict::NotValid:
        case PartVerdict::Fail: return Tone::Damaged;
        case PartVerdict::Incomplete:
        case PartVerdict::NotAsked: break;
    }
    return Tone::Neutral;
}

QTableWidgetItem* verdictItem(PartVerdict verdict, bool brief = false)
{
    const bool open = verdict == PartVerdict::Incomplete || verdict == PartVerdict::NotAsked;
    auto* item = new QTableWidgetItem(open && brief ? QStringLiteral("–") : text(name(verdict)));
    item->setToolTip(text(name(verdict)));
    if (toneOf(verdict) != Tone::Neutral) item->setForeground(theme().of(toneOf(verdict)));
    if (toneOf(verdict) == Tone::Damaged) {
        QFont bold;
        bold.setBold(true);
        item->setFont(bold);
    }
    return item;
}

/// The least that any wavelength has to spare: "0.42 dB".
QString leastMargin(const LinkState& s)
{
    std::optional<Decibel> least;
    if (s.loss)
        for (const auto& r : s.loss->results)
            if (r.margin) least = std::min(least.value_or(*r.margin), *r.margin);
    return least ? QObject::tr("%1 dB").arg(least->value(), 0, 'f', 2) : QStringLiteral("–");
}

/// What is missing of a part, in its own row: without the part's name before it.
std::string withoutName(const std::string& lack, const std::string& about)
{
    const bool named = lack.size() > about.size() + 2 && lack.starts_with(about) && (lack[about.size()] == ':' || lack[about.size()] == ',');
    return named ? lack.substr(about.size() + 2) : lack;
}

void setUp(QTableWidget& table, const char* name, const QStringList& heads)
{
    table.setObjectName(QString::fromLatin1(name));
    table.setColumnCount(static_cast<int>(heads.size()));
    table.setHorizontalHeaderLabels(heads);
    table.verticalHeader()->hide();
    table.setEditTriggers(QAbstractItemView::NoEditTriggers);
    table.setSelectionMode(QAbstractItemView::NoSelection);
    table.setFocusPolicy(Qt::NoFocus);
    table.setShowGrid(false);
    table.setWordWrap(true);
    table.setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    table.setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);  // a row may be taller than what is shown
}

}  // namespace

SignView::SignView(QWidget* parent)
    : QWidget(parent),
      title_(new QLabel(this)),
      partsTitle_(new QLabel(this)),
      overtaken_(new QLabel(this)),
      table_(new QTableWidget(this)),
      parts_(new QTableWidget(this)),
      differences_(new QTableWidget(this))
{
    setObjectName(QStringLiteral("signView"));
    setUp(*table_, "signTable",
          {tr("Fibre"), tr("Faces"), tr("Loss"), tr("To spare"), tr("Right\nfibre"), tr("Length"), tr("Traces"), tr("Verdict"), tr("Signed")});
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    table_->horizontalHeader()->setSectionResizeMode(8, QHeaderView::Stretch);
    table_->setWordWrap(false);
    table_->verticalHeader()->setDefaultSectionSize(em(2));
    setUp(*parts_, "signParts", {tr("What"), tr("What is there, what is missing"), tr("Verdict")});
    setUp(*differences_, "signDifferences", {tr("What differs"), tr("When it was signed"), tr("Now")});
    parts_->horizontalHeader()->setSectionResizeMode(1, QHeaderView::Stretch);
    differences_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    overtaken_->setObjectName(QStringLiteral("signOvertaken"));
    overtaken_->setTextFormat(Qt::PlainText);
    for (auto* label : {title_, partsTitle_, overtaken_}) label->setWordWrap(true);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(14, 10, 14, 10);
    layout->addWidget(title_);
    layout->addWidget(table_, 3);
    layout->addWidget(overtaken_);
    layout->addWidget(differences_, 2);
    layout->addWidget(partsTitle_);
    layout->addWidget(parts_, 4);
}

void SignView::show(JobSession& session, const Link* chosen)
{
    if (!chosen) return;
    fillFibres(session.state(), *chosen);
    fillParts(session.state(), *chosen);
    fillDifferences(session, *chosen);
}

void SignView::fillFibres(const JobState& state, const Link& chosen)
{
    std::vector<const Link*> links;
    int standing = 0;
    for (const auto& link : state.plan->links) {
        if (link.cable != chosen.cable) continue;
        links.push_back(&link);
        const auto& signature = state.state(link.id).signature;
        standing += signature && signature->stands ? 1 : 0;
    }
    const auto whole = state.signedCables.find(chosen.cable->id);
    title_->setText(tr("<b>Sign-off, cable %1</b>: the signatures of %2 of %3 fibres stand. S signs the fibre; Shift+S the cable when all stand.")
                        .arg(QString::fromStdString(chosen.cable->id).toHtmlEscaped())
                        .arg(standing)
                        .arg(links.size()) +
                    (whole == state.signedCables.end() ? QString()
                     : whole->second.stands            ? tr(" <b>The cable is signed.</b>")
                                                       : tr(" <b>The cable was signed; that is overtaken.</b>")));
    table_->setRowCount(static_cast<int>(links.size()));
    for (int r = 0; r < table_->rowCount(); ++r) {
        const Link& link = *links[static_cast<std::size_t>(r)];
        const LinkState& s = state.state(link.id);
        const Completeness all = completeness(state, link);
        const QString signedBy = !s.signature          ? QStringLiteral("–")
                                 : s.signature->stands ? QString::fromStdString(s.signature->who)
                                                       : tr("overtaken");
        auto* by = new QTableWidgetItem(signedBy);
        if (s.signature && !s.signature->stands) by->setForeground(theme().work);
        auto* number = new QTableWidgetItem(QStringLiteral("%1  %2").arg(link.fibre).arg(QString::fromStdString(link.colour)));
        number->setToolTip(number->text());
        const auto of = [&all](PartKind one, PartKind other) { return verdictItem(std::max(all.verdict(one), all.verdict(other)), true); };
        int column = 0;
        for (auto* item : {number, of(PartKind::Face, PartKind::Mating), of(PartKind::Loss, PartKind::Loss), new QTableWidgetItem(leastMargin(s)),
                           of(PartKind::RightFibre, PartKind::RightFibre), of(PartKind::Length, PartKind::Length),
                           of(PartKind::Trace, PartKind::Joint), verdictItem(all.verdict()), by}) {
            if (link.id == chosen.id) item->setBackground(theme().chosen);
            table_->setItem(r, column++, item);
        }
        if (link.id == chosen.id) table_->scrollToItem(table_->item(r, 0));
    }
}

void SignView::fillParts(const JobState& state, const Link& chosen)
{
    const Completeness all = completeness(state, chosen);
    partsTitle_->setText(tr("<b>Fibre %1</b>: what was wanted, what is there, what is missing").arg(chosen.fibre));
    parts_->setRowCount(static_cast<int>(all.parts.size() + all.exceptions.size()));
    int r = 0;
    for (const auto& part : all.parts) {
        std::string says = part.says;
        bool first = true;
        for (const auto& lack : part.lacks) {
            says += (!first ? ", " : says.empty() ? "missing: " : "; missing: ") + withoutName(lack, part.about);
            first = false;
        }
        parts_->setItem(r, 0, new QTableWidgetItem(QString::fromStdString(part.about)));
        parts_->setItem(r, 1, new QTableWidgetItem(QString::fromStdString(says)));
        parts_->setItem(r++, 2, verdictItem(part.verdict));
    }
    for (const auto& exception : all.exceptions) {
        parts_->setItem(r, 0, new QTableWidgetItem(tr("exception")));
        parts_->setItem(r, 1, new QTableWidgetItem(QString::fromStdString(exception)));
        parts_->setItem(r++, 2, new QTableWidgetItem);
    }
    parts_->resizeColumnToContents(0);
    parts_->setColumnWidth(0, std::min(parts_->columnWidth(0), em(15)));
    parts_->setColumnWidth(2, em(6));
    parts_->resizeRowsToContents();
}

void SignView::fillDifferences(JobSession& session, const Link& chosen)
{
    const auto& signature = session.state().state(chosen.id).signature;
    const bool overtaken = signature && !signature->stands;
    overtaken_->setVisible(overtaken);
    differences_->setVisible(false);
    if (!overtaken) return;
    if (explained_.signature != signature->entry || explained_.entries != session.entries().size()) explain(session, chosen, *signature);
    tellDifferences(session, *signature);
}

void SignView::explain(JobSession& session, const Link& chosen, const SignatureState& signature)
{
    explained_ = {signature.entry, session.entries().size(), {}};
    session.findSignatures(chosen.id, this,
                           [this, open = QPointer(&session), signature, asked = session.entries().size()](const std::vector<Signature>& all) {
                               if (!open || explained_.signature != signature.entry || explained_.entries != asked) return;
                               for (const auto& s : all)
                                   if (s.entry == signature.entry) explained_.what = s;
                               tellDifferences(*open, signature);
                           });
}

void SignView::tellDifferences(const JobSession& session, const SignatureState& signature)
{
    QString words = tr("Signed by %1, %2.").arg(QString::fromStdString(signature.who), QString::fromStdString(timeText(signature.at)));
    const auto* what = explained_.what && explained_.what->overtaken ? &*explained_.what->overtaken : nullptr;
    if (what && what->since) {
        const auto entries = session.entries();
        const auto by = std::find_if(entries.begin(), entries.end(), [&](const Entry& e) { return e.hash == what->by; });
        words += tr(" Overtaken since %1").arg(QString::fromStdString(timeText(*what->since)));
        if (by != entries.end())
            words += tr(" by entry No. %1: %2").arg(by - entries.begin() + 1).arg(QString::fromStdString(sentenceOf(by->fact, session.state())));
        words += QLatin1Char('.');
    } else if (what) {
        words += tr(" This version of Clendo judges the same entries otherwise than the one that signed.");
    }
    overtaken_->setText(words);
    if (!what || what->differs.empty()) return;
    differences_->setVisible(true);
    differences_->setRowCount(static_cast<int>(what->differs.size()));
    int r = 0;
    for (const auto& d : what->differs) {
        int column = 0;
        for (const auto& cell : {d.about, d.before.empty() ? std::string("–") : d.before, d.now.empty() ? std::string("–") : d.now})
            differences_->setItem(r, column++, new QTableWidgetItem(QString::fromStdString(cell)));
        ++r;
    }
    differences_->resizeRowsToContents();
    // what differs first is read whole, however low the window is
    differences_->setMinimumHeight(differences_->horizontalHeader()->sizeHint().height() + differences_->rowHeight(0) +
                                   2 * differences_->frameWidth());
}

}  // namespace clendo
