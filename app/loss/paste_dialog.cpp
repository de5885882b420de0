#include "app/loss/paste_dialog.h"

#include <QComboBox>
#include <QDialogButtonBox>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>
#include <algorithm>
#include <set>

#include "app/widgets/theme.h"
#include "record/facts/facts.h"

namespace clendo {
namespace {

QString text(std::string_view words) { return QString::fromUtf8(words.data(), static_cast<qsizetype>(words.size())); }

QString wordsOf(const PastedColumn& column)
{
    QString out = text(name(column.kind));
    if (column.wavelength) out += QObject::tr(", %1 nm").arg(std::lround(column.wavelength->value()));
    if (column.direction) out += QStringLiteral(", ") + text(sourceWords(*column.direction));
    return out;
}

bool sameChoice(const PastedColumn& a, const PastedColumn& b)
{
    return a.kind == b.kind && a.wavelength == b.wavelength && a.direction == b.direction;
}

}  // namespace

PasteDialog::PasteDialog(PastedTable table, const JobState& state, const CablePlan& cable, Direction usual, QWidget* parent)
    : QDialog(parent),
      table_(std::move(table)),
      cable_(cable),
      wavelengths_(state.plan->wavelengthsFor(cable)),
      usual_(usual),
      cells_(new QTableWidget(this)),
      summary_(new QLabel(this))
{
    setObjectName(QStringLiteral("pasteDialog"));
    setWindowTitle(tr("Readings out of a table"));
    using Kind = PastedColumn::Kind;
    for (const Kind kind : {Kind::LeftOut, Kind::Fibre, Kind::Wavelength, Kind::Direction}) choices_.push_back({kind, {}, {}, {}});
    for (const Kind kind : {Kind::Level, Kind::Loss}) {
        choices_.push_back({kind, {}, {}, {}});
        for (const int nm : wavelengths_)
            for (const auto direction : {std::optional<Direction>(), std::optional(Direction::AtoB), std::optional(Direction::BtoA)})
                choices_.push_back({kind, Nanometre(nm), direction, {}});
    }
    build();
    follow();
}

void PasteDialog::build()
{
    auto* layout = new QVBoxLayout(this);
    auto* about = new QLabel(tr("Say what each column holds; decimal %1. What names no direction was read with the %2. A loss is taken only on a "
                                "reference on which the meter was "
                                "set to zero.")
                                 .arg(table_.commaDecimal ? tr("comma") : tr("point"), text(sourceWords(usual_))),
                             this);
    about->setWordWrap(true);
    layout->addWidget(about);
    constexpr std::size_t mostShown = 300;
    const auto rows = std::min(mostShown, table_.cells.size());
    cells_->setRowCount(static_cast<int>(rows) + 1);
    cells_->setColumnCount(static_cast<int>(table_.columns.size()));
    cells_->horizontalHeader()->hide();
    cells_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    cells_->setVerticalHeaderItem(0, new QTableWidgetItem(tr("is")));
    for (std::size_t c = 0; c < table_.columns.size(); ++c) {
        auto* box = new QComboBox(cells_);
        box->setObjectName(QStringLiteral("column%1").arg(c));
        if (std::none_of(choices_.begin(), choices_.end(), [&](const auto& choice) { return sameChoice(choice, table_.columns[c]); }))
            choices_.push_back(table_.columns[c]);  // a wavelength that the plan does not have
        boxes_.push_back(box);
        cells_->setCellWidget(0, static_cast<int>(c), box);
    }
    for (std::size_t c = 0; c < boxes_.size(); ++c) {
        for (const auto& choice : choices_) boxes_[c]->addItem(wordsOf(choice));
        const auto at = std::find_if(choices_.begin(), choices_.end(), [&](const auto& choice) { return sameChoice(choice, table_.columns[c]); });
        boxes_[c]->setCurrentIndex(static_cast<int>(at - choices_.begin()));
        connect(boxes_[c], &QComboBox::currentIndexChanged, this, [this, c](int index) {
            const std::string title = table_.columns[c].title;
            table_.columns[c] = choices_[static_cast<std::size_t>(index)];
            table_.columns[c].title = title;
            follow();
        });
    }
    for (std::size_t r = 0; r < rows; ++r) {
        cells_->setVerticalHeaderItem(static_cast<int>(r) + 1, new QTableWidgetItem(QString::number(r + 1)));
        for (std::size_t c = 0; c < table_.columns.size(); ++c) {
            auto* item = new QTableWidgetItem(QString::fromStdString(table_.cells[r][c]));
            if (r < table_.headers) item->setForeground(theme().soft);
            cells_->setItem(static_cast<int>(r) + 1, static_cast<int>(c), item);
        }
    }
    cells_->resizeColumnsToContents();
    for (int c = 0; c < cells_->columnCount(); ++c)
        cells_->setColumnWidth(c, std::max(cells_->columnWidth(c), em(13)));  // what it holds is to be read
    layout->addWidget(cells_, 1);
    summary_->setObjectName(QStringLiteral("pasteSummary"));
    summary_->setWordWrap(true);
    layout->addWidget(summary_);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel, this);
    buttons->button(QDialogButtonBox::Ok)->setText(tr("File these readings"));
    connect(buttons, &QDialogButtonBox::accepted, this, &QDialog::accept);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    layout->addWidget(buttons);
    resize(em(60), em(36));
}

void PasteDialog::follow()
{
    taken_ = readTable(table_, usual_);
    for (auto it = taken_.readings.begin(); it != taken_.readings.end();) {
        if (it->fibre <= cable_.fibres) {
            ++it;
            continue;
        }
        taken_.troubles.push_back(fmt::format("Line {}: {} has no fibre {}.", it->line, cable_.id, it->fibre));
        it = taken_.readings.erase(it);
    }
    std::set<int> fibres;
    for (const auto& reading : taken_.readings) fibres.insert(reading.fibre);
    QString said = tr("%1 readings of %2 fibres of %3.").arg(taken_.readings.size()).arg(fibres.size()).arg(QString::fromStdString(cable_.id));
    constexpr std::size_t told = 4;
    for (std::size_t i = 0; i < std::min(told, taken_.troubles.size()); ++i) said += QLatin1Char(' ') + QString::fromStdString(taken_.troubles[i]);
    if (taken_.troubles.size() > told) said += tr(" And %1 more that are not taken.").arg(taken_.troubles.size() - told);
    summary_->setText(said);
    tint(summary_, QPalette::WindowText, taken_.troubles.empty() ? theme().ink : theme().damaged);
    if (auto* buttons = findChild<QDialogButtonBox*>()) buttons->button(QDialogButtonBox::Ok)->setEnabled(!taken_.readings.empty());
}

std::vector<Fact> PasteDialog::facts() const
{
    std::vector<Fact> out;
    for (const auto& reading : taken_.readings) {
        PowerRead read{fmt::format("{}/{}", cable_.id, reading.fibre), reading.wavelength, reading.direction,
                       reading.level.value_or(DecibelMilliwatt())};
        read.shown = reading.loss;
        out.emplace_back(std::move(read));
    }
    return out;
}

}  // namespace clendo
