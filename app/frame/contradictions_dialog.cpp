#include "app/frame/contradictions_dialog.h"

#include <QButtonGroup>
#include <QLabel>
#include <QRadioButton>
#include <QScrollArea>
#include <QVBoxLayout>
#include <algorithm>

#include "app/widgets/dialog_buttons.h"
#include "app/widgets/theme.h"
#include "record/journal/time_text.h"

namespace clendo {
namespace {

/// Whether saying it once more decides: of two values the later counts. A chain or something taken back is no value.
bool canBeSettled(const Contradiction& c) { return c.what != "chain" && c.what != "correction"; }

const Entry* entryOf(std::span<const Entry> entries, const std::string& hash)
{
    const auto wanted = Digest::parse(hash);
    const auto it = std::find_if(entries.begin(), entries.end(), [&](const Entry& e) { return wanted && e.hash == *wanted; });
    return it == entries.end() ? nullptr : &*it;
}

}  // namespace

ContradictionsDialog::ContradictionsDialog(const std::vector<Contradiction>& found, std::span<const Entry> entries, const JobState& state,
                                           QWidget* parent)
    : QDialog(parent)
{
    setObjectName(QStringLiteral("contradictionsDialog"));
    setWindowTitle(tr("What the two journals say otherwise"));
    auto* inside = new QWidget(this);
    auto* rows = new QVBoxLayout(inside);
    for (const auto& c : found) {
        auto* message = new QLabel(QString::fromStdString(c.message), inside);
        message->setWordWrap(true);
        QFont bold = message->font();
        bold.setBold(true);
        message->setFont(bold);
        rows->addWidget(message);
        Choice choice{new QButtonGroup(this), {}};
        for (const auto& hash : c.entries) {
            const Entry* e = entryOf(entries, hash);
            if (!e) continue;
            const QString words = tr("%1 · %2, %3")
                                      .arg(QString::fromStdString(sentenceOf(e->fact, state)), QString::fromStdString(e->who),
                                           QString::fromStdString(timeText(e->at())));
            if (!canBeSettled(c)) {
                auto* said = new QLabel(words, inside);
                said->setWordWrap(true);
                tint(said, QPalette::WindowText, theme().soft);
                rows->addWidget(said);
                continue;
            }
            auto* button = new QRadioButton(words, inside);
            choice.group->addButton(button, static_cast<int>(choice.facts.size()));
            choice.facts.push_back(e->fact);
            rows->addWidget(button);
        }
        if (choice.facts.empty()) continue;
        auto* later = new QRadioButton(tr("leave it open: the later one counts until somebody decides"), inside);
        later->setChecked(true);
        choice.group->addButton(later, static_cast<int>(choice.facts.size()));
        rows->addWidget(later);
        choices_.push_back(std::move(choice));
    }
    rows->addStretch();
    auto* scroll = new QScrollArea(this);
    scroll->setWidget(inside);
    scroll->setWidgetResizable(true);
    auto* layout = new QVBoxLayout(this);
    auto* hint =
        new QLabel(tr("Nothing is lost: both stay in the journal. What you choose is said once more, by you, and counts from then on."), this);
    hint->setWordWrap(true);
    layout->addWidget(hint);
    layout->addWidget(scroll, 1);
    layout->addWidget(acceptOrBack(*this, tr("Settle (Enter)")).row);
    setMinimumSize(em(42), em(26));
}

std::vector<Fact> ContradictionsDialog::settled() const
{
    std::vector<Fact> out;
    for (const auto& choice : choices_) {
        const auto id = static_cast<std::size_t>(choice.group->checkedId());
        if (id < choice.facts.size()) out.push_back(choice.facts[id]);
    }
    return out;
}

}  // namespace clendo
