#pragma once
// What every part of a rehearsal works with: the machine's link, the person's hands and instruments, the book. Lengths
// mm.
#include <functional>
#include <random>

#include "core/book/book.h"
#include "core/procedures/bench.h"
#include "core/procedures/machine_link.h"
#include "core/procedures/procedure.h"

namespace ypsi {

/// An instrument and the longest distance it spans here.
struct Chosen {
  Instrument instrument;
  double reach = 0;  ///< mm
};

/// Longest distance that an instrument of this name spans, mm; others than caliper and indicator reach over any
/// machine.
double reach_of(const std::string& name);

/// The finest for what is not longer than `size` mm; none where none spans it.
std::optional<Instrument> finest_for(const std::vector<Instrument>& instruments, double size);

class Workshop {
 public:
  /// `wait` lets the machine's time pass; all three must outlive it.
  Workshop(MachineLink& link, Bench& bench, std::function<void(double seconds)> wait, Book book);

  MachineLink& link;
  Bench& bench;
  Book book;
  std::mt19937 random{1};
  int moves = 0;  ///< that were asked for, and procedures run

  void wait(double seconds) {
    waited_s_ += seconds;
    wait_(seconds);
  }
  double waited_s() const { return waited_s_; }  ///< of the machine's time
  /// Until the machine stands. Error: `stopped` with its own sentence where it stands otherwise than ready or not
  /// homed; `too_long`.
  Result<void> settle();
  /// Switches on what comes before the first move. Error: `not_armed`, with what does not come on.
  Result<void> arm();
  /// Homes all axes. Errors: those of homing; `not_homed` with the controller's sentence.
  Result<void> home();
  /// One axis to a machine coordinate, kept within the soft limits.
  Result<void> go(Axis axis, double place);
  /// Z up to the safe height, then X and Y across.
  Result<void> go_over(double x, double y);
  /// Down by eye until `gap` mm are left between the tip and what is below, never lower than the soft limit.
  Result<void> down_to_gap(double gap);
  /// Machine Z to lift to: the book's, or as high as Z goes where that is outside its limits.
  double safe_z() const;
  double low(Axis axis) const;  ///< soft limits, machine
  double high(Axis axis) const;
  double setting(Axis axis, std::string_view what) const;
  /// Both limits, in the order in which the lower stays below the upper.
  Result<void> set_soft_limits(Axis axis, double low_mm, double high_mm);

  /// Lets a procedure that was started go on until it has ended; `answer` is called whenever it waits for a person.
  /// Errors: its own; `too_long`.
  Result<void> run(Procedure& procedure, const std::function<Result<void>()>& answer = {});

  /// The one that tells a length of `room` mm or what it reaches of it best; none where nothing can.
  std::optional<Chosen> best_for(double room) const;
  const Instrument* instrument(std::string_view name) const;
  std::optional<Instrument> finest_for(double size) const { return ypsi::finest_for(book.instruments, size); }

  static constexpr double tick_s = 0.02, longest_s = 20000;

 private:
  static tl::unexpected<Error> too_long();
  std::function<void(double)> wait_;
  double waited_s_ = 0;
};

}  // namespace ypsi
