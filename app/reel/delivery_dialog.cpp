#include "app/reel/delivery_dialog.h"

#include <fmt/format.h>

#include <QDate>
#include <QGridLayout>
#include <QLabel>
#include <QVBoxLayout>
#include <algorithm>

#include "app/widgets/dialog_buttons.h"
#include "app/widgets/on_screen.h"
#include "app/widgets/room.h"
#include "app/widgets/theme.h"
#include "files/typed_number.h"
#include "reel/delivery_text.h"

namespace clendo {
namespace {

QString figureText(std::optional<double> value) { return value ? QString::number(*value, 'g', 10) : QString(); }

}  // namespace

QLineEdit* DeliveryDialog::edit(const char* name, const QString& hint)
{
    auto* out = new QLineEdit(this);
    out->setObjectName(QString::fromLatin1(name));
    out->setPlaceholderText(hint);
    connect(out, &QLineEdit::textChanged, this, &DeliveryDialog::follow);
    return out;
}

DeliveryDialog::DeliveryDialog(const std::vector<std::string>& known, const reel::Delivery* like, bool anew, QWidget* parent)
    : QDialog(parent), known_(known), says_(new TextBlock(this))
{
    setObjectName(QStringLiteral("deliveryDialog"));
    setWindowTitle(anew ? tr("A reel came") : tr("Reel %1").arg(QString::fromStdString(like->reel)));
    says_->setObjectName(QStringLiteral("deliverySays"));
    name_ = edit("reelName", tr("as it is marked"));
    ordered_ = edit("orderedLength", tr("metres"));
    price_ = edit("price", tr("a metre; empty: not said"));
    allowed_ = edit("allowed", tr("0.36 at 1310, 0.22 at 1550"));
    outer_ = edit("outerMark", tr("outer end"));
    inner_ = edit("innerMark", tr("inner end"));
    excess_ = edit("excess", tr("%; empty: not said"));
    date_ = edit("deliveredOn", tr("year-month-day"));
    papersLength_ = edit("papersLength", tr("metres; empty: not said"));
    papers_ = edit("papers", tr("0.33 at 1310, 0.19 at 1550"));
    fibres_ = new QSpinBox(this);
    fibres_->setObjectName(QStringLiteral("reelFibreCount"));
    fibres_->setRange(1, 10'000);
    digits_ = new QSpinBox(this);
    digits_->setObjectName(QStringLiteral("markDigits"));
    digits_->setRange(3, 9);
    digits_->setValue(5);
    digits_->setSuffix(tr(" digits"));
    const auto choice = [this](const char* name, const QStringList& answers) {
        auto* box = new QComboBox(this);
        box->setObjectName(QString::fromLatin1(name));
        box->addItems(answers);
        connect(box, &QComboBox::currentIndexChanged, this, &DeliveryDialog::follow);
        return box;
    };
    type_ = choice("reelType", {QStringLiteral("OS2"), QStringLiteral("OS1a"), QStringLiteral("OS1"), QStringLiteral("OM5"), QStringLiteral("OM4"),
                                QStringLiteral("OM3"), QStringLiteral("OM2"), QStringLiteral("OM1")});
    jacket_ = choice("jacket", {QString(), QStringLiteral("outdoor"), QStringLiteral("indoor"), QStringLiteral("indoor-outdoor")});
    environment_ = choice("environment", {QString(), QStringLiteral("outdoor"), QStringLiteral("indoor")});
    unit_ = choice("markUnit", {tr("metres"), tr("feet")});
    for (auto* box : {jacket_, environment_}) box->setItemText(0, tr("not said"));
    for (auto* box : {fibres_, digits_}) connect(box, &QSpinBox::valueChanged, this, &DeliveryDialog::follow);

    auto* inside = new QWidget(this);
    auto* grid = new QGridLayout(inside);
    grid->setContentsMargins(0, 0, em(0.5), 0);
    const auto heading = [&](int row, const QString& words) {
        grid->addWidget(new QLabel(QStringLiteral("<b>%1</b>").arg(words), this), row, 0, 1, 4);
    };
    const auto field = [&](int row, int column, const QString& words, QWidget* box) {
        auto* label = new QLabel(words, this);
        label->setBuddy(box);
        grid->addWidget(label, row, 2 * column);
        grid->addWidget(box, row, 2 * column + 1);
    };
    field(0, 0, tr("&Reel"), name_);
    field(0, 1, tr("&Came on"), date_);
    heading(1, tr("As it was ordered"));
    field(2, 0, tr("&Length"), ordered_);
    field(2, 1, tr("&Price"), price_);
    field(3, 0, tr("&Fibres"), fibres_);
    field(3, 1, tr("&Type"), type_);
    field(4, 0, tr("&Jacket"), jacket_);
    field(4, 1, tr("To be laid"), environment_);
    field(5, 0, tr("Loses at &most"), allowed_);
    field(5, 1, tr("Fibre’s e&xcess"), excess_);
    heading(6, tr("Marks on the sheath"));
    field(7, 0, tr("&Outer end"), outer_);
    field(7, 1, tr("&Inner end"), inner_);
    field(8, 0, tr("&Unit"), unit_);
    field(8, 1, tr("Counter"), digits_);
    heading(9, tr("The supplier’s papers"));
    field(10, 0, tr("Length"), papersLength_);
    field(10, 1, tr("Loses"), papers_);
    auto* layout = new QVBoxLayout(this);
    layout->addWidget(new Room(inside, this), 1);
    layout->addWidget(says_);
    const DialogButtons buttons = acceptOrBack(*this, tr("Write it down (Enter)"));
    accept_ = buttons.accept;
    layout->addWidget(buttons.row);
    resizeOnScreen(*this, {em(44), em(34)});
    if (like) {
        ordered_->setText(figureText(like->ordered ? std::optional(like->ordered->value()) : std::nullopt));
        price_->setText(figureText(like->pricePerMetre));
        fibres_->setValue(like->fibres);
        type_->setCurrentText(QString::fromStdString(like->type));
        jacket_->setCurrentIndex(std::max(0, jacket_->findText(QString::fromStdString(like->jacket))));
        environment_->setCurrentIndex(std::max(0, environment_->findText(QString::fromStdString(like->environment))));
        allowed_->setText(QString::fromStdString(reel::textOf(like->allowed)));
        if (like->excess > 0) excess_->setText(figureText(100 * like->excess));
        unit_->setCurrentIndex(like->marks && like->marks->unit == reel::MarkUnit::Feet ? 1 : 0);
        if (like->marks) digits_->setValue(like->marks->digits);
    }
    if (like && !anew) {
        name_->setText(QString::fromStdString(like->reel));
        name_->setReadOnly(true);
        date_->setText(QString::fromStdString(like->date));
        papersLength_->setText(figureText(like->supplierLength ? std::optional(like->supplierLength->value()) : std::nullopt));
        papers_->setText(QString::fromStdString(reel::textOf(like->supplier)));
        if (like->marks) {
            outer_->setText(figureText(like->marks->outer));
            inner_->setText(figureText(like->marks->inner));
        }
        outer_->setFocus();
    } else {
        date_->setText(QDate::currentDate().toString(Qt::ISODate));
        name_->setFocus();
    }
    follow();
}

std::optional<double> DeliveryDialog::figure(const QLineEdit* edit, std::string& trouble)
{
    const std::string text = edit->text().trimmed().toStdString();
    if (text.empty()) return std::nullopt;
    const auto number = typedNumber(text);
    if (number && number->value >= 0) return number->value;
    if (trouble.empty()) trouble = fmt::format("“{}” is no figure", text);
    return std::nullopt;
}

Result<reel::Delivery> DeliveryDialog::delivery() const
{
    const auto refuse = [](const std::string& words) { return failure(Error::Code::PlanInvalid, words + "."); };
    reel::Delivery out;
    std::string trouble;
    out.reel = name_->text().trimmed().toStdString();
    if (out.reel.empty()) return refuse("Give the reel the name that it is marked with");
    if (!name_->isReadOnly() && std::find(known_.begin(), known_.end(), out.reel) != known_.end())
        return refuse("There is a reel of that name already: choose it and put it right");
    if (const auto length = figure(ordered_, trouble)) out.ordered = Metre(*length);
    if (const auto price = figure(price_, trouble)) out.pricePerMetre = *price;
    if (const auto excess = figure(excess_, trouble)) out.excess = *excess / 100;
    if (const auto length = figure(papersLength_, trouble)) out.supplierLength = Metre(*length);
    out.fibres = fibres_->value();
    out.type = type_->currentText().toStdString();
    if (jacket_->currentIndex() > 0) out.jacket = jacket_->currentText().toStdString();
    if (environment_->currentIndex() > 0) out.environment = environment_->currentText().toStdString();
    out.date = date_->text().trimmed().toStdString();
    const auto outer = figure(outer_, trouble), inner = figure(inner_, trouble);
    if (!trouble.empty()) return refuse(trouble);
    if (out.ordered && (*out.ordered <= Metre(0) || *out.ordered > Metre(1e6))) return refuse("The length that was ordered cannot be");
    constexpr double mostExcess = 0.2;
    if (out.excess > mostExcess) return refuse("A fibre is at most some percent longer than its cable");
    if (outer.has_value() != inner.has_value()) return refuse("Read the mark at the other end too: one alone says nothing");
    for (const auto& [edit, into] : {std::pair(allowed_, &out.allowed), {papers_, &out.supplier}}) {
        const auto read = reel::attenuationsFromText(edit->text().toStdString());
        if (!read) return tl::unexpected(read.error());
        *into = *read;
    }
    if (outer) {
        out.marks = reel::SheathMarks{*outer, *inner, unit_->currentIndex() == 1 ? reel::MarkUnit::Feet : reel::MarkUnit::Metres, digits_->value()};
        if (const auto length = reel::lengthBetween(*out.marks, out.ordered); !length) return tl::unexpected(length.error());
    }
    return out;
}

void DeliveryDialog::follow()
{
    if (!accept_) return;
    const auto read = delivery();
    accept_->setEnabled(read.has_value());
    std::vector<Paragraph> out;
    if (!read) {
        out.push_back({{QString::fromStdString(read.error().message), false, theme().work}});
    } else {
        if (read->marks) {
            const auto length = reel::lengthBetween(*read->marks, read->ordered);
            QString words = tr("By the marks %1 ± %2 m").arg(length->length.value(), 0, 'f', 1).arg(2 * length->uncertainty.value(), 0, 'f', 1);
            if (length->rolledOver) words += tr("; the counter went past its highest number between them");
            out.push_back({{words + QLatin1Char('.'), true}});
            constexpr double much = 0.15;
            if (read->ordered && std::abs((length->length - *read->ordered).value()) > much * read->ordered->value())
                out.push_back({{tr("That is far from what was ordered: feet or metres? Both ends of the same reel?"), false, theme().work}});
        }
        if (read->jacket == "indoor" && read->environment == "outdoor")
            out.push_back({{tr("An indoor jacket is planned outdoors: water and sunlight destroy it."), false, theme().work}});
        if (read->excess == 0)
            out.push_back({{tr("Without the fibre’s excess the light makes the cable seem longer than it is."), false, theme().soft}});
    }
    says_->setParagraphs(std::move(out));
}

}  // namespace clendo
