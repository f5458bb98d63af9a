#include "core/book/first_book.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/book/machine_kinds.h"

namespace ypsi {
namespace {

constexpr double largest_usual_part_mm = 300, part_of_travel = 0.6, whole_mm = 10;

Instrument instrument(const char* name, double resolution, int ends, double s, double u_cal, double u_rel) {
  Instrument i;
  i.name = name;
  i.resolution_mm = resolution;
  i.ends = ends;
  i.s_mm = s;
  i.u_cal_mm = u_cal;
  i.u_rel = u_rel;
  return i;
}

/// A part as large as is usual, or as the travel takes with room around it; at least a tenth of it.
double usual_part(double travel) {
  const double fits = std::floor(travel * part_of_travel / whole_mm) * whole_mm;
  return std::clamp(fits, travel / 10, largest_usual_part_mm);
}

}  // namespace

const std::vector<Instrument>& usual_instruments() {
  static const std::vector<Instrument> all{instrument("ruler", 0.5, 2, 0.15, 0, 5e-5),
                                           instrument("tape", 1, 2, 0.3, 0.1, 1e-4),
                                           instrument("caliper", 0.01, 1, 0.01, 0.015, 0),
                                           instrument("indicator", 0.01, 1, 0.003, 0, 0),
                                           instrument("digital scale", 0.005, 1, 0.003, 0, 1e-5),
                                           instrument(magnifier, 0.02, 1, 0.01, 0.005, 0)};
  return all;
}

Result<Book> first_book(const FirstAnswers& answers) {
  const auto& kinds = machine_kinds();
  const auto kind = std::find_if(kinds.begin(), kinds.end(), [&](const auto& k) { return answers.kind == k.id; });
  if (kind == kinds.end()) {
    std::string all;
    for (const auto& k : kinds) all += (all.empty() ? "" : ", ") + std::string(k.id);
    return fail("unknown_kind", fmt::format("There is no kind of machine “{}”; the kinds are {}.", answers.kind, all),
                "kind");
  }
  if (answers.name.find_first_not_of(" \t") == std::string::npos)
    return fail("no_name", "Give the machine a name, so that its book can be told from others.", "name");
  Book book;
  book.machine = kind->usual;
  book.machine.name = answers.name;
  for (const Axis a : all_axes)
    if (const auto& reach = answers.reach[index(a)]) {
      if (!(*reach > 0) || !std::isfinite(*reach))
        return fail("out_of_range", fmt::format("The reach of {} must be above zero.", letter(a)), "reach");
      book.machine.axis(a).travel = *reach;
    }
  for (const Axis a : all_axes)
    if (const auto& drive = answers.drives[index(a)]) {
      AxisSetup& axis = book.machine.axis(a);
      axis.drive.transmission = *drive;
      const auto steps = steps_per_unit(axis.drive);
      if (!steps) return tl::make_unexpected(steps.error());
      axis.steps_per_mm = steps->steps_per_unit;
    }
  for (const std::string& name : answers.instruments) {
    const auto& usual = usual_instruments();
    const auto found = std::find_if(usual.begin(), usual.end(), [&](const Instrument& i) { return i.name == name; });
    if (found == usual.end())
      return fail("unknown_instrument",
                  fmt::format("“{}” is none of the instruments that a book can begin with; add it in the window, on "
                              "the sheet Build.",
                              name),
                  "instruments");
    if (!book.instrument(name)) book.instruments.push_back(*found);
  }
  book.job.part_width = usual_part(book.machine.axis(Axis::x).travel);
  book.job.part_height = usual_part(book.machine.axis(Axis::y).travel);
  return book;
}

}  // namespace ypsi
