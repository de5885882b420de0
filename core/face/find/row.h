#pragma once
#include <optional>
#include <vector>

#include "face/find/locate.h"

namespace clendo::face {

// Fibres in a row lie 250 um apart, rows of one ferrule 500 um (IEC 61754-7): pitches of two and four claddings.

/// How the fibres of a ferrule are laid out: in one row up to 16, more in two rows of half as many.
constexpr int rowsOf(int fibres) { return fibres > 16 ? 2 : 1; }
/// Of a ferrule: two rows of 16.
constexpr int mostFibres = 32;

/// Rows of fibres, the upper one first, each from the left. What lies on neither the row of the first, the strongest, nor one row apart from it is
/// left out. Fewer than three, or than a third of the longer row, are no row.
std::vector<std::vector<Circle>> rowsIn(const std::vector<Circle>& circles);

/// The fibres among circles that were located, row by row, each from the left. Where they were counted beforehand none is left out; else those are
/// that hardly show against the strongest.
std::vector<std::vector<Circle>> fibresInRows(std::vector<Circle> circles, std::optional<int> counted);

/// The cladding's radius by the pitch, where it is clearly not the one found: cores show better than the cladding.
std::optional<double> radiusByPitch(std::vector<Circle> row);

/// Where each circle of a row lies by those that are sure: the even place nearest to it, as large as they are, of support 1. Nothing where fewer than
/// four are sure, or they do not stand as far apart as claddings of their size.
std::vector<Circle> evenPlaces(const std::vector<Circle>& row, std::vector<Circle> sure);

/// Adds the places in an even row where nothing was found: between the others, and beyond them as far as a whole fibre fits into the picture. Their
/// support is 0: whether a fibre is there, a closer look has to say.
void fillRow(std::vector<Circle>& row, cv::Size picture);

}  // namespace clendo::face
