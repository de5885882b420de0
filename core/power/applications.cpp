#include "power/applications.h"

#include <fmt/format.h>

#include "files/json_reading.h"

namespace clendo {
namespace {

using nlohmann::json;

ApplicationChannel readChannel(const json& value, const std::string& fibre, const std::string& where, std::optional<std::string>& problem)
{
    JsonReading in(value, where);
    ApplicationChannel out;
    out.length = Metre(in.number("length_m", 0, 1e6));
    out.loss = Decibel(in.number("loss_db", 0, 100));
    if (const auto least = in.numberOrNothing("least_loss_db", 0, 100)) out.leastLoss = Decibel(*least);
    if (const auto reflectance = in.numberOrNothing("reflectance_db", -100, 0)) out.reflectance = Decibel(*reflectance);
    if (in.find("wavelengths_nm"))
        for (const auto& nm : in.list("wavelengths_nm")) {
            if (!nm.is_number()) in.complain("“wavelengths_nm” must be numbers");
            out.wavelengths.emplace_back(nm.is_number() ? nm.get<double>() : 0);
        }
    else  // a file that a job kept from an earlier version
        out.wavelengths.emplace_back(fibre.starts_with("OM") ? 850 : 1310);
    if (!problem) problem = in.problem();
    return out;
}

}  // namespace

const ApplicationChannel* Application::on(std::string_view fibre) const
{
    auto it = channels.find(std::string(fibre));
    if (it == channels.end() && !fibre.starts_with("OM")) it = channels.find("OS2");
    return it == channels.end() ? nullptr : &it->second;
}

Result<std::vector<Application>> loadApplications(const RuleFiles& rules)
{
    const auto text = rules.shipped("limits/applications.json");
    if (!text) return tl::unexpected(text.error());
    const json file = json::parse(*text, nullptr, false);
    std::optional<std::string> problem;
    std::vector<Application> out;
    if (!file.is_object() || !file.contains("applications") || !file["applications"].is_array()) problem = "it holds no list";
    if (!problem)
        for (const auto& entry : file["applications"]) {
            JsonReading in(entry, fmt::format("application {}", out.size() + 1));
            Application one{in.text("name"), in.textOr("confidence", "M"), {}};
            const json* channels = in.find("channels");
            if (!channels || !channels->is_object())
                in.complain("“channels” must hold fibres");
            else
                for (const auto& [fibre, channel] : channels->items())
                    one.channels[fibre] = readChannel(channel, fibre, fmt::format("{} on {}", one.name, fibre), problem);
            if (!problem) problem = in.problem();
            out.push_back(std::move(one));
        }
    if (problem) return failure(Error::Code::LimitsUnknown, fmt::format("The list of applications is damaged: {}. Install Clendo again.", *problem));
    return out;
}

}  // namespace clendo
