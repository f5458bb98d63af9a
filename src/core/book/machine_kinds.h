#pragma once
// The kinds of machine that a book can start from: how each is built, and what is usual for it.
#include <string>
#include <vector>

#include "core/book/book.h"

namespace ypsi {

/// What carries the spindle across the bed, and so which way things go when an axis moves.
enum class MachineForm {
  moving_gantry,  ///< the beam runs along Y over a bed that stands
  moving_bed,     ///< the bed runs along Y under a beam that stands
  vertical_panel  ///< the gantry hangs before an upright board: Y is up
};

struct MachineKind {
  const char* id;  ///< as the book has it: "moving_gantry"
  MachineForm form;
  MachineSetup usual;  ///< a start for the owner's own figures; its name is empty
};

inline constexpr const char* cutting_table = "cutting_table";
inline constexpr const char* engraver_kind = "engraver";
/// Whether what is cut comes as drawings at machines of that kind.
inline bool cuts_drawings(const std::string& kind) {
  return kind == cutting_table || kind == engraver_kind;
}

/// moving_gantry, moving_bed, engraver, cutting_table, vertical_panel.
const std::vector<MachineKind>& machine_kinds();
/// The kind of that id; the first where there is none.
const MachineKind& machine_kind(const std::string& id);

}  // namespace ypsi
