#include "face/expected_reflectance.h"

#include <algorithm>
#include <cmath>

#include "files/files.h"
#include "files/json_reading.h"

namespace clendo::face {
namespace {

/// A small round thing may be a pit or dirt: a picture does not tell, so it may.
bool mayStandProud(const Finding& f) { return f.appearance != Appearance::Scratch && f.appearance != Appearance::Crack; }

double power(Decibel d) { return std::pow(10, d.value() / 10); }
Decibel decibel(double share) { return Decibel(10 * std::log10(share)); }

}  // namespace

Result<PolishReflectance> loadPolishReflectance(std::string_view className, const RuleFiles& rules)
{
    const auto text = rules.shipped("fibres/polish.json");
    if (!text) return tl::unexpected(text.error());
    const auto file = nlohmann::json::parse(*text, nullptr, false);
    const std::string key(className);
    if (!file.is_object() || !file.contains("classes") || !file["classes"].is_object() || !file["classes"].contains(key))
        return failure(Error::Code::LimitsUnknown, "data/fibres/polish.json says nothing of “" + key + "”: no reflectance can be expected.");
    JsonReading in(file["classes"][key], key);
    PolishReflectance out;
    out.inContact = Decibel(in.number("in_contact_db", -120, 0));
    out.coreIndex = in.number("core_index", 1.3, 2);
    out.tiltLoss = Decibel(in.number("tilt_loss_db", 0, 120));
    out.contactRadius = Micrometre(in.number("contact_radius_um", 1, 1250));
    if (in.problem()) return failure(Error::Code::LimitsUnknown, "data/fibres/polish.json cannot be used: " + *in.problem() + ".");
    return out;
}

ExpectedReflectance expectedReflectance(const std::vector<Finding>& findings, double blockedShare, const PolishReflectance& polish)
{
    const double r = (polish.coreIndex - 1) / (polish.coreIndex + 1), kept = power(-polish.tiltLoss);
    const double contact = power(polish.inContact), surface = kept * r * r, gap = kept * 4 * r * r / ((1 + r * r) * (1 + r * r));
    ExpectedReflectance out;
    out.gapPossible =
        std::any_of(findings.begin(), findings.end(), [&](const Finding& f) { return mayStandProud(f) && f.nearest < polish.contactRadius; });
    out.least = polish.inContact;
    out.most = decibel(std::max(contact, out.gapPossible ? gap : contact + std::clamp(blockedShare, 0.0, 1.0) * surface));
    return out;
}

}  // namespace clendo::face
