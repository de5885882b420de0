#include "record/state/job_settings.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace clendo {
namespace {

using nlohmann::json;

constexpr std::string_view policyPrefix = "policy.";

bool setText(std::string& into, const json& value)
{
    if (!value.is_string()) return false;
    into = value.get<std::string>();
    return true;
}

bool setMetres(Metre& into, const json& value)
{
    if (!value.is_number() || !(value.get<double>() >= 0 && value.get<double>() <= 1e5)) return false;
    into = Metre(value.get<double>());
    return true;
}

bool setMethod(JobSettings& job, const json& value)
{
    const auto method = value.is_string() ? referenceMethodNamed(value.get<std::string>()) : std::nullopt;
    if (method) job.method = *method;
    return method.has_value();
}

bool setWavelengths(JobSettings& job, const json& value)
{
    const auto possible = [](const json& nm) { return nm.is_number_integer() && nm.get<double>() > 400 && nm.get<double>() < 2000; };
    if (!value.is_array() || value.size() > 20 || !std::all_of(value.begin(), value.end(), possible)) return false;
    job.wavelengths = value.get<std::vector<int>>();
    return true;
}

bool setAlsoLimits(JobSettings& job, const json& value)
{
    constexpr std::size_t most = 8;
    if (!value.is_array() || value.size() > most) return false;
    std::vector<std::string> names(value.size());
    for (std::size_t i = 0; i < names.size(); ++i)
        if (!setText(names[i], value[i])) return false;
    job.alsoLimits = std::move(names);
    return true;
}

bool setAttempts(JobSettings& job, const json& value)
{
    if (!value.is_number_integer() || value.get<double>() < 1 || value.get<double>() > 100) return false;
    job.attempts = value.get<int>();
    return true;
}

bool setStop(JobSettings& job, const json& value)
{
    if (!value.is_boolean()) return false;
    job.stopAtFirstBad = value.get<bool>();
    return true;
}

struct Row {
    std::string_view key, words;
    json (*get)(const JobSettings&);
    bool (*set)(JobSettings&, const json&);
    bool saidOnlyWhereThere = false;  ///< as policies: without it nothing is written
};
constexpr std::array<Row, 10> rows{
    {{"name", "name of the job", [](const JobSettings& j) -> json { return j.name; },
      [](JobSettings& j, const json& v) { return setText(j.name, v); }},
     {"edition", "criteria", [](const JobSettings& j) -> json { return j.edition; },
      [](JobSettings& j, const json& v) { return setText(j.edition, v); }},
     {"limits", "limits", [](const JobSettings& j) -> json { return j.limits; }, [](JobSettings& j, const json& v) { return setText(j.limits, v); }},
     {"also_limits", "limits that a certificate names as well", [](const JobSettings& j) -> json { return j.alsoLimits; }, setAlsoLimits, true},
     {"method", "reference method", [](const JobSettings& j) -> json { return name(j.method); }, setMethod},
     {"wavelengths_nm", "wavelengths", [](const JobSettings& j) -> json { return j.wavelengths; }, setWavelengths},
     {"attempts", "cleanings before somebody decides", [](const JobSettings& j) -> json { return j.attempts; }, setAttempts},
     {"stop_at_first_bad", "ferrules: stop at the first bad fibre", [](const JobSettings& j) -> json { return j.stopAtFirstBad; }, setStop},
     {"launch_m", "launch cord", [](const JobSettings& j) -> json { return j.launchCord.value(); },
      [](JobSettings& j, const json& v) { return setMetres(j.launchCord, v); }},
     {"tail_m", "tail cord", [](const JobSettings& j) -> json { return j.tailCord.value(); },
      [](JobSettings& j, const json& v) { return setMetres(j.tailCord, v); }}}};

}  // namespace

std::vector<Setting> settingsOf(const JobSettings& job)
{
    std::vector<Setting> out;
    for (const auto& row : rows)
        if (const json value = row.get(job); !row.saidOnlyWhereThere || !value.empty()) out.push_back({std::string(row.key), value});
    for (const auto& [key, answer] : job.policies) out.push_back({std::string(policyPrefix) + key, answer});
    return out;
}

std::vector<Setting> settingsChanged(const JobSettings& before, const JobSettings& after)
{
    std::vector<Setting> out;
    for (const auto& row : rows)
        if (row.get(before) != row.get(after)) out.push_back({std::string(row.key), row.get(after)});
    for (const auto& [key, answer] : after.policies)
        if (const auto old = before.policies.find(key); old == before.policies.end() || old->second != answer)
            out.push_back({std::string(policyPrefix) + key, answer});
    for (const auto& [key, answer] : before.policies)
        if (!after.policies.contains(key)) out.push_back({std::string(policyPrefix) + key, nullptr});
    return out;
}

bool applySetting(JobSettings& job, std::string_view key, const json& value)
{
    if (key.starts_with(policyPrefix)) {
        const std::string policy(key.substr(policyPrefix.size()));
        if (value.is_null())
            job.policies.erase(policy);
        else if (value.is_string() && (job.policies.size() < 100 || job.policies.contains(policy)))
            job.policies.insert_or_assign(policy, value.get<std::string>());
        else
            return false;
        return true;
    }
    const auto row = std::find_if(rows.begin(), rows.end(), [&](const Row& r) { return r.key == key; });
    return row != rows.end() && row->set(job, value);
}

std::string settingWords(std::string_view key)
{
    if (key.starts_with(policyPrefix)) {
        for (const auto& row : policyRows())
            if (row.key == key.substr(policyPrefix.size())) return row.question;
    }
    const auto row = std::find_if(rows.begin(), rows.end(), [&](const Row& r) { return r.key == key; });
    return std::string(row == rows.end() ? key : row->words);
}

}  // namespace clendo
