#include "face/find/stamped_text.h"

#include <algorithm>
#include <opencv2/imgproc.hpp>
#include <vector>

namespace clendo::face {
namespace {

constexpr int inkWhite = 250, inkBlack = 4;       // grey: rounded by JPEG
constexpr double lowest = 0.012, highest = 0.09;  // of the picture's height: of a letter
constexpr double nearEdge = 0.14;                 // of the picture's height: of the whole line
constexpr double mostInk = 0.02;                  // of the picture: more is light, or its absence
constexpr double apart = 1.2;                     // heights between a letter and the next
constexpr std::size_t fewestLetters = 3;

struct Letter {
    cv::Rect box;
};

/// Separate strokes of ink that are as high as letters and lie near the picture's upper or lower edge.
std::vector<Letter> lettersOf(const cv::Mat1b& ink)
{
    cv::Mat1i labels, stats;
    cv::Mat1d centres;
    const int count = cv::connectedComponentsWithStats(ink, labels, stats, centres, 8);
    std::vector<Letter> out;
    const double high = ink.rows;
    for (int n = 1; n < count; ++n) {
        const cv::Rect box(stats(n, cv::CC_STAT_LEFT), stats(n, cv::CC_STAT_TOP), stats(n, cv::CC_STAT_WIDTH), stats(n, cv::CC_STAT_HEIGHT));
        if (box.height < std::max(4.0, lowest * high) || box.height > highest * high || box.width > 2 * box.height) continue;
        if (box.br().y > nearEdge * high && box.y < (1 - nearEdge) * high) continue;
        out.push_back({box});
    }
    return out;
}

/// Letters beside each other, about as high as each other, as one box each line.
std::vector<cv::Rect> linesOf(std::vector<Letter> letters)
{
    std::sort(letters.begin(), letters.end(), [](const Letter& a, const Letter& b) { return a.box.x < b.box.x; });
    struct Line {
        cv::Rect box;
        int height;
        std::size_t letters;
    };
    std::vector<Line> lines;
    for (const auto& [box] : letters) {
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
        for (const cv::Rect& line : linesOf(lettersOf(ink))) {
            if (out.empty()) out = cv::Mat1b(picture.size(), std::uint8_t{0});
            // commas, dots and soft edges, and the field that it may be written on
            const int around = line.height / 2 + 3;
            const cv::Rect box =
                cv::Rect(line.x - 2 * around, line.y - around, line.width + 4 * around, line.height + 2 * around) & cv::Rect({}, picture.size());
            out(box) = 255;
        }
    }
    return out;
}

}  // namespace clendo::face
