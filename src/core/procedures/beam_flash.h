#pragma once
// One short flash of a beam, to see whether it leaves a dot, then aside to fresh ground. The blocks that switch it on
// and off are sent together, so that it goes out by itself whatever becomes of whoever asked. Source: handbook of the
// trade, 19.
#include "core/book/heads.h"
#include "core/procedures/procedure.h"
#include "core/procedures/run_program.h"

namespace ypsi {

inline constexpr double longest_flash_s = 0.5;

/// Whether a beam may be switched on at a level. Errors: `no_blocks` where its owner has no block for on or off;
/// `no_level` where the one for on does not take a level; `no_cap` where its owner has not said the most that it may
/// have; `over_cap`; `out_of_range`.
Result<void> may_shine(const Head& beam, double level);

class BeamFlash : public Procedure {
 public:
  /// `seconds` up to longest_flash_s; `aside` along X afterwards, mm, 0: stays.
  /// Errors: those of may_shine(), ready_to_move() and inside_travel(), and of a program's start.
  Result<void> start(MachineLink& link, const Head& beam, double level, double seconds, double aside);

 private:
  void step(const MachineStatus& now) override;
  std::string text_;
  ProgramRun run_;
  double aside_ = 0, target_ = 0;
  bool moving_aside_ = false;
};

}  // namespace ypsi
