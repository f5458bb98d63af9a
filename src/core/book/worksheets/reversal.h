#pragma once
// Squareness by a carpenter's square, as it is and turned over.
#include <optional>
#include <string>

#include "core/book/description.h"
#include "core/book/worksheets.h"

namespace ypsi {

/// Squareness by a carpenter's square, as it is and turned over.
struct ReversalWorksheet {
  double length_mm = 300;  ///< along the blade
  std::string instrument = "indicator";
  std::optional<double> first_mm, turned_mm;
  bool operator==(const ReversalWorksheet&) const = default;
};

template <class V>
void describe(V& v, ReversalWorksheet& s) {
  v.number("length_mm", s.length_mm);
  v.text("instrument", s.instrument);
  v.number("first_mm", s.first_mm);
  v.number("turned_mm", s.turned_mm);
}

inline constexpr WorksheetKey<ReversalWorksheet> reversal_worksheet{"reversal"};

}  // namespace ypsi
