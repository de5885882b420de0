#pragma once
#include <QKeySequence>
#include <QString>
#include <functional>
#include <string>
#include <string_view>
#include <vector>

namespace clendo {

class WindowFrame;

/// Under which heading a command stands in menu and help.
enum class CommandMenu { Job, Plan, Reel, Step, Look, Light, Sign, View, Line, Journal, Help };
inline constexpr int commandMenus = static_cast<int>(CommandMenu::Help) + 1;
QString titleOf(CommandMenu menu);

/// One thing that can be done: menu, keys, help, buttons and search are made of it.
struct Command {
    std::string id;  ///< "face.clean": dots between subject and deed
    CommandMenu menu = CommandMenu::Step;
    QString words;                ///< "I cleaned it"
    QList<QKeyCombination> keys;  ///< the first one is shown
    std::function<void()> run;
    std::function<QString()> whyNot{};  ///< why it cannot be done now, in a sentence; empty: it can
    QString desk{};                     ///< id of the desk on which it holds, before what holds everywhere; empty: everywhere

    /// The first key in words: "Shift+F"; empty: it has none.
    [[nodiscard]] QString key() const;
};

/// All commands of the window.
class CommandTable {
public:
    /// Its id must be new and its keys free where it holds: tests/test_commands.cpp asks that of all.
    void add(Command command);
    [[nodiscard]] const std::vector<Command>& all() const { return commands_; }
    /// Null where there is none.
    [[nodiscard]] const Command* find(std::string_view id) const;
    /// What a key does while that desk is shown.
    [[nodiscard]] const Command* at(QKeyCombination key, const QString& desk) const;
    /// Those that hold on the desk and whose words have all that was typed, word by word in any order; what begins with it comes first.
    [[nodiscard]] std::vector<const Command*> matching(const QString& typed, const QString& desk) const;

private:
    std::vector<Command> commands_;
};

/// A group of commands registers itself where it is defined: `static const CommandGroup group(order, [](WindowFrame& frame) { ... });`
class CommandGroup {
public:
    using Make = std::vector<Command> (*)(WindowFrame& frame);
    CommandGroup(int order, Make make);
    /// The commands of all groups, in their order.
    static std::vector<Command> of(WindowFrame& frame);
};

}  // namespace clendo
