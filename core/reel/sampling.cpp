#include "reel/sampling.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>
#include <numeric>
#include <random>

#include "files/json_reading.h"

namespace clendo::reel {

Result<SamplingTable> SamplingTable::load(const RuleFiles& rules)
{
    const auto text = rules.shipped("sampling/iso-2859-1.json");
    if (!text) return tl::unexpected(text.error());
    const auto file = nlohmann::json::parse(*text, nullptr, false);
    SamplingTable out;
    JsonReading in(file, "sampling");
    out.source_ = in.textOr("source", "");
    std::optional<std::string> problem;
    for (const auto& item : in.list("plans")) {
        JsonReading r(item, "plan");
        Row row;
        constexpr double largest = 1e6;
        row.level = r.text("level");
        row.aql = r.number("aql", 0, 100);
        row.from = static_cast<int>(r.number("from", 2, largest));
        row.to = static_cast<int>(r.number("to", 2, largest));
        row.size = static_cast<int>(r.number("size", 0, largest));
        row.accept = static_cast<int>(r.number("accept", 0, largest));
        row.reject = static_cast<int>(r.number("reject", 1, largest));
        if (!problem) problem = r.problem();
        out.rows_.push_back(row);
    }
    if (!problem) problem = in.problem();
    if (problem) return failure(Error::Code::LimitsUnknown, fmt::format("The sampling plans cannot be read: {}. Install Clendo again.", *problem));
    return out;
}

Result<SamplingPlan> SamplingTable::plan(int lot, const std::string& level, double aql) const
{
    if (lot == 1) return SamplingPlan{1, 1, 0, 1};
    for (const Row& row : rows_)
        if (row.level == level && std::abs(row.aql - aql) < 1e-9 && lot >= row.from && lot <= row.to)
            return SamplingPlan{lot, row.size == 0 ? lot : std::min(lot, row.size), row.accept, row.reject};
    std::string known;
    for (const Row& row : rows_)
        if (const auto one = fmt::format("{} {:g}", row.level, row.aql); known.find(one) == std::string::npos)
            known += (known.empty() ? "" : ", ") + one;
    return failure(Error::Code::LimitsUnknown,
                   fmt::format("No sampling plan is shipped for a lot of {} at level {} and AQL {:g}; there are: {}.", lot, level, aql, known));
}

std::vector<double> SamplingTable::qualityLimits(const std::string& level) const
{
    std::vector<double> out;
    for (const Row& row : rows_)
        if (row.level == level) out.push_back(row.aql);
    std::sort(out.begin(), out.end());
    out.erase(std::unique(out.begin(), out.end()), out.end());
    return out;
}

double acceptedWith(const SamplingPlan& plan, int bad)
{
    const int good = plan.lot - bad;
    if (bad <= 0) return 1;
    if (good < 0) return 0;
    const auto choose = [](int n, int k) { return std::lgamma(n + 1.0) - std::lgamma(k + 1.0) - std::lgamma(n - k + 1.0); };
    double out = 0;
    for (int seen = std::max(0, plan.size - good); seen <= std::min({plan.accept, bad, plan.size}); ++seen)
        out += std::exp(choose(bad, seen) + choose(good, plan.size - seen) - choose(plan.lot, plan.size));
    return std::clamp(out, 0.0, 1.0);
}

std::vector<int> draw(const SamplingPlan& plan, std::uint32_t seed)
{
    std::vector<int> fibres(static_cast<std::size_t>(std::max(0, plan.lot)));
    std::iota(fibres.begin(), fibres.end(), 1);
    std::mt19937 random(seed);
    const auto size = static_cast<std::size_t>(std::clamp(plan.size, 0, plan.lot));
    // not std::shuffle nor a distribution of the library, which may differ from one to the next; what would favour some is drawn again
    for (std::size_t i = 0; i < size; ++i) {
        const auto left = static_cast<std::uint32_t>(fibres.size() - i);
        const auto most = static_cast<std::uint32_t>(std::mt19937::max()), fair = most - most % left;
        std::uint32_t value = 0;
        do value = static_cast<std::uint32_t>(random());
        while (value >= fair);
        std::swap(fibres[i], fibres[i + value % left]);
    }
    fibres.resize(size);
    std::sort(fibres.begin(), fibres.end());
    return fibres;
}

}  // namespace clendo::reel
