#pragma once
// One stop of the order of work: all of it that is not pixels. all_tasks() is the order; standing, list, budget,
// certificate, table of readings, record text and rehearsal iterate it and know no task by name.
#include <functional>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/book/book.h"
#include "core/calibration/part_causes.h"
#include "core/tasks/said.h"

namespace ypsi {

class Standings;
namespace rehearsal {
struct Step;
}

enum class TaskGroup { overview, machine, calibrate, references, job, record };

/// A change on `upstream` makes the task out of date.
struct Upstream {
  std::string_view id;
  /// Where not empty: only a change of something whose name holds this ("drive") counts, since `id` changes more.
  std::string_view about{};
};

/// A measured error of a part that is cut today. Source: handbook of the trade, 17.
struct BudgetShare {
  std::string_view code{};  ///< of its phrase; empty: the task's title
  std::optional<Axis> axis{};
  std::optional<OffBy> off{};          ///< of the usual part; none: never measured
  std::optional<std::size_t> entry{};  ///< the history entry it comes from
  int tool = 0;                        ///< where it is a tool's: its number
  std::string subject{};               ///< where it is another thing's: its name
  std::optional<PartCause> cause{};    ///< which error of a size or a right angle it is; none: told beside them
  bool unlisted = false;               ///< while nobody measured it, it is named and no row of its own
  bool bears_on_sizes() const { return cause && ypsi::bears_on_sizes(*cause); }
};
/// What a task is asked the budget of.
struct BudgetQuestion {
  const Book& book;
  int tool = 0;  ///< in the spindle; 0: not known
};

enum class CertifiedUnit { length, steps_per_mm, mm_per_m, mrad, gauge };

/// A quantity that the certificate tells, and where it stands in the task's entries.
struct CertifiedLine {
  std::string_view code;  ///< of its phrase, whose argument is the subject
  std::string subject{};  ///< axis letter, "T2", or empty: any
  CertifiedUnit unit = CertifiedUnit::length;
  int usual_decimals = 2;  ///< where no U says how many
  std::function<std::optional<double>(const Entry&)> value{}, U{}, k{};
  bool an_act_says = false;   ///< as found and as left stand in the entry itself: an act changed it
  bool may_be_left = false;   ///< what was found is perhaps not taken over
  bool told_for_all = false;  ///< an entry without a subject tells it too
};

class Task {
 public:
  Task(const char* id, const char* title, TaskGroup group) : id_(id), title_(title), group_(group) {}
  virtual ~Task() = default;
  Task(const Task&) = delete;
  Task& operator=(const Task&) = delete;

  /// Under which its entries stand in the record, and its sheet is found.
  const char* id() const { return id_; }
  /// What it is called, in plain English; the window translates it.
  const char* title() const { return title_; }
  /// The same at a machine of a kind where its owners call it otherwise.
  virtual const char* title_at(const MachineSetup&) const { return title_; }
  TaskGroup group() const { return group_; }

  /// Whether the machine has what it is about; where not, the list has it under Also, and nobody is asked to do it.
  virtual bool applies_to(const MachineSetup&) const { return true; }
  /// Whether it keeps findings, which are current or out of date.
  virtual bool has_standing() const { return true; }
  /// Whether it belongs to what is measured before work begins, so that *what is next* asks for it.
  virtual bool commissions() const {
    return group_ == TaskGroup::machine || group_ == TaskGroup::calibrate || group_ == TaskGroup::references;
  }
  /// Whether it is asked of this machine.
  bool asked_of(const MachineSetup& machine) const { return commissions() && applies_to(machine); }
  virtual std::vector<Upstream> depends_on() const { return {}; }
  /// Whether only the newest entry counts, whatever its subject.
  virtual bool newest_alone() const { return false; }
  /// Whether an entry tells something beside the task's own finding, so that it makes nothing current.
  virtual bool stands_beside(const Entry&) const { return false; }
  /// What an entry found; nothing: see below.
  virtual Words summary(const Entry& entry) const;
  /// What the list says of it; nothing where nothing is known. The newest entry's summary, with its subject.
  virtual Words overview(const Book& book) const;
  /// What it gives to the budget of a part: its share of what the usual part is off by ...
  virtual std::vector<BudgetShare> budget(const BudgetQuestion&) const { return {}; }
  /// ... and the error itself, from which sizes are reckoned.
  virtual void give_to_part(const BudgetQuestion&, PartInput&) const {}
  virtual std::vector<CertifiedLine> certificate(const Book&) const { return {}; }
  /// Its steps of a rehearsal.
  virtual std::vector<rehearsal::Step> rehearsal() const;
  /// Whether a place of it was carried over rather than made out of date by a change of `upstream`.
  virtual bool is_carried_over(std::string_view) const { return false; }

 private:
  const char *id_, *title_;
  TaskGroup group_;
};

using Tasks = std::vector<const Task*>;

/// The line once for each axis, whose letter is the subject.
std::vector<CertifiedLine> each_axis(const CertifiedLine& line);

/// Null where there is none.
const Task* find_task(const Tasks& tasks, std::string_view id);

}  // namespace ypsi
