#include "core/book/tool_change.h"

namespace ypsi {

std::optional<double> length_against_reference(const Book& book, int tool) {
  if (book.setter && book.setter->reference_tool == tool && tool != 0) return 0;
  const Tool* found = book.tool(tool);
  return found ? found->offset : std::nullopt;
}

ZeroAfterChange zero_after_change(const Book& book, int tool) {
  const FrameZero& zero = book.job.used();
  if (!zero.z_mm) return ZeroAfterChange::not_set;
  if (zero.z_tool == 0 || tool == 0 || zero.z_tool == tool) return ZeroAfterChange::holds;
  if (length_against_reference(book, zero.z_tool) && length_against_reference(book, tool))
    return ZeroAfterChange::by_length;
  return book.job.zero_spot ? ZeroAfterChange::by_spot : ZeroAfterChange::by_touch;
}

double zero_by_length(const Book& book, int tool) {
  const FrameZero& zero = book.job.used();
  return *zero.z_mm + *length_against_reference(book, tool) - *length_against_reference(book, zero.z_tool);
}

}  // namespace ypsi
