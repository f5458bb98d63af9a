#include "core/program/checks.h"

#include "core/program/checks/checker.h"

namespace ypsi {

std::vector<Finding> Checker::all() {
  if (program_.motions.empty()) {
    add("no_moves", Weight::warns, "The program moves nothing.", 0);
    return std::move(found_);
  }
  zero_and_limits();
  extents();
  units();
  z_reference();
  stock_edges();
  tools();
  spindle();
  feeds();
  clamps();
  rapids_and_nut();
  first_move();
  machine_words();
  times();
  std::stable_sort(found_.begin(), found_.end(), [](const Finding& a, const Finding& b) {
    return a.weight != b.weight ? a.weight < b.weight : a.line < b.line;
  });
  return std::move(found_);
}

std::vector<Finding> check_program(const Program& program, const Book& book, const CheckSetting& setting) {
  return Checker(program, book, setting).all();
}

std::size_t count(const std::vector<Finding>& findings, Weight weight) {
  return static_cast<std::size_t>(
      std::count_if(findings.begin(), findings.end(), [weight](const Finding& f) { return f.weight == weight; }));
}

const char* name(Weight weight) {
  return weight == Weight::stops ? "stops" : weight == Weight::warns ? "warns" : "informs";
}

}  // namespace ypsi
