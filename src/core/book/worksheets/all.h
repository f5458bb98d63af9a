#pragma once
// All worksheets of a book, for those who read, write and convert them without knowing them.
#include "core/book/worksheets/bed.h"
#include "core/book/worksheets/build.h"
#include "core/book/worksheets/cut.h"
#include "core/book/worksheets/fences.h"
#include "core/book/worksheets/heads.h"
#include "core/book/worksheets/homing.h"
#include "core/book/worksheets/limits.h"
#include "core/book/worksheets/lost_motion.h"
#include "core/book/worksheets/marks.h"
#include "core/book/worksheets/reversal.h"
#include "core/book/worksheets/scale.h"
#include "core/book/worksheets/squareness.h"
#include "core/book/worksheets/surface.h"
#include "core/book/worksheets/trials.h"

namespace ypsi {

/// Calls `each` with every key.
template <class Each>
void each_worksheet(Each each) {
  each(scale_worksheets);
  each(lost_motion_worksheets);
  each(turn_worksheets);
  each(positioning_worksheets);
  each(square_worksheet);
  each(limits_worksheets);
  each(reversal_worksheet);
  each(homing_worksheet);
  each(bed_worksheet);
  each(surface_worksheet);
  each(cut_worksheet);
  each(marks_worksheet);
  each(heads_worksheet);
  each(trials_worksheet);
  each(fences_worksheet);
  each(heads_put_by);
  each(trials_put_by);
  each(fences_put_by);
  each(build_worksheet);
}

/// A worksheet under its key: one, perhaps one, any number, or one for each axis.
template <class V, class T>
void describe_under(V& v, const char* key, T& one) {
  v.object(key, one, sparse);
}
template <class V, class T>
void describe_under(V& v, const char* key, std::optional<T>& perhaps) {
  v.maybe(key, perhaps);
}
template <class V, class T>
void describe_under(V& v, const char* key, std::vector<T>& all) {
  v.list(key, all, sparse);
}
template <class V, class T>
void describe_under(V& v, const char* key, std::array<T, axis_count>& axes) {
  v.for_each_axis(
      key, axes, [](V& of, T& own, Axis axis) { describe(of, own, axis); }, sparse);
}
template <class V, class T>
void describe_under(V& v, const char* key, std::array<std::vector<T>, axis_count>& axes) {
  v.list_for_each_axis(key, axes);
}

template <class V>
void describe(V& v, Worksheets& all) {
  each_worksheet([&](auto key) {
    if (V::fills || V::shows_all || all.holds(key)) describe_under(v, key.name, all[key]);
  });
  v.unknown(all.unknown);
}

}  // namespace ypsi
