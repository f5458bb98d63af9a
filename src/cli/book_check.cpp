#include "cli/book_check.h"

#include <fmt/format.h>

#include <vector>

#include "cli/calc.h"
#include "core/book/book_json.h"
#include "core/book/worksheets/scale.h"
#include "core/tasks/standing.h"

namespace ypsi::cli {
namespace {

std::vector<std::string> oddities(const Book& book) {
  std::vector<std::string> found;
  for (const Axis a : all_axes) {
    const AxisSetup& axis = book.machine.axis(a);
    if (axis.soft_min && axis.soft_max && !(*axis.soft_min < *axis.soft_max))
      found.push_back(fmt::format("{}: the lower soft limit is not below the upper one.", letter(a)));
    if (const auto computed = steps_per_unit(axis.drive);
        computed && std::abs(axis.steps_per_mm / computed->steps_per_unit - 1) > 0.05)
      found.push_back(fmt::format("{}: {:g} steps per unit, but the drive's parts give {:g}; check the parts.",
                                  letter(a), axis.steps_per_mm, computed->steps_per_unit));
  }
  for (std::size_t i = 0; i < book.history.size(); ++i) {
    const Entry& e = book.history[i];
    if (i > 0 && e.time < book.history[i - 1].time)
      found.push_back(fmt::format("history[{}] is dated before the entry above it.", i));
    if (e.withdraws && *e.withdraws >= i)
      found.push_back(fmt::format("history[{}] withdraws an entry that is not before it.", i));
  }
  for (const Axis a : all_axes)
    if (const auto& w = book.worksheets[scale_worksheets][index(a)];
        !w.instrument.empty() && !book.instrument(w.instrument))
      found.push_back(fmt::format("{}: its readings were taken with “{}”, which is not among the instruments.",
                                  letter(a), w.instrument));
  return found;
}

}  // namespace

int check_book(std::string_view text, std::ostream& out) {
  const auto read = read_book(text);
  if (!read) {
    out << error_json(read.error()).dump(1, ' ', false, nlohmann::json::error_handler_t::replace) << "\n";
    return 2;
  }
  auto found = oddities(read->book);
  if (read->from_later_version())
    found.push_back(fmt::format(
        "It was written by a later Ypsilograph (version {}); this one opens it for reading only.", read->version));
  out << fmt::format("{}: {} entries, {} instruments, {} tools\n", read->book.machine.name, read->book.history.size(),
                     read->book.instruments.size(), read->book.tools.size());
  for (const auto& line : found) out << "- " << line << "\n";
  out << (found.empty() ? "The book is sound.\n" : "The book can be read; mend what is listed.\n");
  return found.empty() ? 0 : 1;
}

}  // namespace ypsi::cli
