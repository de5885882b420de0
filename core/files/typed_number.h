#pragma once
#include <optional>
#include <string>
#include <string_view>

namespace clendo {

/// A number as people, spreadsheets and instruments write it, and the unit behind it.
struct TypedNumber {
    double value;
    std::string unit;  ///< in small letters, "u" for micro; empty: none
};

/// What a comma in a number is. Either: a decimal sign where it is the only one and there is no point.
enum class Comma { None, Decimal, Either };

/// Any of the minus signs, blanks (also those that do not break) and quotation marks around it. Nothing where it begins with no finite number.
std::optional<TypedNumber> typedNumber(std::string_view text, Comma comma = Comma::Either);

/// The text in small letters; ASCII alone.
std::string lowerCase(std::string_view text);
/// Without blanks and quotation marks at its ends.
std::string trimmedText(std::string_view text);

}  // namespace clendo
