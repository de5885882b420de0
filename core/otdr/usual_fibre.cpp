#include "otdr/usual_fibre.h"

#include <array>

namespace clendo::otdr {

UsualFibre usualFibre(Nanometre wavelength)
{
    struct Row {
        double below;  ///< nm
        UsualFibre fibre;
    };
    static constexpr std::array<Row, 6> rows{{{1000, {DecibelPerKilometre(2.5), Decibel(-66.3)}},
                                              {1305, {DecibelPerKilometre(0.65), Decibel(-73.7)}},
                                              {1450, {DecibelPerKilometre(0.34), Decibel(-79.5)}},
                                              {1520, {DecibelPerKilometre(0.23), Decibel(-81)}},
                                              {1590, {DecibelPerKilometre(0.20), Decibel(-81.5)}},
                                              {1e9, {DecibelPerKilometre(0.20), Decibel(-82.5)}}}};
    for (const auto& row : rows)
        if (wavelength.value() < row.below) return row.fibre;
    return rows.back().fibre;
}

std::optional<FibreKind> fibreLike(Nanometre wavelength, DecibelPerKilometre attenuation)
{
    const double nm = wavelength.value(), loss = attenuation.value();
    struct Row {
        double from, to;              ///< nm
        double singleFrom, singleTo;  ///< dB/km
        double multiFrom, multiTo;
    };
    static constexpr std::array<Row, 3> rows{
        {{820, 880, 1.7, 2.0, 2.1, 3.6}, {1280, 1340, 0.28, 0.42, 0.5, 1.6}, {1520, 1580, 0.15, 0.27, 0.35, 1.2}}};
    for (const Row& row : rows) {
        if (nm < row.from || nm > row.to) continue;
        if (loss >= row.singleFrom && loss <= row.singleTo) return FibreKind::SingleMode;
        if (loss >= row.multiFrom && loss <= row.multiTo) return FibreKind::Multimode;
    }
    return std::nullopt;
}

}  // namespace clendo::otdr
