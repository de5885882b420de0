#include "face/find/stamped_text.h"

#include <algorithm>
#include <iterator>
#include <opencv2/imgproc.hpp>
#include <vector>

namespace clendo::face {
namespace {

constexpr int inkWhite = 250, inkBlack = 4;       // grey: rounded by JPEG
constexpr double lowest = 0.012, highest = 0.09;  // of the picture's height: of a letter
constexpr double nearEdge = 0.14;                 // of the picture's height: of the whole line
constexpr double mostInk = 0.02;                  // of the picture: more is light, or its absence
constexpr double apart = 1.2;                     // heights between a letter and the next
constexpr double leastField = 0.3;                // of a line's box: paper between its letters
constexpr std::size_t fewestLetters = 3;

/// Boxes of what hangs together in a mask.
std::vector<cv::Rect> partsOf(const cv::Mat1b& mask)
{
    cv::Mat1i labels, stats;
    cv::Mat1d centres;
    const int count = cv::connectedComponentsWithStats(mask, labels, stats, centres, 8);
    std::vector<cv::Rect> out;
    for (int n = 1; n < count; ++n)
        out.emplace_back(stats(n, cv::CC_STAT_LEFT), stats(n, cv::CC_STAT_TOP), stats(n, cv::CC_STAT_WIDTH), stats(n, cv::CC_STAT_HEIGHT));
    return out;
}

/// Whether a part is as high as letters and lies near the upper or lower edge of a picture that is `high`.
bool isLetter(const cv::Rect& box, double high)
{
    if (box.height < std::max(4.0, lowest * high) || box.height > highest * high || box.width > 2 * box.height) return false;
    return box.br().y <= nearEdge * high || box.y >= (1 - nearEdge) * high;
}

/// Letters beside each other, about as high as each other, as one box each line.
std::vector<cv::Rect> linesOf(std::vector<cv::Rect> letters)
{
    std::sort(letters.begin(), letters.end(), [](const cv::Rect& a, const cv::Rect& b) { return a.x < b.x; });
    struct Line {
        cv::Rect box;
        int height;
        std::size_t letters;
    };
    std::vector<Line> lines;
    for (const cv::Rect& box : letters) {
        const auto fits = std::find_if(lines.begin(), lines.end(), [&](const Line& l) {
            const int shared = std::min(l.box.br().y, box.br().y) - std::max(l.box.y, box.y);
            return box.x - l.box.br().x < apart * l.height && shared > 0.5 * std::min(l.height, box.height) &&
                   std::max(l.height, box.height) < 2 * std::min(l.height, box.height);
        });
        if (fits == lines.end()) {
            lines.push_back({box, box.height, 1});
        } else {
            fits->box |= box;
            fits->height = std::max(fits->height, box.height);
            ++fits->letters;
        }
    }
    std::vector<cv::Rect> out;
    for (const Line& l : lines)
        if (l.letters >= fewestLetters) out.push_back(l.box);
    return out;
}

/// The line with the strokes that go on in it: dashes, rules, dots.
cv::Rect wholeLine(cv::Rect line, const std::vector<cv::Rect>& parts)
{
    for (bool again = true; again;) {
        again = false;
        const int reach = static_cast<int>(2 * apart * line.height);
        for (const cv::Rect& part : parts) {
            const cv::Rect near(line.x - reach, line.y - line.height / 2, line.width + 2 * reach, 2 * line.height);
            if ((near & part) != part || (line & part) == part) continue;
            line |= part;
            again = true;
        }
    }
    return line;
}

/// The even field of the opposite level that a line is written on; the line itself where there is none.
cv::Rect withField(const cv::Rect& line, const cv::Mat1b& paper)
{
    const int reach = line.height;
    const cv::Rect around =
        cv::Rect(line.x - 3 * reach, line.y - reach, line.width + 6 * reach, line.height + 2 * reach) & cv::Rect({}, paper.size());
    if (cv::countNonZero(paper(line)) < leastField * line.area()) return line;
    cv::Rect out = line;
    for (const cv::Rect& part : partsOf(paper(around))) {
        const cv::Rect field = part + around.tl();
        if ((field & line).area() > leastField * line.area()) out |= field;
    }
    return out;
}

}  // namespace

cv::Mat1b stampedText(const cv::Mat1b& picture)
{
    cv::Mat1b out;
    for (const bool white : {true, false}) {
        cv::Mat1b ink;
        if (white)
            cv::compare(picture, inkWhite, ink, cv::CMP_GE);
        else
            cv::compare(picture, inkBlack, ink, cv::CMP_LE);
        if (const int inked = cv::countNonZero(ink); inked == 0 || inked > mostInk * double(picture.total())) continue;
        cv::Mat1b paper;
        if (white)
            cv::compare(picture, inkBlack, paper, cv::CMP_LE);
        else
            cv::compare(picture, inkWhite, paper, cv::CMP_GE);
        const std::vector<cv::Rect> parts = partsOf(ink);
        std::vector<cv::Rect> letters;
        std::copy_if(parts.begin(), parts.end(), std::back_inserter(letters), [&](const cv::Rect& part) { return isLetter(part, picture.rows); });
        for (const cv::Rect& letterLine : linesOf(std::move(letters))) {
            if (out.empty()) out = cv::Mat1b(picture.size(), std::uint8_t{0});
            const cv::Rect line = withField(wholeLine(letterLine, parts), paper);
            // dots and soft edges
            const int around = letterLine.height / 2 + 3;
            const cv::Rect box =
                cv::Rect(line.x - 2 * around, line.y - around, line.width + 4 * around, line.height + 2 * around) & cv::Rect({}, picture.size());
            out(box) = 255;
        }
    }
    return out;
}

}  // namespace clendo::face
