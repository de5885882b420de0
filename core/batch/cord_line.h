#pragma once
#include <string>
#include <vector>

namespace clendo {

/// The label after this one: a number at its end counts on and keeps its width ("VP-P-009" -> "VP-P-010"); without a number one is begun.
std::string nextLabel(const std::string& label);

/// A patch cord by its label, and its end "A" or "B"; empty: both of them, or not said.
struct CordEnd {
    std::string cord, end;
    bool operator==(const CordEnd&) const = default;
};

/// So many cords from this one on, in the order in which they are read: where it has an end, each cord's end A, then its end B.
std::vector<CordEnd> cordsFrom(CordEnd first, int cords);

/// For people: "cord 1", or "VP-P-017 end B". `end`: "A", "B" or empty.
inline std::string cordWords(const std::string& label, const std::string& end) { return end.empty() ? label : label + " end " + end; }

/// Which cord, and which of its ends, is in hand on a line: one is looked at until it is fit, then comes its other end, then the next cord.
class CordLine {
public:
    explicit CordLine(std::string label = "cord 1") : label_(std::move(label)) {}

    [[nodiscard]] const std::string& label() const { return label_; }
    [[nodiscard]] bool bothEnds() const { return bothEnds_; }
    /// "A" or "B"; empty where only one end of each cord is looked at.
    [[nodiscard]] std::string end() const { return !bothEnds_ ? "" : endB_ ? "B" : "A"; }
    [[nodiscard]] std::string inHand() const { return cordWords(label_, end()); }

    /// From the cord in hand on. It begins at its end A.
    void setBothEnds(bool both);
    /// The cord in hand has this label; those after it count on from there.
    void relabel(std::string label);
    /// A look at what is in hand.
    void judged(bool fit);
    /// The cord in hand is given up.
    void giveUp();

private:
    std::string label_;
    bool bothEnds_ = false, endB_ = false;
};

}  // namespace clendo
