#pragma once
#include <cstdint>
#include <functional>
#include <memory>
#include <string>
#include <string_view>
#include <vector>

#include "result/result.h"

/// Writing PDF: pages from the top downwards, all lengths in millimetres, all texts UTF-8.
namespace clendo::pdf {

/// Red, green, blue from 0 to 1.
struct Colour {
    double red = 0, green = 0, blue = 0;
};
/// Printed, so not those of the window's theme.
inline constexpr Colour ink{0.114, 0.153, 0.200}, soft{0.353, 0.392, 0.435}, faint{0.812, 0.788, 0.737}, deep{0.122, 0.435, 0.659},
    ochre{0.604, 0.353, 0.0}, wine{0.541, 0.122, 0.239}, dark{0.133, 0.149, 0.169}, paper{1, 1, 1};
/// Of a verdict or condition.
Colour toneOf(std::string_view verdict);

struct Point {
    double x = 0, y = 0;
};

/// A picture as it is printed, JPEG already. Kept by who draws it only until the page is written.
struct Picture {
    std::string jpeg;
    int width = 0, height = 0;  ///< pixels; 0: there is none
};

/// What the document says of itself.
struct About {
    std::string title, subject, author;
    std::int64_t writtenAt = 0;  ///< seconds since 1970-01-01 UTC
};

/// What a piece of a page is, for a screen reader (ISO 32000-1, 14.8.4).
enum class Role { Document, Section, Title, Heading, SubHeading, Text, Table, Row, HeadCell, Cell, Figure };

class Page {
public:
    /// `footer` is called at the foot of each page, before the next one begins.
    Page(About about, std::function<void(Page&)> footer);
    ~Page();
    Page(const Page&) = delete;
    Page& operator=(const Page&) = delete;

    static constexpr double width = 180, height = 273;  ///< of A4 within its margins
    double y = 8;                                       ///< where the next line stands
    [[nodiscard]] int number() const { return number_; }

    void font(double points, bool bold = false);
    /// One line from `x`; what does not fit into `room` (0: all that there is) is cut and ends in an ellipsis.
    void words(double x, const std::string& text, Colour colour = ink, double room = 0);
    /// One line that ends at `right`.
    void figures(double right, const std::string& text, Colour colour = ink);
    [[nodiscard]] double widthOf(const std::string& text) const;
    /// As many lines as it takes, over the whole width, and a little room behind.
    void paragraph(const std::string& text, Colour colour = ink);
    /// The same from `x`, `room` wide (0: to the right edge), beginning at the height of a line of words; gives where the next line comes, and moves
    /// nothing.
    double column(double x, const std::string& text, Colour colour = ink, double room = 0);
    /// What column() would take.
    [[nodiscard]] double heightOf(const std::string& text, double room) const;
    void down(double by) { y += by; }
    void rule(double from = 0, double to = width);
    /// A new page, unless so much room is left on this one.
    void need(double room);
    void newPage();

    void box(double x, double top, double wide, double high, Colour colour, bool filled = false);
    void path(const std::vector<Point>& points, Colour colour, double thick = 0.2, bool dashed = false);
    /// With its upper left corner at (x, top), as wide as `wide`; a dark field that says so where there is none. `says`: for who cannot see it.
    void picture(const Picture& picture, double x, double top, double wide, double high, const std::string& says);

    /// Everything that is drawn until it goes belongs to it.
    class Tagged {
    public:
        Tagged(Page& page, const char* tag) : page_(&page), tag_(tag) {}
        Tagged(Tagged&& other) noexcept : page_(std::exchange(other.page_, nullptr)), tag_(other.tag_) {}
        Tagged& operator=(Tagged&&) = delete;
        ~Tagged();

    private:
        Page* page_;
        const char* tag_;
    };
    [[nodiscard]] Tagged tag(Role role);
    /// A figure is read aloud as `says`.
    [[nodiscard]] Tagged figure(const std::string& says);
    /// What is drawn until it goes leads to the place of this name. `name`: letters, digits and hyphens.
    [[nodiscard]] Tagged link(const std::string& name);
    void destination(const std::string& name);
    /// An entry of the list of contents; 0 stands at its top. Gives what its children name.
    int bookmark(const std::string& title, const std::string& destination, int parent = 0);

    /// The whole document, as PDF/A-2b (ISO 19005-2) with its structure as far as that goes. The page is over then.
    Result<std::string> finish();

private:
    struct Drawing;
    std::unique_ptr<Drawing> d_;
    std::function<void(Page&)> footer_;
    int number_ = 1;
};

}  // namespace clendo::pdf
