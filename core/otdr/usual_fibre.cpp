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

}  // namespace clendo::otdr
