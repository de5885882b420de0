#include "batch/cord_line.h"

#include <algorithm>
#include <cctype>

namespace clendo {
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

std::vector<CordEnd> cordsFrom(CordEnd first, int cords)
{
    std::vector<CordEnd> out;
    for (int i = 0; i < cords; ++i) {
        out.push_back(first);
        if (first.end == "A") out.push_back({first.cord, "B"});
        first = {nextLabel(first.cord), first.end.empty() ? "" : "A"};
    }
    return out;
}

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
