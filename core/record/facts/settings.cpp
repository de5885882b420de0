#include "record/facts/settings.h"

#include "record/state/state.h"

namespace clendo {
namespace {

constexpr std::size_t longestShown = 60;

std::string shown(const nlohmann::json& value)
{
    if (value.is_null()) return "as by default";
    const std::string text = value.is_string() ? value.get<std::string>() : value.dump(-1, ' ', false, nlohmann::json::error_handler_t::replace);
    return text.size() > longestShown ? "a long text" : text;
}

}  // namespace

nlohmann::json SettingSet::body() const { return {{"key", key}, {"value", nlohmann::json::parse(value, nullptr, false)}}; }

SettingSet SettingSet::read(FactReading& in)
{
    SettingSet f{in.text("key"), "null"};
    const auto document = in.document();
    if (document.is_object() && document.contains("value")) f.value = document["value"].dump();
    return f;
}

std::string SettingSet::sentence(const JobState&) const
{
    return fmt::format("Setting: {}: {}", settingWords(key), shown(nlohmann::json::parse(value, nullptr, false)));
}

void SettingSet::plan(JobPlan& plan) const
{
    if (!applySetting(plan.job, key, nlohmann::json::parse(value, nullptr, false)))
        plan.troubles.push_back(fmt::format("The setting “{}” is not one that this version knows; it is kept and changes nothing.", key));
}

}  // namespace clendo
