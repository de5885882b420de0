#include "batch/cord_line.h"

#include <algorithm>
#include <cctype>
#include <string_view>

namespace clendo {
namespace {

constexpr std::string_view endA = " end A", endB = " end B";

}  // namespace

std::string nextLabel(const std::string& label)
{
    auto first = label.size();
    while (first > 0 && std::isdigit(static_cast<unsigned char>(label[first - 1]))) --first;
    if (first == label.size()) return label + " 2";
    std::string number = label.substr(first);
    auto digit = number.rbegin();
    for (; digit != number.rend() && *digit == '9'; ++digit) *digit = '0';
    if (digit == number.rend())
        number.insert(number.begin(), '1');
    else
        ++*digit;
    return label.substr(0, first) + number;
}

std::string labelOf(const std::string& inHand)
{
    for (const std::string_view end : {endA, endB})
        if (inHand.ends_with(end)) return inHand.substr(0, inHand.size() - end.size());
    return inHand;
}

std::string CordLine::inHand() const { return bothEnds_ ? label_ + std::string(endB_ ? endB : endA) : label_; }

void CordLine::setBothEnds(bool both)
{
    bothEnds_ = both;
    endB_ = false;
}

void CordLine::relabel(std::string label)
{
    label_ = std::move(label);
    endB_ = false;
}

void CordLine::judged(bool fit)
{
    if (!fit) return;
    if (bothEnds_ && !endB_)
        endB_ = true;
    else
        giveUp();
}

void CordLine::giveUp()
{
    label_ = nextLabel(label_);
    endB_ = false;
}

}  // namespace clendo
