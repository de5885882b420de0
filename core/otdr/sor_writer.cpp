#include "otdr/sor_writer.h"

#include <algorithm>
#include <cmath>
#include <utility>
#include <vector>

#include "otdr/checksum.h"

namespace clendo::otdr {
namespace {

class Bytes {
public:
    // what a field cannot hold becomes the nearest that it can
    Bytes& u16(double value) { return number(within(value, 0, 65535), 2); }
    Bytes& u32(double value) { return number(within(value, 0, 4294967295.0), 4); }
    Bytes& i32(double value) { return number(within(value, -2147483648.0, 2147483647.0), 4); }
    Bytes& raw(std::string_view text) { return bytes_ += text, *this; }
    Bytes& text(std::string_view t) { return bytes_.append(t.substr(0, t.find('\0'))), bytes_ += '\0', *this; }
    Bytes& zeros(std::size_t n) { return bytes_.append(n, '\0'), *this; }
    [[nodiscard]] const std::string& get() const { return bytes_; }

private:
    static std::uint64_t within(double value, double least, double most)
    {
        return static_cast<std::uint64_t>(std::llround(std::clamp(std::isfinite(value) ? value : 0, least, most)));
    }
    Bytes& number(std::uint64_t value, int n)
    {
        for (int i = 0; i < n; ++i) bytes_ += static_cast<char>(value >> (8 * i) & 0xFFU);
        return *this;
    }
    std::string bytes_;
};

}  // namespace

std::string writeSor(const Trace& t)
{
    const bool second = t.version != 1;  // version 2 names its blocks and has some fields more
    const double index = t.groupIndex, spacing = t.spacing().value() * index / speedOfLight * 1e14, revision = second ? 200 : 100;
    const double first = t.distance.empty() ? 0 : double(t.distance.front()) * index / speedOfLight * 1e10, points = double(t.level.size());
    Bytes general, supplier, fixed, events, data;
    general.raw("EN").text(t.cable).text(t.fibre);
    if (second) general.u16(652);
    general.u16(t.wavelength.value())
        .text(t.locationA)
        .text(t.locationB)
        .text("")
        .raw("BC")
        .zeros(second ? 8 : 4)
        .text(t.operatorName)
        .text(t.comment);
    supplier.text("").text(t.instrument).text(t.serial).text("").text("").text("").text("");
    fixed.u32(double(t.takenAt)).raw("mt").u16(t.wavelength.value() * 10).i32(std::round(first));
    if (second) fixed.zeros(4);
    fixed.u16(1).u16(t.pulse.value()).u32(spacing).u32(points).u32(index * 100000).u16(-t.backscatter.value() * 10).u32(t.averages);
    if (second) fixed.u16(300);
    fixed.u32(spacing * 1e-4 * points);
    if (second) fixed.zeros(4);
    fixed.i32(0).u16(50000).u16(1000).u16(0).u16(50).u16(65000).u16(5000);
    if (second) fixed.raw("ST").zeros(16);
    events.u16(0).zeros(22);
    data.u32(points).u16(1).u32(points).u16(1000);
    for (std::size_t i = 0; i < t.level.size(); ++i) data.u16(t.dark[i] ? 65535 : std::clamp(-1000.0 * double(t.level[i]), 0.0, 65534.0));
    const std::vector<std::pair<std::string, std::string>> blocks{{"GenParams", general.get()}, {"SupParams", supplier.get()},
                                                                  {"FxdParams", fixed.get()},   {"KeyEvents", events.get()},
                                                                  {"DataPts", data.get()},      {"Cksum", std::string(2, '\0')}};
    Bytes entries;
    for (const auto& [name, body] : blocks) entries.text(name).u16(revision).u32(double((second ? name.size() + 1 : 0) + body.size()));
    Bytes out;
    if (second) out.text("Map");
    out.u16(revision).u32(double((second ? 12 : 8) + entries.get().size())).u16(double(blocks.size() + 1)).raw(entries.get());
    for (const auto& [name, body] : blocks) {
        if (second) out.text(name);
        if (name != "Cksum") out.raw(body);
    }
    out.u16(checksum(out.get(), writtenChecksum));
    return out.get();
}

}  // namespace clendo::otdr
