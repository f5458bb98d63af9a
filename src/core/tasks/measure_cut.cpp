#include "core/tasks/measure_cut.h"

#include <fmt/format.h>

#include <cmath>

#include "core/book/record.h"
#include "core/rehearsal/parts.h"
#include "core/tasks/budget.h"
#include "core/tasks/squareness.h"

namespace ypsi {
namespace {

class MeasureCutTask final : public Task {
 public:
  MeasureCutTask() : Task(measure_cut_id, "Measure the cut", TaskGroup::job) {}
  std::vector<Upstream> depends_on() const override { return {{squareness_id}}; }
  Words summary(const Entry& e) const override {
    const auto found = finding_of<MeasuredEntry>(e);
    Words all{{"off_by", {SaidLength{found.largest_deviation.value_or(0), 2}}}};
    if (found.tool_diameter)
      all.push_back({"cuts", {SaidLength{*found.tool_diameter, 2}, SaidLength{found.U_tool_diameter.value_or(0), 2}}});
    return all;
  }
  std::vector<BudgetShare> budget(const BudgetQuestion& q) const override {
    const Tool* tool = q.tool > 0 ? q.book.tool(q.tool) : q.book.tools.empty() ? nullptr : &q.book.tools.front();
    if (!tool) return {};
    BudgetShare share{.code = "budget_cutter",
                      .entry = newest(q.book, id(), fmt::format("T{}", tool->number)),
                      .tool = tool->number,
                      .cause = PartCause::tool};
    if (share.entry)
      if (const auto found = finding_of<MeasuredEntry>(q.book.history[*share.entry]);
          found.tool_diameter && found.U_tool_diameter)
        share.off = OffBy{*found.tool_diameter - tool->diameter, *found.U_tool_diameter};
    return {share};
  }
  void give_to_part(const BudgetQuestion& q, PartInput& part) const override {
    for (const BudgetShare& share : budget(q))
      if (share.off) part.tool = known_of(share.off->bias, share.off->U);
  }
  std::vector<CertifiedLine> certificate(const Book& book) const override {
    std::vector<CertifiedLine> all;
    for (const Tool& t : book.tools)
      if (const std::string subject = "T" + std::to_string(t.number); newest(book, id(), subject))
        all.push_back({.code = "certified_cutter",
                       .subject = subject,
                       .value = [](const Entry& e) { return finding_of<MeasuredEntry>(e).tool_diameter; },
                       .U = [](const Entry& e) { return finding_of<MeasuredEntry>(e).U_tool_diameter; },
                       .k = [](const Entry& e) { return finding_of<MeasuredEntry>(e).k; },
                       .an_act_says = true});
    all.push_back({.code = "certified_deviation",
                   .value = [](const Entry& e) { return finding_of<MeasuredEntry>(e).largest_deviation; }});
    return all;
  }
  std::vector<rehearsal::Step> rehearsal() const override { return {{title(), rehearsal::measure_cut}}; }
};

}  // namespace

const Task& measure_cut_task() {
  static const MeasureCutTask task;
  return task;
}

}  // namespace ypsi
