#include "files/csv.h"

namespace clendo {

std::string csvField(std::string_view text)
{
    const auto first = text.find_first_not_of(" \t\r\n");
    const bool formula = first != std::string_view::npos && std::string_view("=+-@|%").find(text[first]) != std::string_view::npos;
    std::string field = formula ? "'" : "";
    field += text;
    if (field.find_first_of(",;\"\t\n\r") == std::string::npos) return field;
    std::string out = "\"";
    for (const char c : field) {
        if (c == '"') out += '"';
        out += c;
    }
    return out + '"';
}

}  // namespace clendo
