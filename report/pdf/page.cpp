#include "report/pdf/page.h"

#include <cairo-pdf.h>
#include <fmt/format.h>
#include <fontconfig/fontconfig.h>
#include <pango/pangocairo.h>

#include <cstring>
#include <utility>

#include "files/files.h"
#include "report/pdf/archive.h"

namespace clendo::pdf {
namespace {

constexpr double pointsPerMm = 72 / 25.4;
constexpr double pageWidth = 210, pageHeight = 297, left = 15, top = 12;

double points(double mm) { return mm * pointsPerMm; }

/// The shipped type face; what it has no letters for comes from what the machine has.
void loadTypeface()
{
    static const bool loaded = [] {
        for (const char* name : {"ClendoB612-Regular.ttf", "ClendoB612-Bold.ttf"})
            FcConfigAppFontAddFile(FcConfigGetCurrent(), reinterpret_cast<const FcChar8*>((dataFolder() / "fonts" / name).c_str()));
        return true;
    }();
    (void)loaded;
}

struct Freed {
    void operator()(gpointer object) const { g_object_unref(object); }
    void operator()(PangoFontDescription* font) const { pango_font_description_free(font); }
    void operator()(char* text) const { g_free(text); }
};
using Layout = std::unique_ptr<PangoLayout, Freed>;

const char* tagOf(Role role)
{
    switch (role) {
        case Role::Document: return "Document";
        case Role::Section: return "Sect";
        case Role::Title: return "H1";
        case Role::Heading: return "H2";
        case Role::SubHeading: return "H3";
        case Role::Text: return "P";
        case Role::Table: return "Table";
        case Role::Row: return "TR";
        case Role::HeadCell: return "TH";
        case Role::Cell: return "TD";
        case Role::Figure: return "Figure";
    }
    return "P";
}

cairo_status_t append(void* to, const unsigned char* bytes, unsigned int length)
{
    static_cast<std::string*>(to)->append(reinterpret_cast<const char*>(bytes), length);
    return CAIRO_STATUS_SUCCESS;
}

}  // namespace

Colour toneOf(std::string_view verdict)
{
    if (verdict.starts_with("pass") || verdict == "fit" || verdict == "accept") return deep;
    if (verdict == "fail" || verdict == "damaged" || verdict == "reject") return wine;
    return ochre;
}

struct Page::Drawing {
    explicit Drawing(About said) : about(std::move(said))
    {
        loadTypeface();
        surface = cairo_pdf_surface_create_for_stream(append, &bytes, points(pageWidth), points(pageHeight));
        cairo_pdf_surface_restrict_to_version(surface, CAIRO_PDF_VERSION_1_5);
        cairo_pdf_surface_set_metadata(surface, CAIRO_PDF_METADATA_TITLE, about.title.c_str());
        cr = cairo_create(surface);
        cairo_translate(cr, points(left), points(top));
        fonts.reset(pango_font_map_create_context(pango_cairo_font_map_get_default()));
        pango_cairo_context_set_resolution(fonts.get(), 72);
        cairo_font_options_t* unhinted = cairo_font_options_create();  // hints are for screens: on paper they space letters unevenly
        cairo_font_options_set_hint_style(unhinted, CAIRO_HINT_STYLE_NONE);
        cairo_font_options_set_hint_metrics(unhinted, CAIRO_HINT_METRICS_OFF);
        pango_cairo_context_set_font_options(fonts.get(), unhinted);
        cairo_font_options_destroy(unhinted);
    }
    ~Drawing()
    {
        cairo_destroy(cr);
        cairo_surface_destroy(surface);
    }
    Drawing(const Drawing&) = delete;
    Drawing& operator=(const Drawing&) = delete;

    void colour(Colour c) const { cairo_set_source_rgb(cr, c.red, c.green, c.blue); }

    /// `wide` in mm, 0: one line, however long; cut: one line of that width.
    [[nodiscard]] Layout layout(const std::string& text, double wide, bool cut) const
    {
        Layout out(pango_layout_new(fonts.get()));
        pango_layout_set_font_description(out.get(), face.get());
        pango_layout_set_auto_dir(out.get(), FALSE);
        pango_layout_set_single_paragraph_mode(out.get(), cut || wide == 0 ? TRUE : FALSE);
        const std::unique_ptr<char, Freed> valid(g_utf8_make_valid(text.data(), static_cast<gssize>(text.size())));
        pango_layout_set_text(out.get(), valid.get(), -1);
        if (wide > 0) {
            pango_layout_set_width(out.get(), static_cast<int>(points(wide) * PANGO_SCALE));
            pango_layout_set_wrap(out.get(), PANGO_WRAP_WORD_CHAR);
            if (cut) pango_layout_set_ellipsize(out.get(), PANGO_ELLIPSIZE_END);
        }
        return out;
    }
    void show(PangoLayout* layout, double x, double baseline, Colour c) const
    {
        colour(c);
        cairo_move_to(cr, points(x), points(baseline) - pango_layout_get_baseline(layout) / double(PANGO_SCALE));
        pango_cairo_show_layout(cr, layout);
    }
    static double heightOf(PangoLayout* layout)
    {
        PangoRectangle logical;
        pango_layout_get_extents(layout, nullptr, &logical);
        return logical.height / double(PANGO_SCALE) / pointsPerMm;
    }

    About about;
    std::string bytes;
    cairo_surface_t* surface = nullptr;
    cairo_t* cr = nullptr;
    std::unique_ptr<PangoContext, Freed> fonts;
    std::unique_ptr<PangoFontDescription, Freed> face{pango_font_description_new()};
    std::vector<std::string> figures;  ///< what each says, in their order
};

Page::Page(About about, std::function<void(Page&)> footer) : d_(std::make_unique<Drawing>(std::move(about))), footer_(std::move(footer)) { font(9); }
Page::~Page() = default;

void Page::font(double size, bool bold)
{
    pango_font_description_set_family(d_->face.get(), "Clendo B612");
    pango_font_description_set_weight(d_->face.get(), bold ? PANGO_WEIGHT_BOLD : PANGO_WEIGHT_NORMAL);
    pango_font_description_set_size(d_->face.get(), static_cast<int>(size * PANGO_SCALE));
}

void Page::words(double x, const std::string& text, Colour colour, double room)
{
    d_->show(d_->layout(text, room > 0 ? room : std::max(1.0, width - x), true).get(), x, y, colour);
}

void Page::figures(double right, const std::string& text, Colour colour)
{
    d_->show(d_->layout(text, 0, false).get(), right - widthOf(text), y, colour);
}

double Page::widthOf(const std::string& text) const
{
    PangoRectangle logical;
    pango_layout_get_extents(d_->layout(text, 0, false).get(), nullptr, &logical);
    return logical.width / double(PANGO_SCALE) / pointsPerMm;
}

double Page::heightOf(const std::string& text, double room) const { return Drawing::heightOf(d_->layout(text, room, false).get()); }

void Page::paragraph(const std::string& text, Colour colour)
{
    need(heightOf(text, width));
    const auto tagged = tag(Role::Text);
    y = column(0, text, colour) + 1;
}

double Page::column(double x, const std::string& text, Colour colour, double room)
{
    const auto layout = d_->layout(text, room > 0 ? room : width - x, false);
    d_->show(layout.get(), x, y, colour);
    return y + Drawing::heightOf(layout.get()) + 0.5;
}

void Page::rule(double from, double to) { path({{from, y}, {to, y}}, faint); }

void Page::need(double room)
{
    if (y + room > height - 12) newPage();
}

void Page::newPage()
{
    footer_(*this);
    cairo_show_page(d_->cr);
    ++number_;
    y = 8;
}

void Page::box(double x, double from, double wide, double high, Colour colour, bool filled)
{
    d_->colour(colour);
    cairo_rectangle(d_->cr, points(x), points(from), points(wide), points(high));
    cairo_set_line_width(d_->cr, points(0.2));
    filled ? cairo_fill(d_->cr) : cairo_stroke(d_->cr);
}

void Page::path(const std::vector<Point>& through, Colour colour, double thick, bool dashed)
{
    d_->colour(colour);
    cairo_set_line_width(d_->cr, points(thick));
    cairo_set_line_join(d_->cr, CAIRO_LINE_JOIN_ROUND);
    const double dash = points(0.8);
    cairo_set_dash(d_->cr, &dash, dashed ? 1 : 0, 0);
    cairo_new_path(d_->cr);
    for (const auto& p : through) cairo_line_to(d_->cr, points(p.x), points(p.y));
    cairo_stroke(d_->cr);
    cairo_set_dash(d_->cr, nullptr, 0, 0);
}

void Page::picture(const Picture& picture, double x, double from, double wide, double high, const std::string& says)
{
    const auto tagged = figure(says);
    box(x, from, wide, high, dark, true);
    if (picture.width <= 0) {
        const double keep = std::exchange(y, from + high / 2);
        font(7.5);
        words(x + 2, "no picture", paper, wide - 4);
        y = keep;
        return;
    }
    // only the JPEG is written; what the surface itself holds is never looked at
    cairo_surface_t* image = cairo_image_surface_create(CAIRO_FORMAT_RGB24, picture.width, picture.height);
    auto* kept = new std::string(picture.jpeg);
    if (cairo_surface_set_mime_data(
            image, CAIRO_MIME_TYPE_JPEG, reinterpret_cast<const unsigned char*>(kept->data()), kept->size(),
            [](void* text) { delete static_cast<std::string*>(text); }, kept) != CAIRO_STATUS_SUCCESS)
        delete kept;
    cairo_save(d_->cr);
    cairo_translate(d_->cr, points(x), points(from));
    cairo_scale(d_->cr, points(wide) / picture.width, points(high) / picture.height);
    cairo_set_source_surface(d_->cr, image, 0, 0);
    cairo_pattern_set_filter(cairo_get_source(d_->cr), CAIRO_FILTER_FAST);  // PDF/A forbids readers to interpolate
    cairo_paint(d_->cr);
    cairo_restore(d_->cr);
    cairo_surface_destroy(image);
}

Page::Tagged::~Tagged()
{
    if (page_) cairo_tag_end(page_->d_->cr, tag_);
}

Page::Tagged Page::tag(Role role)
{
    cairo_tag_begin(d_->cr, tagOf(role), nullptr);
    return {*this, tagOf(role)};
}

Page::Tagged Page::figure(const std::string& says)
{
    d_->figures.push_back(says);
    return tag(Role::Figure);
}

Page::Tagged Page::link(const std::string& name)
{
    cairo_tag_begin(d_->cr, CAIRO_TAG_LINK, fmt::format("dest='{}'", name).c_str());
    return {*this, CAIRO_TAG_LINK};
}

void Page::destination(const std::string& name)
{
    cairo_tag_begin(d_->cr, CAIRO_TAG_DEST, fmt::format("name='{}' x=0 y={}", name, points(std::max(0.0, y - 6))).c_str());
    cairo_tag_end(d_->cr, CAIRO_TAG_DEST);
}

int Page::bookmark(const std::string& title, const std::string& destination, int parent)
{
    const std::unique_ptr<char, Freed> valid(g_utf8_make_valid(title.data(), static_cast<gssize>(title.size())));
    return cairo_pdf_surface_add_outline(d_->surface, parent, valid.get(), fmt::format("dest='{}'", destination).c_str(),
                                         static_cast<cairo_pdf_outline_flags_t>(0));
}

Result<std::string> Page::finish()
{
    footer_(*this);
    cairo_show_page(d_->cr);
    cairo_surface_finish(d_->surface);
    const auto status = cairo_surface_status(d_->surface) != CAIRO_STATUS_SUCCESS ? cairo_surface_status(d_->surface) : cairo_status(d_->cr);
    if (status != CAIRO_STATUS_SUCCESS)
        return failure(status == CAIRO_STATUS_NO_MEMORY ? Error::Code::OutOfMemory : Error::Code::ExportFailed,
                       "The pages of the certificate could not be drawn.", cairo_status_to_string(status));
    return toArchive(std::exchange(d_->bytes, {}), d_->about, d_->figures);
}

}  // namespace clendo::pdf
