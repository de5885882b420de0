#pragma once
#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "acquisition/acquisition.h"
#include "files/rule_files.h"

namespace clendo {

enum class InstrumentKind { Source, Meter };
std::string_view name(InstrumentKind kind);  ///< "source", "meter"

/// How to talk to one kind of instrument over a line: data, not code (docs/extending.md). Commands by what they do; "{nm}" and "{hz}" stand for
/// numbers.
struct Driver {
    std::string name, version;
    InstrumentKind kind = InstrumentKind::Meter;
    std::string identify = "*IDN?";  ///< what to ask first; empty: it says nothing of itself
    std::string like;                ///< what the answer looks like, "*" for anything
    std::string lineEnd = "\n";
    int timeoutMs = 1500;      ///< for a whole answer
    int everyMs = 100;         ///< from one reading to the next
    int baud = 9600;           ///< of a serial line
    std::string unit = "dBm";  ///< of an answer that names none
    DecibelMilliwatt floor{-65};
    std::vector<std::string> overload, noLight;  ///< answers that stand for them
    std::map<std::string, std::string, std::less<>> commands;

    /// The command that does it, numbers put in; nothing where the instrument has none and a person does it by hand.
    [[nodiscard]] std::optional<std::string> command(std::string_view does, double number = 0) const;
};

/// Checks what is needed of its kind: a meter is read, a source is known; every command is one line and its placeholders are known. Errors:
/// DriverInvalid, with the place.
Result<Driver> parseDriver(std::string_view json);
/// Whether an answer to `identify` is that of this driver.
bool matches(const Driver& driver, std::string_view identity);
/// All that are shipped, and what was wrong with others.
std::vector<Driver> shippedDrivers(const RuleFiles& rules);

/// What a meter answered, whatever it was: number with a point or one comma, any of the minus signs, W, mW, uW, nW or dBm, codes for overload and no
/// light. What is no level (two numbers, a ratio in dB, nan, a level that no meter shows) is Unclear.
struct MeterAnswer {
    PowerSample::Kind kind = PowerSample::Kind::Unclear;
    DecibelMilliwatt power{};
};
MeterAnswer readMeterAnswer(std::string_view text, const Driver& driver);
/// A plain number in an answer: a wavelength in nm or m, a frequency. Nothing where it is none.
std::optional<double> readNumberAnswer(std::string_view text);
/// A wavelength as instruments say it, in nm or in metres.
std::optional<Nanometre> readWavelengthAnswer(std::string_view text);

}  // namespace clendo
