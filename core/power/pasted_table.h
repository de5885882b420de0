#pragma once
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "power/loss.h"

namespace clendo {

/// What a column of a pasted table holds.
struct PastedColumn {
    enum class Kind { LeftOut, Fibre, Wavelength, Direction, Level, Loss };
    Kind kind = Kind::LeftOut;
    std::optional<Nanometre> wavelength{};  ///< of a Level or Loss; nothing: it stands in a column of its own
    std::optional<Direction> direction{};
    std::string title{};
    bool operator==(const PastedColumn&) const = default;
};
std::string_view name(PastedColumn::Kind kind);  ///< "left out", "fibre", "wavelength", "direction", "level, dBm", "loss, dB"

/// One reading out of a table.
struct PastedReading {
    int line = 0;  ///< of what was pasted, from 1
    int fibre = 0;
    Nanometre wavelength;
    Direction direction = Direction::AtoB;
    std::optional<DecibelMilliwatt> level;  ///< or
    std::optional<Decibel> loss;
};

/// A table as it was pasted from a spreadsheet, and what it is taken for.
struct PastedTable {
    std::vector<std::vector<std::string>> cells;  ///< line by line, all of the same length
    std::size_t headers = 0;                      ///< lines of titles above
    bool commaDecimal = false;
    std::vector<PastedColumn> columns;
};
/// Splits and guesses: separator, decimal sign, titles (also over merged cells), units, wavelengths, directions. Errors: ReadingUnclear where it is
/// no table of readings.
Result<PastedTable> guessTable(std::string_view text);

/// The readings of a table as its columns are said to be, and in sentences what could not be taken: nothing is guessed here.
struct TakenTable {
    std::vector<PastedReading> readings;
    std::vector<std::string> troubles;
};
TakenTable readTable(const PastedTable& table, Direction usual);

}  // namespace clendo
