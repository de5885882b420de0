#include "face/find/stamped_text.h"

#include <algorithm>
#include <iterator>
#include <opencv2/imgproc.hpp>
#include <vector>

namespace clendo::face {
namespace {

constexpr double blackInk = 0.42, whiteInk = 0.65;  // of the way from no light to that around, and from there to white: thin strokes are softened
constexpr double lowest = 0.009, highest = 0.09;    // of the picture's height: of a letter
constexpr double nearEdge = 0.14;                   // of the picture's height: of the whole line
constexpr double mostInk = 0.2;                     // of the strip: more is light, or its absence
constexpr double apart = 1.2;                       // heights between a letter and the next
constexpr double leastField = 0.3;                  // of a line's box: paper between its letters
constexpr double uneven = 0.15;                     // of a letter's height: digits and capitals stand on one line and are equally high
constexpr double smallLetter = 0.55;                // of a capital's height
constexpr std::size_t fewestLetters = 4;
constexpr std::ptrdiff_t fewestEqual = 3;

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

/// Whether a part is as high as letters are in a picture that is `high`.
bool isLetter(const cv::Rect& box, double high)
{
    return box.height >= std::max(4.0, lowest * high) && box.height <= highest * high && box.width <= 2 * box.height;
}

/// By how much letters of one height and one line differ, pixels.
int slackOf(int height) { return std::max(1, cvRound(uneven * height)); }

/// Letters beside each other on one line, most of them equally high, as one box each line.
std::vector<cv::Rect> linesOf(std::vector<cv::Rect> letters)
{
    std::sort(letters.begin(), letters.end(), [](const cv::Rect& a, const cv::Rect& b) { return a.x < b.x; });
    std::vector<std::vector<cv::Rect>> lines;
    for (const cv::Rect& box : letters) {
        const auto fits = std::find_if(lines.begin(), lines.end(), [&](const std::vector<cv::Rect>& line) {
            const cv::Rect& last = line.back();
            const int higher = std::max(last.height, box.height), lower = std::min(last.height, box.height);
            return box.x - last.br().x < apart * higher && std::abs(box.br().y - last.br().y) <= slackOf(higher) && lower > smallLetter * higher;
        });
        if (fits == lines.end())
            lines.push_back({box});
        else
            fits->push_back(box);
    }
    std::vector<cv::Rect> out;
    for (const auto& line : lines) {
        const auto equal = [&](const cv::Rect& one) {
            return std::count_if(line.begin(), line.end(), [&](const cv::Rect& o) { return std::abs(o.height - one.height) <= slackOf(one.height); });
        };
        const bool even = std::any_of(line.begin(), line.end(), [&](const cv::Rect& one) { return equal(one) >= fewestEqual; });
        if (line.size() < fewestLetters || !even) continue;
        out.push_back(line.front());
        for (const cv::Rect& letter : line) out.back() |= letter;
    }
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

/// The line with the field of the opposite level that it is written on, of those that there are.
cv::Rect withField(const cv::Rect& line, const std::vector<cv::Rect>& fields)
{
    cv::Rect out = line;
    for (const cv::Rect& field : fields)
        if ((field & line).area() > leastField * line.area()) out |= field;
    return out;
}

/// Boxes over lines of text in a strip of a picture that is `high`.
std::vector<cv::Rect> textIn(const cv::Mat1b& strip, double high)
{
    cv::Mat around, paperAround, limit, dark, bright;
    const int wide = strip.rows | 1, narrow = (strip.rows / 5) | 1;
    cv::blur(strip, around, {wide, wide});
    cv::blur(strip, paperAround, {narrow, narrow});  // black ink may stand on a white field
    cv::max(around, paperAround, limit);
    limit.convertTo(limit, CV_8U, blackInk);
    cv::compare(strip, limit, dark, cv::CMP_LT);
    around.convertTo(limit, CV_8U, 1 - whiteInk, 255 * whiteInk);
    cv::compare(strip, limit, bright, cv::CMP_GT);
    std::vector<cv::Rect> out;
    for (const bool white : {true, false}) {
        const cv::Mat &ink = white ? bright : dark, &paper = white ? dark : bright;
        if (const int inked = cv::countNonZero(ink); inked == 0 || inked > mostInk * double(strip.total())) continue;
        const std::vector<cv::Rect> parts = partsOf(ink);
        std::vector<cv::Rect> letters;
        std::copy_if(parts.begin(), parts.end(), std::back_inserter(letters), [&](const cv::Rect& part) { return isLetter(part, high); });
        const std::vector<cv::Rect> lines = linesOf(std::move(letters));
        if (lines.empty()) continue;
        std::vector<cv::Rect> fields = partsOf(paper);
        std::erase_if(fields, [&](const cv::Rect& f) { return f.width > 0.9 * strip.cols && f.height > 0.9 * strip.rows; });
        for (const cv::Rect& letterLine : lines) {
            const cv::Rect line = withField(wholeLine(letterLine, parts), fields);
            const int margin = letterLine.height / 2 + 3;  // dots and soft edges
            out.emplace_back(line.x - 2 * margin, line.y - margin, line.width + 4 * margin, line.height + 2 * margin);
        }
    }
    return out;
}

}  // namespace

cv::Mat1b stampedText(const cv::Mat1b& picture)
{
    cv::Mat1b out;
    const int high = cvCeil(nearEdge * picture.rows);
    for (const int from : {0, picture.rows - high})
        for (const cv::Rect& text : textIn(picture(cv::Rect(0, from, picture.cols, high)), picture.rows)) {
            if (out.empty()) out = cv::Mat1b(picture.size(), std::uint8_t{0});
            out((text + cv::Point(0, from)) & cv::Rect({}, picture.size())) = 255;
        }
    return out;
}

}  // namespace clendo::face
