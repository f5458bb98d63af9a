#include "app/sheets/measure_cut/cause_words.h"

#include <QCoreApplication>

#include <cmath>

#include "app/session/entry_text.h"
#include "app/session/phrases.h"
#include "app/to_q.h"
#include "core/book/worksheets/cut.h"
#include "core/calibration/first_cut.h"
#include "core/tasks/heads.h"
#include "core/tasks/lost_motion.h"
#include "core/tasks/steps_per_unit.h"

namespace ypsi::app {
namespace {

struct CutWords {
  Q_DECLARE_TR_FUNCTIONS(cut)
};

QString len(double mm, const Book& book, int decimals = 2) {
  return to_q(format_length(mm, book.unit(), decimals) + " " + unit_name(book.unit()));
}

QString signed_len(double mm, const Book& book) {
  return to_q(format_signed(in_unit(mm, book.unit()), book.unit() == LengthUnit::inch ? 3 : 2) + " " +
              unit_name(book.unit()));
}

QString in_percent(double ratio) {
  return to_q(format_number(std::fabs(ratio) * 100, 3)) + " %";
}

}  // namespace

QString quantity_words(CutQuantity q, bool by_heads) {
  switch (q) {
    case CutQuantity::scale_x:
      return CutWords::tr("the scale of X");
    case CutQuantity::scale_y:
      return CutWords::tr("the scale of Y");
    case CutQuantity::scale_z:
      return CutWords::tr("the scale of Z");
    case CutQuantity::tool_diameter:
      return by_heads ? CutWords::tr("how far the blade stands beside its way") : CutWords::tr("the cutter's diameter");
    case CutQuantity::lost_motion_x:
      return CutWords::tr("lost motion of X");
    case CutQuantity::lost_motion_y:
      return CutWords::tr("lost motion of Y");
    case CutQuantity::z_zero:
      break;
  }
  return CutWords::tr("Z zero");
}

QString cause_sentence(const CutCause& c, const Book& book) {
  const QString axis = c.axis ? QString(QChar(letter(*c.axis))) : QString();
  switch (c.kind) {
    case CutCauseKind::steps:
      if (!c.significant)
        return CutWords::tr("Scale of %1: nothing to be seen, within ±%2.").arg(axis, in_percent(c.U));
      return (c.value > 0 ? CutWords::tr("%1 goes %2 too far (±%3): %4 on your usual part.")
                          : CutWords::tr("%1 goes %2 too short (±%3): %4 on your usual part."))
          .arg(axis, in_percent(c.value), in_percent(c.U), len(c.effect, book));
    case CutCauseKind::cutter:
      if (!c.significant) return CutWords::tr("Cutter: as the book has it, within ±%1.").arg(len(c.U, book));
      return (c.value > 0
                  ? CutWords::tr(
                        "The cutter cuts %1 wider (±%2) than the book has it: pockets come out large, tenons small.")
                  : CutWords::tr("The cutter cuts %1 narrower (±%2) than the book has it: pockets come out small, "
                                 "tenons large."))
          .arg(len(std::fabs(c.value), book), len(c.U, book));
    case CutCauseKind::lost_motion:
      if (!c.significant)
        return CutWords::tr("Lost motion of %1: nothing to be seen, within ±%2.").arg(axis, len(c.U, book));
      return CutWords::tr(
                 "%1 loses %2 (±%3) when it turns round: closed contours come out narrower by it, inside and outside.")
          .arg(axis, len(c.value, book, 3), len(c.U, book, 3));
    case CutCauseKind::z_zero:
      if (!c.significant) return CutWords::tr("Z zero: as it was meant, within ±%1.").arg(len(c.U, book));
      return (c.value > 0 ? CutWords::tr("It cuts %1 (±%2) too deep: Z zero is too low.")
                          : CutWords::tr("It cuts %1 (±%2) too shallow: Z zero is too high."))
          .arg(len(std::fabs(c.value), book), len(c.U, book));
    case CutCauseKind::blade:
      if (!c.significant) return CutWords::tr("Blade: on its way, within ±%1.").arg(len(c.U, book));
      return (c.value > 0 ? CutWords::tr("The blade stands %1 (±%2) to the left of its way: what is cut "
                                         "counter-clockwise comes out small, clockwise large.")
                          : CutWords::tr("The blade stands %1 (±%2) to the right of its way: what is cut "
                                         "counter-clockwise comes out large, clockwise small."))
          .arg(len(std::fabs(c.value), book), len(c.U, book));
    case CutCauseKind::head_place:
      if (!c.significant)
        return CutWords::tr("%1: stands where the book has it, within ±%2.").arg(to_q(c.head), len(c.U, book));
      return CutWords::tr("%1: its lines lie X %2, Y %3 (±%4) beside where they were meant.")
          .arg(to_q(c.head), signed_len(c.off_x, book), signed_len(c.off_y, book), len(c.U, book));
    case CutCauseKind::trailing:
      if (!c.significant)
        return CutWords::tr("%1: trails as the book has it, within ±%2.").arg(to_q(c.head), len(c.U, book));
      return (c.value > 0 ? CutWords::tr("%1 trails %2 (±%3) more than the book has it: lines end too early.")
                          : CutWords::tr("%1 trails %2 (±%3) less than the book has it: lines end too late."))
          .arg(to_q(c.head), len(std::fabs(c.value), book), len(c.U, book));
    case CutCauseKind::nose:
      if (!c.significant) return CutWords::tr("Depth: as the nose was set for, within ±%1.").arg(len(c.U, book));
      return (c.value > 0 ? CutWords::tr("It engraves %1 (±%2) deeper than the nose was set for.")
                          : CutWords::tr("It engraves %1 (±%2) less deep than the nose was set for."))
          .arg(len(std::fabs(c.value), book), len(c.U, book));
    case CutCauseKind::plate_lie:
      if (!c.significant) return CutWords::tr("The plate lies even under the tool, within ±%1.").arg(len(c.U, book));
      return CutWords::tr(
                 "It comes out %1 deeper on the right than on the left, %2 at the back than at the front "
                 "(±%3): the plate does not lie even under the tool.")
          .arg(signed_len(c.off_x, book), signed_len(c.off_y, book), len(c.U, book));
    case CutCauseKind::tip:
      if (!c.significant) return CutWords::tr("Tip: as wide as the book has it, within ±%1.").arg(len(c.U, book));
      return (c.value > 0 ? CutWords::tr("Lines are wider than their depth makes them: the tip is %1 (±%2) wider than "
                                         "the book has it.")
                          : CutWords::tr("Lines are narrower than their depth makes them: the tip is %1 (±%2) narrower "
                                         "than the book has it."))
          .arg(len(std::fabs(c.value), book), len(c.U, book));
    case CutCauseKind::lean:
      break;
  }
  if (!c.significant) return CutWords::tr("Square within ±%1 mm per m.").arg(to_q(format_number(c.U * 1000, 2)));
  return CutWords::tr("+Y leans %1 mm per m (±%2) towards %3X: %4 on your usual part.")
      .arg(to_q(format_number(std::fabs(std::tan(c.value)) * 1000, 2)), to_q(format_number(c.U * 1000, 2)),
           c.value > 0 ? QStringLiteral("+") : QStringLiteral("−"), len(c.effect, book));
}

QString cure_words(const CutCause& c, const Book& book) {
  if (!c.significant) return {};
  const QString axis = c.axis ? QString(QChar(letter(*c.axis))) : QString();
  switch (c.kind) {
    case CutCauseKind::steps: {
      const double steps = corrected_steps(book.machine.axis(*c.axis).steps_per_mm, c.value);
      return CutWords::tr("Steps of %1 to %2").arg(axis, steps_text(steps, steps * c.U));
    }
    case CutCauseKind::cutter: {
      const Tool* tool = book.tool(book.worksheets[cut_worksheet].tool);
      if (!tool) return {};
      return CutWords::tr("T%1 is %2")
          .arg(tool->number)
          .arg(len(book.worksheets[cut_worksheet].tool_diameter_mm + c.value, book));
    }
    case CutCauseKind::lost_motion:
      return c.value > 0 ? CutWords::tr("Keep as lost motion of %1").arg(axis) : QString();
    case CutCauseKind::z_zero:
      return c.value > 0 ? CutWords::tr("Raise Z zero %1").arg(len(c.value, book))
                         : CutWords::tr("Lower Z zero %1").arg(len(-c.value, book));
    case CutCauseKind::blade:
      return CutWords::tr("Go to Heads");
    case CutCauseKind::head_place:
      return CutWords::tr("Correct the place of the %1").arg(to_q(c.head));
    case CutCauseKind::trailing:
      return CutWords::tr("Correct what the %1 trails").arg(to_q(c.head));
    case CutCauseKind::nose:
      return CutWords::tr("Correct what the nose is set to");
    case CutCauseKind::plate_lie:
      return CutWords::tr("Go to Work zero");
    case CutCauseKind::tip: {
      const Tool* tool = book.tool(book.worksheets[cut_worksheet].tool);
      return tool ? CutWords::tr("The tip of T%1 is %2")
                        .arg(tool->number)
                        .arg(len(std::max(0.0, tool->tip + c.value), book))
                  : QString();
    }
    case CutCauseKind::lean:
      break;
  }
  return CutWords::tr("Go to Squareness");
}

QString cure_tip(const CutCause& c) {
  const auto stale = [](const char* sheet) {
    QStringList names;
    for (const Task* task : downstream(sheet)) names << title_of(*task);
    return names.isEmpty() ? QString() : CutWords::tr("Makes out of date: %1").arg(names.join(", "));
  };
  switch (c.kind) {
    case CutCauseKind::steps:
      return CutWords::tr("Sets the controller and the book; stored places are carried over. %1")
          .arg(stale(steps_per_unit_id));
    case CutCauseKind::cutter:
      return CutWords::tr("Changes the tool's diameter in the book, with the reason. Export programs anew for it");
    case CutCauseKind::lost_motion:
      return CutWords::tr(
                 "Writes it into the book as lost motion. The cure is mechanical first: nut, belt, gib, coupling. %1")
          .arg(stale(lost_motion_id));
    case CutCauseKind::z_zero:
      return CutWords::tr("Moves Z zero of the frame in use. With zero on the bed it also holds the stock's own error");
    case CutCauseKind::blade:
      return CutWords::tr("Its place beside its turning axis is measured there");
    case CutCauseKind::head_place:
    case CutCauseKind::trailing:
      return CutWords::tr("Changes it in the book; programs are to be made anew. %1").arg(stale(heads_id));
    case CutCauseKind::nose:
      return CutWords::tr("Changes the tick that is kept for this material and tool; turn the nose to it");
    case CutCauseKind::plate_lie:
      return CutWords::tr("Under “The whole surface” it is touched there, and the program follows it");
    case CutCauseKind::tip:
      return CutWords::tr("Changes the tool's tip in the book, with the reason. Export programs anew for it");
    case CutCauseKind::lean:
      break;
  }
  return CutWords::tr("Says there which end of the beam to move");
}

QString missing_sentence(const MissingFeature& m, bool by_heads) {
  CutSize size;
  size.kind = m.kind;
  size.axis = m.axis;
  QStringList settles;
  for (const CutQuantity q : m.settles) settles << quantity_words(q, by_heads);
  const QString kind = m.kind == FeatureKind::inside    ? CutWords::tr("an inside width along %1")
                       : m.kind == FeatureKind::outside ? CutWords::tr("an outside width along %1")
                       : m.kind == FeatureKind::spacing ? CutWords::tr("a spacing of like edges along %1")
                                                        : CutWords::tr("another depth");
  const QString what = m.kind == FeatureKind::depth ? kind : kind.arg(QChar(letter(m.axis)));
  return settles.isEmpty() ? CutWords::tr("Measure %1, of another size: the first of two that are needed.").arg(what)
                           : CutWords::tr("Measure %1, of another size: it settles %2.").arg(what, settles.join(", "));
}

}  // namespace ypsi::app
