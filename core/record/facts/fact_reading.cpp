#include "record/facts/fact_reading.h"

namespace clendo {

std::vector<std::string> FactReading::texts(std::string_view key)
{
    std::vector<std::string> out;
    for (const auto item : list(key))
        if (item.is_string())
            out.push_back(item.get<std::string>());
        else
            complain(fmt::format("“{}” must be a list of texts", key));
    return out;
}

Connection FactReading::connection()
{
    const auto found = Connection::parse(text("end"));
    if (!found) complain("“end” must be A, B, the number of a panel in between, A-device or B-device");
    return found.value_or(Connection());
}

FaceId FactReading::face(std::string_view key)
{
    auto id = FaceId::parse(text(key));
    if (!id) complain(fmt::format("“{}” must look like VP-04/7/A/port", key));
    return id.value_or(FaceId{});
}

ReferenceMethod FactReading::method()
{
    const auto m = referenceMethodNamed(text("method"));
    if (!m) complain("unknown reference method");
    return m.value_or(ReferenceMethod::OneCord);
}

Direction FactReading::direction()
{
    const auto d = directionNamed(text("direction"));
    if (!d) complain("“direction” must be ab or ba");
    return d.value_or(Direction::AtoB);
}

Digest FactReading::entry(std::string_view key)
{
    const auto hash = Digest::parse(text(key));
    if (!hash) complain(fmt::format("“{}” must be the hash of an entry", key));
    return hash.value_or(Digest{});
}

Digest FactReading::entryOrNone(std::string_view key)
{
    const auto found = find(key);
    return !found || found->is_null() ? Digest{} : entry(key);
}

}  // namespace clendo
