#pragma once
#include <nlohmann/json_fwd.hpp>
#include <string>
#include <string_view>

namespace clendo {

/// JSON as RFC 8785 (JSON Canonicalization Scheme) writes it, so that one thing has one text and one hash everywhere: members sorted by their
/// names' UTF-16 code units, no white space, numbers as ECMAScript prints them. Bytes that are no UTF-8 are replaced by U+FFFD; what is no
/// number (NaN, infinite) becomes null. Whole numbers beyond 2^53 are written as they are.
std::string canonicalJson(const nlohmann::json& value);

/// A text as it stands in canonicalJson(), with its quotes.
std::string canonicalText(std::string_view text);

}  // namespace clendo
