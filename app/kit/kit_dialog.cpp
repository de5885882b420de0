#include "app/kit/kit_dialog.h"

#include <QDateTime>
#include <QGridLayout>
#include <QHeaderView>
#include <QKeyEvent>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

#include "app/widgets/on_screen.h"
#include "app/widgets/theme.h"
#include "record/rules/golden_face.h"
#include "record/rules/kit.h"
#include "record/rules/reference_health.h"

namespace clendo {
namespace {

std::int64_t now() { return QDateTime::currentSecsSinceEpoch(); }

QString dateText(std::int64_t at) { return at == 0 ? QString() : QDateTime::fromSecsSinceEpoch(at, Qt::UTC).toString(QStringLiteral("yyyy-MM-dd")); }

QString listText(const std::vector<std::string>& list)
{
    QStringList out;
    for (const auto& item : list) out << QString::fromStdString(item);
    return out.join(QStringLiteral(", "));
}

QLineEdit* field(QWidget* parent, const char* objectName, const QString& hint)
{
    auto* e = new QLineEdit(parent);
    e->setObjectName(QString::fromLatin1(objectName));
    e->setPlaceholderText(hint);
    return e;
}

}  // namespace

KitDialog::KitDialog(JobSession& session, QWidget* parent)
    : QDialog(parent),
      session_(session),
      table_(new QTableWidget(this)),
      open_(new TextBlock(this)),
      said_(new TextBlock(this)),
      id_(field(this, "kitId", tr("pen 1"))),
      connectors_(field(this, "kitConnectors", tr("LC, SC; empty: all"))),
      serial_(field(this, "kitSerial", {})),
      until_(field(this, "kitUntil", tr("2027-03-31"))),
      reason_(field(this, "kitReason", tr("why it goes on anyway"))),
      kind_(new QComboBox(this)),
      most_(new QSpinBox(this))
{
    setObjectName(QStringLiteral("kitDialog"));
    setWindowTitle(tr("The kit: what goes along, and is it ready?"));
    table_->setObjectName(QStringLiteral("kit"));
    table_->setColumnCount(6);
    table_->setHorizontalHeaderLabels({tr("Name"), tr("Kind"), tr("Fits"), tr("Serial number"), tr("Calibrated until"), tr("Used")});
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table_->verticalHeader()->hide();
    table_->verticalHeader()->setDefaultSectionSize(em(1.6));
    table_->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft);
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    table_->horizontalHeader()->setStretchLastSection(true);
    table_->setShowGrid(false);
    open_->setObjectName(QStringLiteral("kitOpen"));
    said_->setObjectName(QStringLiteral("kitSaid"));
    kind_->setObjectName(QStringLiteral("kitKind"));
    for (const auto& kind : session_.state().plan->kitKinds) kind_->addItem(QString::fromStdString(kind.title), QString::fromStdString(kind.kind));
    most_->setObjectName(QStringLiteral("kitMost"));
    most_->setRange(0, 100000);
    most_->setPrefix(tr("good for "));
    most_->setSpecialValueText(tr("not counted"));
    const auto button = [&](const QString& text, const char* objectName, auto work) {
        auto* b = new QPushButton(text, this);
        b->setObjectName(QString::fromLatin1(objectName));
        b->setAutoDefault(false);
        connect(b, &QPushButton::clicked, this, work);
        return b;
    };
    auto* form = new QGridLayout;
    int place = 0;
    const auto labelled = [&](const QString& label, QWidget* field) {
        auto* words = new QLabel(label, this);
        tint(words, QPalette::WindowText, theme().soft);
        form->addWidget(words, place / 3 * 2, place % 3);
        form->addWidget(field, place / 3 * 2 + 1, place % 3);
        ++place;
    };
    labelled(tr("Kind"), kind_);
    labelled(tr("Name"), id_);
    labelled(tr("Connectors that it fits"), connectors_);
    labelled(tr("Serial number"), serial_);
    labelled(tr("Calibrated until"), until_);
    labelled(tr("Strokes or matings"), most_);
    auto* items = new QHBoxLayout;
    items->addWidget(button(tr("&Save this item"), "keepItem", [this] { keep(); }));
    items->addWidget(button(tr("&Proven just now"), "proveItem", [this] { proveChosen(true); }));
    items->addWidget(button(tr("&Not good"), "proveItemBad", [this] { proveChosen(false); }));
    items->addWidget(button(tr("&Gone"), "dropItem", [this] {
        if (const KitItem* item = chosen()) {
            KitKept kept = item->what;
            kept.gone = true;
            session_.file(kept);
        }
    }));
    items->addStretch();
    auto* last = new QHBoxLayout;
    last->addWidget(reason_, 1);
    last->addWidget(ready_ = button(tr("&Ready: begin the round"), "kitReady", [this] { lookedThrough(); }));
    ready_->setProperty("first", true);
    last->addWidget(button(tr("Back (Esc)"), "kitBack", [this] { reject(); }));
    auto* openArea = new QScrollArea(this);
    openArea->setWidget(open_);
    openArea->setWidgetResizable(true);
    openArea->setFrameShape(QFrame::NoFrame);
    openArea->setMinimumWidth(em(20));
    auto* left = new QVBoxLayout;
    left->addWidget(table_, 1);
    left->addLayout(form);
    left->addLayout(items);
    left->addWidget(said_);
    auto* top = new QHBoxLayout;
    top->setSpacing(em(1));
    top->addLayout(left, 5);
    top->addWidget(openArea, 3);
    auto* all = new QVBoxLayout(this);
    all->addLayout(top, 1);
    all->addLayout(last);
    resizeOnScreen(*this, {em(70), em(38)});
    connect(table_, &QTableWidget::currentCellChanged, this, [this](int row, int, int before, int) {
        if (row != before) choose();
    });
    connect(kind_, &QComboBox::currentIndexChanged, this, [this] {
        if (const auto* kind = kitKindNamed(session_.state().plan->kitKinds, kind_->currentData().toString().toStdString()))
            most_->setValue(kind->most);
    });
    connect(&session_, &JobSession::changed, this, &KitDialog::refresh);
    connect(&session_, &JobSession::said, this,
            [this](const QString& sentence, bool trouble) { said_->setText(sentence, trouble, trouble ? theme().damaged : theme().soft); });
    refresh();
    choose();
    table_->setFocus();
}

void KitDialog::refresh()
{
    const QString before = table_->currentRow() >= 0 ? table_->item(table_->currentRow(), 0)->text() : QString();
    const JobState& state = session_.state();
    const QSignalBlocker quiet(table_);
    table_->setRowCount(0);
    int row = 0, current = 0;
    for (const auto& [id, item] : state.kit) {
        if (item.what.gone) continue;
        const KitKind* kind = kitKindNamed(state.plan->kitKinds, item.what.kind);
        table_->insertRow(row);
        const QString used = item.what.most > 0
                                 ? tr("%1 of %2 %3").arg(item.used).arg(item.what.most).arg(kind ? QString::fromStdString(kind->counts) : QString())
                                 : QString();
        const QStringList texts{QString::fromStdString(id),
                                kind ? QString::fromStdString(kind->title) : QString::fromStdString(item.what.kind),
                                item.what.connectors.empty() ? tr("all") : listText(item.what.connectors),
                                QString::fromStdString(item.what.serial),
                                dateText(item.what.calibratedUntil),
                                used};
        for (int column = 0; column < texts.size(); ++column) table_->setItem(row, column, new QTableWidgetItem(texts[column]));
        if (texts[0] == before) current = row;
        ++row;
    }
    if (row > 0) table_->setCurrentCell(current, 0);
    const auto open = readiness(state, now());
    std::vector<Paragraph> words{{{open.empty() ? tr("Nothing is open: the kit is ready.") : tr("%1 things to see to").arg(open.size()), true}}};
    for (const auto& trouble : open) words.push_back({{QString::fromStdString(trouble.sentence)}});
    for (const auto& [id, item] : state.kit)
        if (const std::string history = item.what.gone ? std::string() : cordHistory(state, id); !history.empty())
            words.push_back(
                {{tr("%1 behind the reference added %2.").arg(QString::fromStdString(id), QString::fromStdString(history)), false, theme().soft}});
    for (const auto& golden : goldenFaces(state, now())) {
        QStringList figures;
        for (const auto& figure : golden.figures) figures << QString::fromStdString(figure.words);
        if (!figures.isEmpty())
            words.push_back(
                {{tr("Golden face %1, %2 looks: %3.").arg(QString::fromStdString(golden.face.link)).arg(golden.looks).arg(figures.join("; ")), false,
                  theme().soft}});
    }
    if (state.kitChecked)
        words.push_back({{tr("Looked through last: %1, %2.")
                              .arg(QDateTime::fromSecsSinceEpoch(state.kitChecked->at).toString(QStringLiteral("yyyy-MM-dd HH:mm")),
                                   QString::fromStdString(state.kitChecked->who)),
                          false, theme().soft}});
    open_->setParagraphs(words);
    reason_->setVisible(!open.empty());
    ready_->setText(open.empty() ? tr("&Ready: begin the round") : tr("&Go on anyway"));
}

const KitItem* KitDialog::chosen() const
{
    const auto* cell = table_->currentRow() >= 0 ? table_->item(table_->currentRow(), 0) : nullptr;
    if (!cell) return nullptr;
    const auto it = session_.state().kit.find(cell->text().toStdString());
    return it == session_.state().kit.end() ? nullptr : &it->second;
}

void KitDialog::choose()
{
    const KitItem* item = chosen();
    if (!item) return;
    id_->setText(QString::fromStdString(item->what.id));
    kind_->setCurrentIndex(kind_->findData(QString::fromStdString(item->what.kind)));
    connectors_->setText(listText(item->what.connectors));
    serial_->setText(QString::fromStdString(item->what.serial));
    until_->setText(dateText(item->what.calibratedUntil));
    most_->setValue(item->what.most);
}

void KitDialog::keep()
{
    const auto trouble = [this](QWidget* where, const QString& sentence) {
        said_->setText(sentence, true, theme().damaged);
        where->setFocus();
    };
    KitKept kept;
    kept.id = id_->text().trimmed().toStdString();
    if (kept.id.empty() || kept.id.find('/') != std::string::npos) return trouble(id_, tr("Give it a name without a slash: pen 1."));
    kept.kind = kind_->currentData().toString().toStdString();
    const auto parts = connectors_->text().split(QLatin1Char(','), Qt::SkipEmptyParts);
    for (const QString& part : parts) {
        const std::string family = part.trimmed().toStdString();
        if (!familyNamed(session_.state().plan->connectors, family))
            return trouble(connectors_, tr("“%1” is no connector family that this installation knows: LC, SC, MPO …").arg(part.trimmed()));
        kept.connectors.push_back(family);
    }
    kept.serial = serial_->text().trimmed().toStdString();
    if (const QString typed = until_->text().trimmed(); !typed.isEmpty()) {
        const QDate date = QDate::fromString(typed, Qt::ISODate);
        if (!date.isValid()) return trouble(until_, tr("Write the date as year-month-day: 2027-03-31."));
        kept.calibratedUntil = date.endOfDay(Qt::UTC).toSecsSinceEpoch();  // a date is the same one everywhere
    }
    kept.most = most_->value();
    if (kept.kind == "cord" || kept.kind == goldenKind) {
        const auto known = session_.state().kit.find(kept.id);
        kept.className = known != session_.state().kit.end() && !known->second.what.className.empty() ? known->second.what.className : "sm-upc";
    }
    const std::string name = kept.id;
    session_.file(
        kept,
        [this, name] {
            for (int row = 0; row < table_->rowCount(); ++row)
                if (table_->item(row, 0)->text().toStdString() == name) table_->setCurrentCell(row, 0);
            said_->setText(tr("Kept: %1.").arg(QString::fromStdString(name)));
        },
        this);
}

void KitDialog::proveChosen(bool good)
{
    const KitItem* item = chosen();
    const KitKind* kind = item ? kitKindNamed(session_.state().plan->kitKinds, item->what.kind) : nullptr;
    if (!kind) return said_->setText(tr("Choose an item first."), true, theme().damaged);
    if (kind->proofs.empty()) return said_->setText(tr("A %1 needs no proof before the round.").arg(QString::fromStdString(kind->title)));
    std::vector<Fact> facts;
    for (const auto& proof : kind->proofs) facts.emplace_back(KitProved{item->what.id, proof, good});
    session_.file(std::move(facts));
}

void KitDialog::lookedThrough()
{
    KitChecked checked;
    for (const auto& trouble : readiness(session_.state(), now())) checked.open.push_back(trouble.sentence);
    checked.reason = reason_->text().trimmed().toStdString();
    if (!checked.open.empty() && checked.reason.empty()) {
        reason_->setFocus();
        return said_->setText(tr("Say why it goes on anyway: the reason stands in the journal."), true, theme().damaged);
    }
    session_.file(
        checked, [this] { accept(); }, this);
}

void KitDialog::keyPressEvent(QKeyEvent* event)
{
    // Enter in a field keeps the item, in the reason it goes on; it never closes by accident
    if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) {
        if (focusWidget() == reason_ || focusWidget() == ready_)
            lookedThrough();
        else if (focusWidget() == table_)
            id_->setFocus();
        else
            keep();
        return;
    }
    QDialog::keyPressEvent(event);
}

}  // namespace clendo
