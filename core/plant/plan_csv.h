#pragma once
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "plant/plan.h"

namespace clendo {

/// One line of a table of cables: the cable, or what is wrong with the line.
struct PlanLine {
    int line = 0;  ///< in the file, from 1
    std::optional<CablePlan> cable;
    std::string trouble;  ///< names the column
};

/// Cables from a table with a head line. Columns by name, in any order, in any case: cable, place a, panel a, ports a ("1-24"), place b, panel b,
/// ports b, fibres, fibre, connector, in one ferrule, end faces, length, splices, cord a, cord b (class of the cord there), access a, access b,
/// rack a, rack b, in one tube, pins a, pins b (cord or port: which ferrule has them).
/// Needed: cable, place a, place b, length, and fibres or ports. Takes UTF-8, UTF-16 and Windows-1252; commas, semicolons and tabs; decimal commas;
/// quoted fields. An Error where it is no such table or is too large; a bad line is told in its PlanLine and the others are read.
Result<std::vector<PlanLine>> readPlanCsv(std::string_view bytes);

/// The head line with all columns and an example below it.
std::string planCsvExample();

}  // namespace clendo
