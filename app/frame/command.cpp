#include "app/frame/command.h"

#include <QCoreApplication>
#include <algorithm>
#include <map>

namespace clendo {

QString titleOf(CommandMenu menu)
{
    static const QStringList titles{QCoreApplication::translate("CommandMenu", "Job"),
                                    QCoreApplication::translate("CommandMenu", "Plan and kit"),
                                    QCoreApplication::translate("CommandMenu", "Reels"),
                                    QCoreApplication::translate("CommandMenu", "Step"),
                                    QCoreApplication::translate("CommandMenu", "Look"),
                                    QCoreApplication::translate("CommandMenu", "Insertion loss"),
                                    QCoreApplication::translate("CommandMenu", "Sign-off"),
                                    QCoreApplication::translate("CommandMenu", "View"),
                                    QCoreApplication::translate("CommandMenu", "Batch inspection"),
                                    QCoreApplication::translate("CommandMenu", "Journal"),
                                    QCoreApplication::translate("CommandMenu", "Help")};
    return titles[static_cast<int>(menu)];
}

QString Command::key() const { return keys.isEmpty() ? QString() : QKeySequence(keys.front()).toString(QKeySequence::NativeText); }

void CommandTable::add(Command command) { commands_.push_back(std::move(command)); }

const Command* CommandTable::find(std::string_view id) const
{
    const auto it = std::find_if(commands_.begin(), commands_.end(), [&](const Command& c) { return c.id == id; });
    return it == commands_.end() ? nullptr : &*it;
}

const Command* CommandTable::at(QKeyCombination key, const QString& desk) const
{
    const Command* everywhere = nullptr;
    for (const auto& c : commands_) {
        if (!c.keys.contains(key)) continue;
        if (!c.desk.isEmpty() && c.desk == desk) return &c;
        if (c.desk.isEmpty() && !everywhere) everywhere = &c;
    }
    return everywhere;
}

std::vector<const Command*> CommandTable::matching(const QString& typed, const QString& desk) const
{
    const QStringList words = typed.split(QLatin1Char(' '), Qt::SkipEmptyParts);
    std::vector<const Command*> out;
    for (const auto& c : commands_) {
        const QString text = titleOf(c.menu) + QLatin1Char(' ') + c.words;
        const bool all = std::all_of(words.begin(), words.end(), [&](const QString& w) { return text.contains(w, Qt::CaseInsensitive); });
        if (all && (c.desk.isEmpty() || c.desk == desk)) out.push_back(&c);
    }
    if (words.isEmpty())  // nothing is looked for: all, as the menu has them
        std::stable_sort(out.begin(), out.end(), [](const Command* a, const Command* b) { return a->menu < b->menu; });
    const auto begins = [&](const Command* c) { return !typed.isEmpty() && c->words.startsWith(typed.trimmed(), Qt::CaseInsensitive); };
    std::stable_partition(out.begin(), out.end(), begins);
    return out;
}

namespace {

std::multimap<int, CommandGroup::Make>& groups()
{
    static std::multimap<int, CommandGroup::Make> all;  // made when the first group registers, before main()
    return all;
}

}  // namespace

CommandGroup::CommandGroup(int order, Make make) { groups().emplace(order, make); }

std::vector<Command> CommandGroup::of(WindowFrame& frame)
{
    std::vector<Command> out;
    for (const auto& [order, make] : groups()) {
        auto some = make(frame);
        std::move(some.begin(), some.end(), std::back_inserter(out));
    }
    return out;
}

}  // namespace clendo
