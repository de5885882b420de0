#include "otdr/sor_reader.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>

#include "otdr/byte_reader.h"
#include "otdr/checksum.h"
#include "otdr/settings_check.h"

namespace clendo::otdr {
namespace {

constexpr double t100 = 1e-10;  // s per unit of time
constexpr std::size_t mostBlocks = 1000;
constexpr std::uint16_t noLight = 65535;

struct Block {
    std::size_t at = 0;     // of the body, behind the name in version 2
    std::size_t size = 0;   // of the body
    std::size_t begin = 0;  // of the whole block
};
using Blocks = std::map<std::string, Block, std::less<>>;

/// UTF-8 stays, everything else is taken for Latin-1; control characters become spaces.
std::string readable(std::string_view raw)
{
    raw = raw.substr(0, 4096);
    bool utf8 = true;
    for (std::size_t i = 0; i < raw.size() && utf8;) {
        const auto c = static_cast<unsigned char>(raw[i]);
        const std::size_t more = c < 0x80 ? 0 : (c >> 5U) == 6 ? 1 : (c >> 4U) == 14 ? 2 : (c >> 3U) == 30 ? 3 : 99;
        utf8 = more != 99 && i + more < raw.size();
        for (std::size_t k = 1; utf8 && k <= more; ++k) utf8 = (static_cast<unsigned char>(raw[i + k]) >> 6U) == 2;
        i += more + 1;
    }
    std::string out;
    for (const char c : raw) {
        const auto byte = static_cast<unsigned char>(c);
        if (byte < 0x20 || byte == 0x7F)
            out += ' ';
        else if (utf8 || byte < 0x80)
            out += c;
        else {
            out += static_cast<char>(0xC0U | byte >> 6U);
            out += static_cast<char>(0x80U | (byte & 0x3FU));
        }
    }
    return out;
}

class SorReader {
public:
    SorReader(std::string_view bytes, std::string_view name) : bytes_(bytes), name_(name) {}

    Result<Trace> read()
    {
        if (bytes_.starts_with(std::string_view("Map\0", 4)))
            trace_.version = 2;
        else if (bytes_.size() >= 12 && believableVersion1())
            trace_.version = 1;
        else
            return failure(Error::Code::NotATrace,
                           fmt::format("“{}” is not an OTDR file (SR-4731, *.sor). Save the trace in that format at the instrument.", name_));
        if (!readMap())
            return failure(Error::Code::TraceDamaged,
                           fmt::format("“{}” ends inside its table of contents. Copy it from the instrument again.", name_));
        if (!blocks_.contains("FxdParams"))
            return failure(Error::Code::TraceDamaged,
                           fmt::format("“{}” holds no settings of the shot (FxdParams): distances cannot be known.", name_));
        if (!blocks_.contains("DataPts")) return failure(Error::Code::TraceDamaged, fmt::format("“{}” holds no trace (DataPts).", name_));
        readGeneral();
        readSupplier();
        if (const auto error = readFixed()) return tl::unexpected(*error);
        if (const auto error = readData()) return tl::unexpected(*error);
        checkSettings(trace_, Metre(range_ * t100 * speedOfLight / trace_.groupIndex));
        readEvents();
        readChecksum();
        return std::move(trace_);
    }

private:
    [[nodiscard]] bool believableVersion1() const
    {
        ByteReader in(bytes_);
        const auto revision = in.u16();
        const auto size = in.u32();
        return revision >= 90 && revision <= 199 && size >= 12 && size < 100000;
    }

    bool readMap()
    {
        ByteReader in(bytes_);
        if (trace_.version == 2) in.skip(4);
        in.skip(2);
        const std::size_t mapSize = in.u32();
        const std::size_t count = in.u16();
        if (!in.ok()) return false;
        std::size_t at = mapSize;
        if (mapSize > bytes_.size() || mapSize < in.at()) {
            trace_.oddities.emplace_back("The table of contents states a size that cannot be.");
            at = 0;
        }
        struct Entry {
            std::string name;
            std::size_t size;
        };
        std::vector<Entry> entries;
        for (std::size_t i = 1; i < std::min(count, mostBlocks); ++i) {
            const auto name = in.text();
            in.skip(2);
            const std::size_t size = in.u32();
            if (!in.ok()) break;
            entries.push_back({std::string(name), size});
        }
        if (entries.empty()) return false;
        if (at == 0) at = in.at();
        for (const auto& entry : entries) {
            placeBlock(entry.name, at, entry.size);
            if (at > bytes_.size() || entry.size > bytes_.size() - std::min(at, bytes_.size()))
                at = bytes_.size() + 1;
            else
                at += entry.size;
        }
        recoverByName();
        return true;
    }

    void placeBlock(const std::string& name, std::size_t at, std::size_t size)
    {
        if (at >= bytes_.size() || blocks_.contains(name)) return;
        const std::size_t named = trace_.version == 2 ? name.size() + 1 : 0;
        if (trace_.version == 2 && (bytes_.substr(at, name.size()) != name || at + named > bytes_.size() || bytes_[at + name.size()] != '\0')) return;
        const std::size_t available = bytes_.size() - at;
        if (size > available) trace_.oddities.push_back(fmt::format("The file ends inside its block {}.", name));
        blocks_[name] = {at + named, std::min(std::max(size, named), available) - named, at};
    }

    /// Last resort for sizes that do not fit: version 2 blocks carry their names.
    void recoverByName()
    {
        if (trace_.version != 2) return;
        for (const std::string name : {"GenParams", "SupParams", "FxdParams", "KeyEvents", "DataPts", "Cksum"}) {
            if (blocks_.contains(name)) continue;
            const std::string key = name + '\0';
            // the map names the block first; its body comes behind the map
            auto at = bytes_.find(key);
            if (at != std::string_view::npos) at = bytes_.find(key, at + 1);
            if (at == std::string_view::npos) continue;
            blocks_[name] = {at + key.size(), bytes_.size() - at - key.size(), at};
            trace_.oddities.push_back(fmt::format("The block {} was not where the table of contents says; it was found by its name.", name));
        }
    }

    [[nodiscard]] ByteReader body(std::string_view name) const
    {
        const auto it = blocks_.find(name);
        return ByteReader(it == blocks_.end() ? std::string_view{} : bytes_.substr(it->second.at, it->second.size));
    }

    void readGeneral()
    {
        if (!blocks_.contains("GenParams")) return;
        ByteReader in = body("GenParams");
        in.skip(2);
        trace_.cable = readable(in.text());
        trace_.fibre = readable(in.text());
        if (trace_.version == 2) in.skip(2);
        const auto nm = in.i16();
        if (in.ok() && nm > 0) nominal_ = nm;
        trace_.locationA = readable(in.text());
        trace_.locationB = readable(in.text());
        in.text();
        in.skip(2);
        const auto offset = in.i32();
        if (in.ok()) userOffset_ = offset;
        if (trace_.version == 2) in.skip(4);
        trace_.operatorName = readable(in.text());
        trace_.comment = readable(in.text());
    }

    void readSupplier()
    {
        ByteReader in = body("SupParams");
        in.text();
        trace_.instrument = readable(in.text());
        trace_.serial = readable(in.text());
    }

    std::optional<Error> readFixed()
    {
        const auto cut = [&] {
            return Error{
                Error::Code::TraceDamaged, fmt::format("“{}” ends inside the settings of the shot. Copy it from the instrument again.", name_), {}};
        };
        ByteReader in = body("FxdParams");
        trace_.takenAt = in.u32();
        in.skip(2);
        const double actual = in.u16() / 10.0;
        acquisitionOffset_ = in.i32();
        if (trace_.version == 2) in.skip(4);
        const std::size_t pulses = in.u16();
        if (!in.ok()) return cut();
        if (pulses == 0 || pulses * 10 > in.left())
            return Error{Error::Code::TraceDamaged, fmt::format("“{}” names {} pulse widths, which cannot be.", name_, pulses), {}};
        for (std::size_t i = 0; i < pulses; ++i) pulses_.push_back({double(in.u16()), 0, 0});
        for (auto& p : pulses_) p.spacing = in.u32();
        for (auto& p : pulses_) p.points = in.u32();
        const double index = in.u32() / 100000.0;
        const double backscatter = in.u16() / 10.0;
        trace_.averages = in.u32();
        if (trace_.version == 2) in.skip(2);
        const double range = range_ = in.u32();
        if (trace_.version == 2) in.skip(4);
        if (!in.ok()) return cut();
        frontPanel_ = in.ok() ? in.i32() : 0;
        if (!in.ok()) frontPanel_ = 0;
        trace_.wavelength = Nanometre(nominal_ ? *nominal_ : actual);
        if (std::any_of(pulses_.begin(), pulses_.end(), [](const PulseEntry& p) { return p.points > 0; }))
            std::erase_if(pulses_, [](const PulseEntry& p) { return p.points == 0; });  // it was not used
        trace_.pulse = Nanosecond(pulses_[0].width);
        if (pulses_.size() > 1)
            trace_.oddities.push_back(fmt::format("The file holds {} pulses one after the other; {:.0f} ns is that of its first points.",
                                                  pulses_.size(), pulses_[0].width));
        trace_.groupIndex = index;
        trace_.backscatter = Decibel(-backscatter);
        if (!(index >= 1 && index <= 2))
            return Error{Error::Code::TraceImpossible,
                         fmt::format("“{}” states a group index of {:.5f}; between 1 and 2 is possible. Set it at the instrument and save again.",
                                     name_, index),
                         {}};
        for (const auto& p : pulses_)
            if (p.spacing == 0 && p.points > 1)
                return Error{Error::Code::TraceImpossible,
                             fmt::format("“{}” states a spacing of 0 between its points: distances cannot be known.", name_),
                             {}};
        // absurd offsets would throw every distance off: take the front panel for zero
        const double believable = std::max(range, 1e5);
        for (double* offset : {&acquisitionOffset_, &frontPanel_, &userOffset_})
            if (std::abs(*offset) > believable) {
                trace_.oddities.emplace_back("An offset of the distance axis cannot be right and was taken as 0.");
                *offset = 0;
            }
        return std::nullopt;
    }

    std::optional<Error> readData()
    {
        ByteReader in = body("DataPts");
        const std::size_t total = in.u32();
        const int segments = in.i16();
        for (int s = 0; s < segments && in.left() >= 6; ++s) {
            const std::size_t stated = in.u32();
            double factor = in.u16() / 1000.0;
            if (factor <= 0) {
                trace_.oddities.emplace_back("The file states a scale of 0 for its levels; 1 was taken.");
                factor = 1;
            }
            const std::size_t n = std::min(stated, in.left() / 2);
            trace_.level.reserve(trace_.level.size() + n);
            for (std::size_t i = 0; i < n; ++i) {
                const auto raw = in.u16();
                trace_.level.push_back(static_cast<float>(-0.001 * raw * factor));
                trace_.dark.push_back(raw == noLight);
            }
            if (n < stated) {
                trace_.oddities.push_back(
                    fmt::format("The file ends inside its data block; {} of {} points could be read. Copy it from the instrument again.",
                                trace_.level.size(), std::max(total, stated)));
                break;
            }
        }
        if (trace_.level.empty()) return Error{Error::Code::TraceDamaged, fmt::format("“{}” holds no points.", name_), {}};
        std::size_t entry = 0, inEntry = 0;
        double time = (acquisitionOffset_ - frontPanel_) * t100;
        const double metresPerSecond = speedOfLight / trace_.groupIndex;
        trace_.distance.reserve(trace_.level.size());
        for (std::size_t i = 0; i < trace_.level.size(); ++i) {
            trace_.distance.push_back(static_cast<float>(time * metresPerSecond));
            time += pulses_[entry].spacing * 1e-14;
            if (++inEntry >= pulses_[entry].points && entry + 1 < pulses_.size()) {
                ++entry;
                inEntry = 0;
            }
        }
        return std::nullopt;
    }

    void readEvents()
    {
        ByteReader in = body("KeyEvents");
        const int count = in.i16();
        const std::size_t least = trace_.version == 2 ? 43 : 23;
        if (!in.ok() || count <= 0) return;
        if (static_cast<std::size_t>(count) * least > in.left()) {
            trace_.oddities.emplace_back("The stored events cannot be read; they were found anew.");
            return;
        }
        for (int i = 0; i < count; ++i) {
            StoredEvent e;
            e.number = in.i16();
            e.at = Metre((in.i32() + userOffset_ - 0.0) * t100 * speedOfLight / trace_.groupIndex);
            e.leadIn = DecibelPerKilometre(in.i16() / 1000.0);
            e.loss = Decibel(in.i16() / 1000.0);
            const auto reflectance = in.i32();
            if (reflectance != 0) e.reflectance = Decibel(reflectance / 1000.0);
            e.code = readable(in.fixed(6));
            in.skip(2);
            if (trace_.version == 2) in.skip(20);
            in.text();
            if (!in.ok()) {
                trace_.oddities.emplace_back("The stored events end in the middle.");
                return;
            }
            trace_.stored.push_back(std::move(e));
        }
    }

    void readChecksum()
    {
        const auto it = blocks_.find("Cksum");
        if (it == blocks_.end() || it->second.size < 2) return;
        ByteReader in = body("Cksum");
        const auto value = in.u16();
        trace_.checksumOk = checksumMatches(value, bytes_.substr(0, it->second.at), bytes_.substr(0, it->second.begin));
        if (!*trace_.checksumOk) trace_.oddities.emplace_back("The checksum does not fit: the file was changed or damaged after it was saved.");
    }

    struct PulseEntry {
        double width;
        double spacing;  // 1e-14 s one-way
        std::size_t points;
    };

    std::string_view bytes_, name_;
    Trace trace_;
    Blocks blocks_;
    std::vector<PulseEntry> pulses_;
    std::optional<int> nominal_;
    double range_ = 0;  ///< as stated, in units of time
    double acquisitionOffset_ = 0, frontPanel_ = 0, userOffset_ = 0;
};

}  // namespace

Metre Trace::spacing() const { return distance.size() < 2 ? Metre(0) : Metre(double(distance[1]) - double(distance[0])); }
Metre Trace::pulseLength() const { return Metre(speedOfLight * pulse.value() * 1e-9 / (2 * groupIndex)); }

Result<Trace> readSor(std::string_view bytes, std::string_view name)
{
    if (bytes.empty()) return failure(Error::Code::NotATrace, fmt::format("“{}” is empty. Copy it from the instrument again.", name));
    return SorReader(bytes, name).read();
}

}  // namespace clendo::otdr
