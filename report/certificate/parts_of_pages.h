#pragma once
#include <map>
#include <nlohmann/json_fwd.hpp>
#include <string>

#include "report/certificate/pages.h"
#include "report/certificate/printed.h"
#include "report/pdf/page.h"
#include "seal/signing_key.h"

/// The kinds of pages that a certificate has. Each begins where the page is and leaves it behind what it wrote.
namespace clendo::pages {

/// Where links of the document lead, by what they are of.
class Places {
public:
    /// The same name for the same thing: "p1", "p2", ...
    std::string of(const std::string& id) { return "p" + std::to_string(known_.emplace(id, known_.size() + 1).first->second); }

private:
    std::map<std::string, std::size_t> known_;
};

void summaryPage(pdf::Page& page, const nlohmann::json& certificate, const PageChoice& choice, Places& places);
/// What differs from the certificate that this one replaces; nothing is written where it replaces none.
void changesPage(pdf::Page& page, const nlohmann::json& certificate);
void cablePage(pdf::Page& page, const nlohmann::json& cable, const PageChoice& choice, Places& places);
void fibrePage(pdf::Page& page, const nlohmann::json& link, const PrintedLink& printed);

/// Who signed in the record, when, and whether that still stands; of an overtaken one what differs.
void signOffWords(pdf::Page& page, const nlohmann::json& signature);

/// Whose key signed the page, in a paragraph; null: nobody's.
void keyWords(pdf::Page& page, const seal::SigningKey* key);

/// The head of a part of a page, with at least so much room behind it; the next line comes below.
void subHeading(pdf::Page& page, const std::string& words, double room);

/// A cell of a table: `at` is the left edge, of figures the right one.
struct TableCell {
    double at = 0;
    std::string text;
    pdf::Colour tone = pdf::ink;
    double room = 0;  ///< 0: figures, that end at `at`
};
void tableCell(pdf::Page& page, pdf::Role role, const TableCell& cell);
void tableRow(pdf::Page& page, pdf::Role role, const std::vector<TableCell>& cells);

}  // namespace clendo::pages
