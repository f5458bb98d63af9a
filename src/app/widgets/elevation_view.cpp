#include "app/widgets/elevation_view.h"

#include <QPainter>
#include <algorithm>

#include "app/drawing/draft.h"
#include "app/session/book_editor.h"
#include "app/session/job_session.h"
#include "app/session/machine_session.h"
#include "app/to_q.h"
#include "core/program/tip.h"

namespace ypsi::app {

ElevationView::ElevationView(Session& session, bool with_safe_height, QWidget* parent)
    : QWidget(parent), session_(session), with_safe_height_(with_safe_height) {
  setObjectName(QStringLiteral("elevation"));
  setAccessibleName(tr("Front elevation"));
  setMinimumHeight(110);
}

void ElevationView::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  Draft draft(painter);
  const Book& book = session_.editor().book();
  const MachineStatus& s = session_.machine().status();
  const auto program = session_.job().program();
  const LengthUnit unit = session_.editor().unit();
  const double thickness = book.job.stock_size[2] > 0 ? book.job.stock_size[2] : 18;
  const double stock_width = book.job.stock_size[0] > 0 ? book.job.stock_size[0] : book.job.part_width;
  const WorkPosition tool = to_work(s.position, s.work_zero);
  const bool known = s.all_homed() && book.job.zero(Axis::z);

  // Across at one scale; upwards at one of its own, so that a millimetre of depth can be seen.
  const double stock_left = book.job.stock_corner[0];
  double low_x = stock_left, high_x = stock_left + stock_width;
  if (program && !program->program.centre.empty()) {
    low_x = std::min(low_x, program->program.centre.low.x);
    high_x = std::max(high_x, program->program.centre.high.x);
  }
  const double side = 0.06 * (high_x - low_x), label_px = 190;
  const auto px = [&](double x) {
    return 10 + (x - low_x + side) / (high_x - low_x + 2 * side) * (width() - 20 - label_px);
  };
  const bool cuts = program && !program->program.cut.empty();
  const double deepest = cuts ? deepest_tip(program->program, TipDrop(program->program, book, s.tool)) : 0;
  Job drawn = book.job;
  drawn.stock_size[2] = thickness;  // where it is not known yet too
  const double stock_top = drawn.stock_top_z(), lies_on = drawn.lies_on_z(), bed_z = drawn.bed_z();
  const double top = std::max({12.0, stock_top + 6, known ? std::min(tool.z + 4, 60.0) : 0.0}),
               bottom = std::min(bed_z, deepest) - 2;
  const auto py = [&](double z) { return 22 + (top - z) / (top - bottom) * (height() - 34); };

  const auto layer = [&](double from, double to) {
    return QRectF(QPointF(px(stock_left), py(from)), QPointF(px(stock_left + stock_width), py(to)));
  };
  if (book.job.board_mm > 0) {
    const QRectF board(QPointF(4, py(lies_on)), QPointF(px(high_x + side), py(bed_z)));
    draft.box(board, theme().ink, theme().paper, 1.2);
    draft.hatch(board, theme().rule, 12);
  }
  if (book.job.sheet_mm > 0) draft.box(layer(stock_top - thickness, lies_on), theme().ink, theme().teal_soft, 1.2);
  const QRectF stock = layer(stock_top, stock_top - thickness);
  draft.box(stock, theme().ink, theme().stock, 1.4);
  draft.hatch(stock, theme().rule);
  if (const double cap = material_named(book.job.materials, book.job.stock_name).cap_mm; cap > 0)
    draft.box(layer(stock_top, stock_top - cap), theme().ink, theme().cut, 1.2);
  // Clamps stand on the bed, as high as they are.
  if (book.job.zero(Axis::x))
    for (const Clamp& c : book.job.clamps) {
      const double middle = c.x_mm - *book.job.zero(Axis::x), up = bed_z + c.height_mm;
      const double left = std::clamp(px(middle - c.width_mm / 2), 6.0, width() - label_px),
                   right = std::clamp(px(middle + c.width_mm / 2), 6.0, width() - label_px);
      if (right - left < 2) continue;
      const QRectF box(QPointF(left, std::max(py(up), 2.0)), QPointF(right, py(bed_z)));
      draft.box(box, theme().ink, theme().paper, 1.2);
      draft.hatch(box, theme().second_ink, 6);
    }
  const double bed = py(bed_z);
  draft.line({4, bed + 1.5}, {px(high_x + side), bed + 1.5}, theme().ink, 3);
  draft.text({px(high_x + side) + 6, bed + (book.job.used().on_bed || (cuts && bed - py(deepest) < 16) ? 16 : 6)},
             tr("bed"), theme().second_ink, 11);
  if (cuts && deepest < stock_top) {
    const Extents& cut = program->program.cut;
    draft.box(QRectF(QPointF(px(cut.low.x), py(stock_top)), QPointF(px(cut.high.x), py(deepest))), theme().teal,
              theme().teal_soft, 1, Qt::DotLine);
  }
  const double at_x = px(high_x + side) - 24;
  const auto level = [&](double z, const QString& words, const QColor& colour, double nudge) {
    draft.line({at_x - 30, py(z)}, {at_x + 26, py(z)}, colour, 1, Qt::DashLine);
    draft.text({at_x + 32, py(z) + 4 + nudge}, words, colour, 11, true);
  };
  const bool zero_set = book.job.zero(Axis::z).has_value();
  level(0, zero_set ? tr("Z 0") : tr("Z 0 is to be here"), zero_set ? theme().red : theme().second_ink, -2);
  if (cuts && deepest < stock_top)
    level(deepest, tr("deepest cut %1").arg(to_q(format_length(deepest, unit, 2))), theme().teal,
          py(deepest) - py(0) < 13 ? 11 : 0);
  if (with_safe_height_ && !known)
    draft.text({at_x + 32, 14}, zero_set ? tr("not homed") : tr("Z zero not set"), theme().red, 11, true);
  if (with_safe_height_ && known) {
    const double safe = book.machine.safe_height - s.work_zero.z;
    draft.text({at_x + 32, 14}, tr("safe height %1").arg(to_q(format_length(safe, unit, 1))), theme().second_ink, 11);
  }
  if (known) {
    const Tool* in = book.tool(s.tool);
    const double diameter = in && in->diameter > 0 ? in->diameter : 3;
    const double wide = std::clamp((px(diameter) - px(0)), 5.0, 26.0);
    const double x = std::clamp(px(tool.x), 14.0, px(high_x + side)), y = std::clamp(py(tool.z), 16.0, height() - 6.0);
    const bool above = tool.z > top;
    draft.tool_elevation({x, y}, wide, std::min(40.0, std::max(10.0, y - 20)), wide + 14);
    // Beside the tool, clear of the stock and of the levels named on the right.
    const bool at_right = x > at_x - 110;
    draft.text({x + (at_right ? -1 : 1) * (wide / 2 + 12), std::max(std::min(y - 6, py(stock_top) - 8), 14.0)},
               (above ? tr("tool, Z %1 ↑") : tr("tool, Z %1")).arg(to_q(format_length(tool.z, unit, 2))), theme().ink,
               11, false, at_right ? Qt::AlignRight : Qt::AlignLeft);
  }
}

}  // namespace ypsi::app
