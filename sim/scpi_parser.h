#pragma once
#include <deque>
#include <functional>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace clendo::sim {

/// An error as SCPI-99 volume 2 chapter 21 numbers them.
struct ScpiError {
    int number = 0;
    std::string text = "No error";
};
namespace scpi_error {
inline const ScpiError invalidCharacter{-101, "Invalid character"}, dataType{-104, "Data type error"}, notAllowed{-108, "Parameter not allowed"},
    missing{-109, "Missing parameter"}, undefinedHeader{-113, "Undefined header"}, invalidSuffix{-131, "Invalid suffix"},
    execution{-200, "Execution error"}, settingsConflict{-221, "Settings conflict"}, outOfRange{-222, "Data out of range"},
    illegalValue{-224, "Illegal parameter value"}, queueOverflow{-350, "Queue overflow"}, inputOverrun{-363, "Input buffer overrun"};
}

/// What an instrument does with one command.
struct ScpiAnswer {
    std::string bytes{};  ///< of a query
    std::optional<ScpiError> error{};
    double after = 0;  ///< seconds of the world's time until the answer is there

    static ScpiAnswer of(std::string bytes) { return {std::move(bytes), {}, 0}; }
    static ScpiAnswer failed(ScpiError error) { return {{}, std::move(error), 0}; }
};

/// One command of the tree: its header as the standard writes it ("SENSe:POWer:WAVelength", "SYSTem:ERRor[:NEXT]"), what it does with a parameter and
/// what it answers to `?`; a form that is empty does not exist.
struct ScpiCommand {
    std::string header;
    std::function<ScpiAnswer(const std::string& parameter)> set{};
    std::function<ScpiAnswer()> query{};
    bool takesNone = false;  ///< set is an event: a parameter is not allowed
};

/// Whether what was said is that header: long or short form of each node, any case, nodes in brackets left out or not, "1" as suffix.
bool headerMatches(std::string_view pattern, std::string_view said);

/// A number with the unit that may stand behind it; the error where it is none.
struct ScpiNumber {
    double value = 0;
    std::optional<ScpiError> error{};
};
ScpiNumber scpiNumber(std::string_view text, std::string_view unit);
/// ON, OFF, 1, 0.
std::optional<bool> scpiBoolean(std::string_view text);
/// "#6012345..." with a length of six digits (IEEE 488.2, 8.7.9).
std::string definiteBlock(std::string_view bytes);

/// A device of IEEE 488.2 and SCPI-99: the common commands, a queue of 16 errors, the event status register, and its own commands.
class ScpiDevice {
public:
    /// `pending`: seconds of the world's time until all that was begun is done, which *OPC? waits for.
    ScpiDevice(std::string identity, std::vector<ScpiCommand> commands, std::function<void()> reset, std::function<double()> pending);
    /// One line without its end. What it answers, "" where nothing was asked; without the LF.
    ScpiAnswer line(std::string_view text);
    void raise(const ScpiError& error);

private:
    ScpiAnswer unit(std::string_view text, std::string& path);
    std::optional<ScpiAnswer> common(std::string_view header, std::string_view parameter, bool query);

    std::string identity_;
    std::vector<ScpiCommand> commands_;
    std::function<void()> reset_;
    std::function<double()> pending_;
    std::deque<ScpiError> errors_;
    int events_ = 128;  ///< event status register: power on
    int eventMask_ = 0, serviceMask_ = 0;
};

}  // namespace clendo::sim
