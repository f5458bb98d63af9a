// What the readings of Steps per unit mean, in the right column.
#include "app/sheets/steps_sheet.h"

#include <QAction>
#include <QHeaderView>
#include <QMenu>
#include <QStyle>
#include <algorithm>
#include <cmath>

#include "app/session/book_editor.h"
#include "app/session/entry_text.h"
#include "app/session/phrases.h"
#include "app/sheets/build/build_draft.h"
#include "app/sheets/steps_words.h"
#include "app/sheets/warmth_row.h"
#include "app/to_q.h"
#include "core/book/changes.h"
#include "core/book/record.h"
#include "core/calibration/temperature.h"
#include "core/tasks/limits.h"
#include "core/tasks/next_axis.h"
#include "core/tasks/steps_per_unit.h"

namespace ypsi::app {

void StepsSheet::show_finding() {
  const Book& book = session_.editor().book();
  const auto last = newest(book, steps_per_unit_id, std::string(1, letter(axis_)));
  const AxisSetup& axis = book.machine.axis(axis_);
  const bool has = result_ && !worksheet().readings.empty();
  lead_->setVisible(true);
  warmth_->refresh();
  warmth_said_->setText(warmth_words(last ? &book.history[*last] : nullptr));
  also_heading_->setVisible(false);
  also_->setText({});
  apply_->setVisible(has && result_->fit);
  put_back_->setVisible(!has && last && book.history[*last].as_found != book.history[*last].as_left);
  once_more_->setVisible(has);
  offer_drives();
  if (!has) {
    lead_->setText(tr("%1 has").arg(QChar(letter(axis_))));
    figure_->setText(to_q(format_number(axis.steps_per_mm, 2)));
    was_->setText(session_.editor().unit(axis_) == LengthUnit::degree
                      ? tr("steps per degree in the book and the controller")
                      : tr("steps per mm in the book and the controller"));
    verdict_->setText(last ? entry_text(book.history[*last], session_.editor().unit()) : tr("Never measured."));
    explanation_->setText(
        tr("You need a ruler or a caliper, and about five minutes.\n\n1. Home the machine.\n2. Move and mark: the axis "
           "takes up its slack, you mark the place, it moves.\n3. Measure from mark to mark and type it on the "
           "drawing.\n4. Repeat over other lengths, three times at least."));
    verdict_->setStyleSheet({});
    return;
  }
  const LengthUnit unit = session_.editor().unit(axis_);
  const double part = unit == LengthUnit::degree ? 360
                      : axis_ == Axis::y         ? book.job.part_height
                      : axis_ == Axis::x         ? book.job.part_width
                                                 : std::max(10.0, book.job.stock_size[2]);
  const StepsWords words = describe(input(), *result_, letter(axis_), part, longest(), unit);
  lead_->setText(words.lead);
  figure_->setText(words.figure);
  was_->setText(words.was);
  verdict_->setText(words.verdict);
  verdict_->setStyleSheet(words.good ? QString() : QStringLiteral("color: %1;").arg(theme().ochre.name()));
  explanation_->setText(words.explanation);
  if (!result_->fit) return;
  const bool leave = result_->verdict == ScaleVerdict::within_uncertainty;
  set_text(apply_, leave                                           ? tr("Record, leave as it is")
                   : result_->verdict == ScaleVerdict::gross_error ? tr("Apply all the same")
                                                                   : tr("Apply to the machine"));
  if (leave) return;
  Book then = book;
  change_steps_per_mm(then, axis_, result_->fit->new_steps);
  QStringList also;
  for (const Task* task : downstream(steps_per_unit_id)) {
    const auto standing = standing_of(book, task->id(), axis_).standing;
    if (task == &limits_task() && axis.soft_max) {
      const auto& moved = axis.home_at_max ? then.machine.axis(axis_).soft_min : then.machine.axis(axis_).soft_max;
      const auto& was = axis.home_at_max ? axis.soft_min : axis.soft_max;
      if (moved && was)
        also << tr("◐ Travel and limits: %1 → %2, carried over")
                    .arg(to_q(format_length(*was, session_.editor().unit(), 1)),
                         to_q(format_length(*moved, session_.editor().unit(), 1)));
    } else if (standing != Standing::never_done) {
      also << tr("◐ %1: measure again").arg(title_of(*task));
    }
  }
  also_heading_->setVisible(!also.isEmpty());
  also_->setText(also.join("\n"));
}

/// Where the axis was last measured on a day that was much colder or warmer: by how much the two cannot agree.
QString StepsSheet::warmth_words(const Entry* last) const {
  const auto now = session_.editor().temperature_C();
  if (!last || !last->temperature_C || !now || std::fabs(*now - *last->temperature_C) <= cannot_agree_K) return {};
  return tr("◐ Last measured at %1 °C, %2 °C now: with a steel rule on this frame the two cannot agree by %3 mm per m.")
      .arg(*last->temperature_C, 0, 'f', 0)
      .arg(*now, 0, 'f', 0)
      .arg(std::fabs(off_by_warmth(*last->temperature_C, *now)) * 1000, 0, 'f', 2);
}

/// Which reading to take next, or that this axis is done and which comes after it.
QString StepsSheet::guidance() const {
  const LengthUnit unit = session_.editor().unit(axis_);
  const QString per_m = unit == LengthUnit::degree ? tr("° per 1000°") : tr("mm per m");
  const bool reached = result_ && result_->fit && worksheet().tolerance_per_m &&
                       result_->fit->U_scale / result_->fit->scale * 1000 <= *worksheet().tolerance_per_m &&
                       worksheet().readings.size() >= 3;
  const auto wanting = next_axis(session_.editor().book());
  const bool wants_this = wanting && (wanting->axis == axis_ || !worksheet().readings.empty());
  if (reached || !wants_this) {
    const auto next = reached ? next_axis(session_.editor().book(), axis_) : wanting;
    if (!next) return reached ? tr("Known as well as wanted.") : tr("All axes are known as well as wanted.");
    const QChar name(letter(next->axis));
    const QString why = next->why == WhyMeasure::never_done ? tr("never measured")
                        : next->why == WhyMeasure::out_of_date
                            ? tr("out of date")
                            : tr("known to ±%1 %2").arg(next->U_per_m, 0, 'g', 2).arg(per_m);
    return reached ? tr("Known as well as wanted. After it: %1, %2.").arg(name).arg(why)
                   : tr("Next: %1, %2.").arg(name).arg(why);
  }
  if (tries_short())
    return tr("First a short one, %1 %2: a wrong drive shows at once, with room to spare.")
        .arg(to_q(format_length(std::fabs(suggested_distance()), unit, 0)), to_q(unit_name(unit)));
  if (!next_) return tr("Three readings or more, as long as the axis allows.");
  const QString where = tr("%1 %2, %3")
                            .arg(to_q(format_length(std::fabs(suggested_distance()), unit, 0)), to_q(unit_name(unit)),
                                 next_->reversed ? tr("started from the other side") : tr("from the same side"));
  const QString best =
      worksheet().readings.empty() ? tr("Best first: %1.").arg(where) : tr("Best next: %1.").arg(where);
  const double asked = worksheet().tolerance_per_m.value_or(0);
  const auto ahead = readings_ahead(input(), longest());
  if (!ahead || (ahead->reaches && ahead->readings == 1))
    return best + " " + tr("It tells ±%1 %2.").arg(next_->U_per_m, 0, 'g', 2).arg(per_m);
  if (ahead->reaches)
    return best + " " + tr("%1 such readings reach ±%2 %3.").arg(ahead->readings).arg(asked, 0, 'g', 2).arg(per_m);
  return best + " " +
         tr("%1 more with this %2 reach ±%3 only, not ±%4.")
             .arg(ahead->readings)
             .arg(instrument_name())
             .arg(ahead->U_per_m, 0, 'g', 2)
             .arg(asked, 0, 'g', 2);
}

}  // namespace ypsi::app
