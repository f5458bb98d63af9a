#include "core/program/checks.h"

#include "core/program/checks/checker.h"

namespace ypsi {

Judgement Checker::all() {
  if (program_.motions.empty()) {
    add("no_moves", Weight::warns, "The program moves nothing.", 0);
    return std::move(out_);
  }
  using Part = void (Checker::*)();
  constexpr Part parts[] = {
      &Checker::zero_and_limits, &Checker::extents,       &Checker::units,         &Checker::z_reference,
      &Checker::stock_edges,     &Checker::tools,         &Checker::lengths,       &Checker::spindle,
      &Checker::feeds,           &Checker::clamps,        &Checker::stock,         &Checker::first_approach,
      &Checker::references,      &Checker::made_of,       &Checker::frames,        &Checker::acts,
      &Checker::beams,           &Checker::lowered_heads, &Checker::kept_settings, &Checker::end,
      &Checker::passed_over,     &Checker::times};
  for (const Part part : parts) {
    if (setting_.go_on && !setting_.go_on()) break;
    (this->*part)();
  }
  std::stable_sort(out_.findings.begin(), out_.findings.end(), [](const Finding& a, const Finding& b) {
    return a.weight != b.weight ? a.weight < b.weight : a.line < b.line;
  });
  return std::move(out_);
}

Judgement judge_program(const Program& program, const Book& book, const CheckSetting& setting) {
  return Checker(program, book, setting).all();
}

std::vector<Finding> check_program(const Program& program, const Book& book, const CheckSetting& setting) {
  return judge_program(program, book, setting).findings;
}

std::size_t count(const std::vector<Finding>& findings, Weight weight) {
  return static_cast<std::size_t>(
      std::count_if(findings.begin(), findings.end(), [weight](const Finding& f) { return f.weight == weight; }));
}

const char* name(Weight weight) {
  return weight == Weight::stops ? "stops" : weight == Weight::warns ? "warns" : "informs";
}

}  // namespace ypsi
