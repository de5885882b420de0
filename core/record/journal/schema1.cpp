#include "record/journal/schema1.h"

#include <algorithm>
#include <map>
#include <nlohmann/json.hpp>

#include "files/canonical_json.h"
#include "record/facts/facts.h"
#include "record/journal/chain.h"
#include "record/journal/hybrid_clock.h"

namespace clendo {
namespace {

using nlohmann::json;

constexpr const char* carriedDevice = "schema-1";

class CarryOver {
public:
    Result<void> add(const Schema1Row& row)
    {
        row_ = &row;
        if (row.at < 0 || row.at > latestTime / 1'000'000) return bad();
        json body = json::parse(row.body, nullptr, false);
        if (!body.is_object()) return bad();
        if (row.kind == "job_set") return settings(body);
        if (row.kind == "corrected") return correction(body);
        if (row.kind == "finding_overruled") {
            const auto look = targets(body, "look");
            if (look.empty()) return bad();
            body["look"] = look.front().hex();
        }
        if (row.kind == "power_read") {
            const auto reference = references_.find(wayOf(body));
            body["reference"] = reference == references_.end() ? json(nullptr) : json(reference->second.hex());
        }
        if (row.kind == "reference_voided") std::erase_if(references_, [&](const auto& r) { return r.first.first == wayOf(body).first; });
        file(row.kind, body);
        if (row.kind == "reference_set") references_[wayOf(body)] = out.back().hash;
        return {};
    }

    std::vector<EntryRecord> out;

private:
    [[nodiscard]] tl::unexpected<Error> bad() const
    {
        return failure(Error::Code::JobDamaged, fmt::format("Entry {} of the job ({}) cannot be carried over.", row_->id, row_->kind));
    }

    void file(const std::string& kind, const json& body)
    {
        EntryRecord e;
        e.act = fmt::format("{}/{}", carriedDevice, row_->id);
        e.happened = row_->at * 1'000'000;
        e.filed = clock_.next(e.happened);
        e.who = row_->who;
        e.device = carriedDevice;
        e.sequence = static_cast<std::int64_t>(out.size()) + 1;
        e.previous = out.empty() ? Digest{} : out.back().hash;
        e.kind = kind;
        e.body = canonicalJson(body);
        e.hash = hashOf(e);
        entries_[row_->id].push_back(e.hash);
        out.push_back(std::move(e));
    }

    /// One entry for each setting that differs from what was there before; of the first all.
    Result<void> settings(const json& body)
    {
        JobSettings now;
        for (const char* key : {"name", "edition", "limits", "method", "wavelengths_nm", "attempts", "launch_m", "tail_m"})
            if (!body.contains(key) || !applySetting(now, key, body[key])) return bad();
        if (body.contains("stop_at_first_bad") && !applySetting(now, "stop_at_first_bad", body["stop_at_first_bad"])) return bad();
        if (body.contains("policies") && body["policies"].is_object())
            for (const auto& [key, answer] : body["policies"].items()) (void)applySetting(now, "policy." + key, answer);
        for (const auto& s : set_ ? settingsChanged(*set_, now) : settingsOf(now)) file("setting_set", {{"key", s.key}, {"value", s.value}});
        set_ = std::move(now);
        return {};
    }

    Result<void> correction(const json& body)
    {
        const auto corrected = targets(body, "entry");
        if (corrected.empty() || !body.contains("reason")) return bad();
        for (const auto& hash : corrected) file("corrected", {{"entry", hash.hex()}, {"reason", body["reason"]}});
        return {};
    }

    /// What became of the entry whose number stands there.
    [[nodiscard]] std::vector<Digest> targets(const json& body, const char* key) const
    {
        const auto number = body.find(key);
        if (number == body.end() || !number->is_number_integer()) return {};
        const auto found = entries_.find(number->get<std::int64_t>());
        return found == entries_.end() ? std::vector<Digest>() : found->second;
    }

    static std::pair<std::string, double> wayOf(const json& body)
    {
        const auto direction = body.find("direction"), nm = body.find("wavelength_nm");
        return {direction != body.end() && direction->is_string() ? direction->get<std::string>() : std::string(),
                nm != body.end() && nm->is_number() ? nm->get<double>() : 0.0};
    }

    const Schema1Row* row_ = nullptr;
    HybridClock clock_;
    std::map<std::int64_t, std::vector<Digest>> entries_;  ///< by number
    std::map<std::pair<std::string, double>, Digest> references_;
    std::optional<JobSettings> set_;
};

}  // namespace

CarriedOver carriedOver(std::span<const Schema1Row> rows)
{
    CarryOver carry;
    for (const auto& row : rows)
        if (auto ok = carry.add(row); !ok) return {std::move(carry.out), std::move(ok.error())};
    return {std::move(carry.out), std::nullopt};
}

}  // namespace clendo
