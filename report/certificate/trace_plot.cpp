#include "report/certificate/trace_plot.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>

#include "report/certificate/values.h"

namespace clendo {
namespace {

using nlohmann::json;
using namespace pdf;

constexpr double plotHigh = 41, plotLeft = 11;

/// Level that a share of the columns does not exceed.
double share(std::vector<double> levels, double part)
{
    const auto at = levels.begin() + static_cast<std::ptrdiff_t>(part * static_cast<double>(levels.size() - 1));
    std::nth_element(levels.begin(), at, levels.end());
    return *at;
}

struct Range {
    double low = 0, high = 0;
};

/// Of the fibre: reflections may leave the frame above, noise behind the end below.
Range rangeOf(const PrintedTrace& trace)
{
    std::vector<double> levels;
    for (const auto& c : trace.columns)
        if (trace.length <= 0 || (c.at >= 0 && c.at <= trace.length)) levels.push_back((c.low + c.high) / 2);
    if (levels.empty()) return {0, 1};
    const double low = share(levels, 0.03), high = share(levels, 0.93);
    const double room = std::max(0.4, high - low);
    return {low - 0.25 * room, high + 0.35 * room};
}

/// A step of 1, 2 or 5 that divides a reach into some parts.
double stepOf(double reach, double parts)
{
    const double raw = reach / parts, ten = std::pow(10, std::floor(std::log10(raw)));
    for (const double s : {1.0, 2.0, 5.0})
        if (s * ten >= raw) return s * ten;
    return 10 * ten;
}

class LinePlot {
public:
    LinePlot(Page& page, const json& line, const PrintedLink& printed) : p_(page), line_(line), printed_(printed) {}

    void draw()
    {
        const PrintedTrace* ab = traceOf("trace_ab_sha256");
        const PrintedTrace* ba = traceOf("trace_ba_sha256");
        p_.need(plotHigh + 30);
        {
            const auto tagged = p_.tag(Role::SubHeading);
            p_.font(9, true);
            p_.words(0, fmt::format("Traces, {:.0f} nm", line_["wavelength_nm"].get<double>()));
        }
        legend(ab, ba);
        p_.down(2);
        top_ = p_.y;
        for (const auto* t : {ab, ba})
            if (t) span(*t);
        {
            const auto tagged = p_.figure(fmt::format("Optical time domain traces at {:.0f} nm; what they show stands in the table below.",
                                                      line_["wavelength_nm"].get<double>()));
            axis();
            // each over its own range: they are of two shots, and only their shapes are compared
            if (ba) curve(*ba, ochre, !ab);
            if (ab) curve(*ab, ink, true);
            marks();
        }
        p_.y = top_ + plotHigh + 11.5;
        table();
    }

private:
    const PrintedTrace* traceOf(const char* key) const
    {
        if (!line_[key].is_string()) return nullptr;
        const auto it = printed_.traces.find(line_[key].get<std::string>());
        return it == printed_.traces.end() || it->second.columns.empty() ? nullptr : &it->second;
    }
    void legend(const PrintedTrace* ab, const PrintedTrace* ba)
    {
        p_.font(8);
        const auto entry = [&](double x, const char* key, const PrintedTrace* trace, const char* words, Colour tone) {
            const bool shot = line_[key].is_string();
            if (shot && trace) p_.path({{x, p_.y - 1}, {x + 8, p_.y - 1}}, tone, 0.4);
            p_.words(x + 10,
                     !shot   ? fmt::format("not shot {}", words)
                     : trace ? std::string(words)
                             : fmt::format("the file {} cannot be read", words),
                     soft, 60);
        };
        entry(40, "trace_ab_sha256", ab, "from A to B", ink);
        entry(95, "trace_ba_sha256", ba, "from B to A, turned round", ochre);
    }
    void span(const PrintedTrace& t)
    {
        from_ = std::min(from_, t.columns.front().at);
        to_ = std::max(to_, t.columns.back().at);
    }
    [[nodiscard]] double x(double at) const { return plotLeft + (at - from_) / std::max(1.0, to_ - from_) * (Page::width - plotLeft); }

    void axis()
    {
        p_.box(plotLeft, top_, Page::width - plotLeft, plotHigh, faint);
        if (to_ <= from_) return;
        p_.font(6.5);
        const double step = stepOf(to_ - from_, 9);
        for (double at = std::ceil(from_ / step) * step; at <= to_; at += step) {
            p_.path({{x(at), top_}, {x(at), top_ + plotHigh}}, faint, 0.1);
            p_.y = top_ + plotHigh + 3;
            p_.words(x(at) - 4, fmt::format("{:.0f}", at == 0 ? 0.0 : at), soft, 14);  // no “-0”
        }
        p_.y = top_ + plotHigh + 6.2;
        p_.words(plotLeft, "metres from the port at A, in fibre; each shot over its own range of levels, those of the first are written beside it",
                 soft);
    }
    void curve(const PrintedTrace& t, Colour tone, bool labels)
    {
        const Range range = rangeOf(t);
        const auto y = [&](double level) { return top_ + std::clamp((range.high - level) / (range.high - range.low), 0.0, 1.0) * plotHigh; };
        std::vector<Point> points;
        points.reserve(2 * t.columns.size());
        for (const auto& c : t.columns) {
            points.push_back({x(c.at), y(c.low)});
            points.push_back({x(c.at), y(c.high)});
        }
        p_.path(points, tone, 0.18);
        if (!labels) return;
        p_.font(6.5);
        const double step = stepOf(range.high - range.low, 5);
        for (double level = std::ceil(range.low / step) * step; level <= range.high; level += step) {
            p_.y = y(level) + 0.8;
            p_.words(0, fmt::format("{:.{}f} dB", level, step < 1 ? 1 : 0), soft, plotLeft);
        }
    }
    void marks()
    {
        p_.font(6.5, true);
        int n = 0;
        for (const auto& row : line_["rows"]) {
            ++n;
            if (!row["found_m"].is_number()) continue;
            const double at = row["found_m"].get<double>();
            if (at < from_ || at > to_) continue;
            p_.path({{x(at), top_}, {x(at), top_ + plotHigh}}, deep, 0.15, true);
            p_.y = top_ + 3 + (n % 2) * 3;
            p_.words(std::min(x(at) + 0.6, Page::width - 3), std::to_string(n), deep, 8);
        }
    }

    void table()
    {
        const auto tagged = p_.tag(Role::Table);
        struct Column {
            double at;
            const char* head;
            bool right;
        };
        const std::vector<Column> columns{{0, "", false},          {7, "The line", false},   {80, "Plan, m", true},  {98, "Found, m", true},
                                          {114, "Loss, dB", true}, {134, "Both ways", true}, {152, "Allowed", true}, {180, "Reflectance, dB", true}};
        const auto cells = [&](Role role, const std::vector<std::pair<std::string, Colour>>& texts) {
            const auto row = p_.tag(Role::Row);
            for (std::size_t i = 0; i < columns.size(); ++i) {
                const auto cell = p_.tag(role);
                columns[i].right ? p_.figures(columns[i].at, texts[i].first, texts[i].second)
                                 : p_.words(columns[i].at, texts[i].first, texts[i].second, i == 0 ? 6 : 60);
            }
        };
        p_.font(7.5, true);
        std::vector<std::pair<std::string, Colour>> heads;
        for (const auto& c : columns) heads.emplace_back(c.head, soft);
        cells(Role::HeadCell, heads);
        p_.down(4.2);
        p_.font(8);
        int n = 0;
        for (const auto& row : line_["rows"]) {
            p_.need(5);
            ++n;
            const bool planned = row["planned_m"].is_number();
            const Colour tone = row["over_limit"].get<bool>() ? wine : planned ? ink : ochre;
            const std::string name =
                row["where"].is_string() ? row["name"].get<std::string>() + ", " + row["where"].get<std::string>() : row["name"].get<std::string>();
            const std::string found = row["found_m"].is_number() ? decimals(row["found_m"], 0) : "not seen";
            cells(Role::Cell, {{std::to_string(n), soft},
                               {name, tone},
                               {decimals(row["planned_m"], 0), tone},
                               {found, tone},
                               {decimals(row["loss_db"], 2), tone},
                               {decimals(row["both_ways_db"], 2), tone},
                               {decimals(row["limit_db"], 2), soft},
                               {decimals(row["reflectance_db"], 1), row["reflects_too_much"].get<bool>() ? wine : tone}});
            p_.down(4.2);
        }
        p_.down(3);
    }

    Page& p_;
    const json& line_;
    const PrintedLink& printed_;
    double top_ = 0, from_ = 1e9, to_ = -1e9;
};

}  // namespace

void drawLine(Page& page, const json& line, const PrintedLink& printed) { LinePlot(page, line, printed).draw(); }

}  // namespace clendo
