// Numbers as people type them: with units and sums.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "base/result.h"
#include "work/properties.h"

namespace session {

using work::Kind;

// How lengths are shown and read without a unit: px at a resolution, mm, in or pt.
struct LengthUnit {
    work::Unit unit = work::Unit::Pt;
    double ppi = 72;

    bool operator==(const LengthUnit&) const = default;
    double toPt(double value) const { return work::SheetSize{1, 1, unit, ppi}.toPt(value); }
    double fromPt(double pt) const { return pt / toPt(1); }
};

// Reads "12mm", "1/2in", "24+6", "(10 - 2) * 3 pt", "45°", "25%": + - * / and brackets, units behind numbers, a comma counts
// as a decimal point. Percent: 100 is 1. Errors: BadInput with what was not understood. O(n).
base::Result<double> parseQuantity(std::string_view text, Kind kind, const LengthUnit& unit);

// The number as it is shown, without its unit: at most `decimals` places, no trailing zeros; and the unit's short name.
std::string shownNumber(double value, Kind kind, const LengthUnit& unit, int decimals = 2);
std::string unitName(Kind kind, const LengthUnit& unit);

}  // namespace session
