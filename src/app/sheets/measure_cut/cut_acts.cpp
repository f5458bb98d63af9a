// What the sheet Measure the cut does: makes the test cut, keeps what it says, puts it right.
#include <QFileInfo>
#include <algorithm>

#include "app/session/job_session.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/session/phrases.h"
#include "app/session/text_file.h"
#include "app/sheets/measure_cut_sheet.h"
#include "app/to_q.h"
#include "core/book/record.h"
#include "core/book/worksheets/cut.h"
#include "core/program/head_coupon.h"
#include "core/tasks/coupon_choice.h"
#include "core/tasks/cut_heads.h"
#include "core/tasks/engraved_cut.h"
#include "core/tasks/heads.h"
#include "core/tasks/lost_motion.h"
#include "core/tasks/measure_cut.h"
#include "core/tasks/ready_check.h"
#include "core/tasks/squareness.h"
#include "core/tasks/steps_per_unit.h"
#include "core/tasks/stock_program.h"
#include "core/tasks/tools.h"
#include "core/tasks/trials.h"
#include "core/tasks/work_zero.h"

namespace ypsi::app {

std::optional<CouponKind> MeasureCutSheet::chosen_kind() const {
  const int chosen = coupon_->currentIndex();
  if (chosen > static_cast<int>(kinds_.size())) return std::nullopt;
  return chosen <= 0 ? choose_coupon(session_.editor().book()).kind : kinds_[static_cast<std::size_t>(chosen - 1)];
}

/// Another part was cut with what is in the machine now; what heads cut with has no width.
void MeasureCutSheet::cut_with(CutWorksheet& w) const {
  const Book& book = session_.editor().book();
  if (cut_by_heads(book.machine)) {
    w.coupon = name(CouponKind::heads);
    return;
  }
  w.tool = session_.machine().status().tool;
  const Tool* tool = book.tool(w.tool);
  w.tool_diameter_mm = tool ? tool->diameter : 0;
}

/// What is milled has feeds by its material.
void MeasureCutSheet::show_material() {
  const auto kind = chosen_kind();
  material_->setVisible(kind && *kind != CouponKind::heads && *kind != CouponKind::plate);
}

/// The program and the list of what is to be measured on it.
void MeasureCutSheet::make_cut() {
  const auto kind = chosen_kind();
  if (!kind) {
    change(tr("Describe another part"), [&](CutWorksheet& w) {
      w = {};
      w.instrument = instrument_->currentText().toStdString();
      cut_with(w);
    });
    nominal_->setFocus();
    return;
  }
  const Book& book = session_.editor().book();
  const auto made = make_test_cut(book, *kind, instrument_->currentText().toStdString(), 0,
                                  static_cast<CutMaterial>(std::max(0, material_->currentIndex())));
  if (!made) {
    const std::string& code = made.error().code;
    const Task& where = code == "no_tool" || code == "no_shape" ? tools_task()
                        : code == "no_depth"                    ? trials_task()
                        : code == "no_place"                    ? heads_task()
                                                                : stock_program_task();
    session_.notices().notify({NoticeLevel::attention,
                               to_q(made.error().message),
                               {{tr("Go to %1").arg(title_of(where, book.machine)),
                                 [this, &where] { session_.notices().lead_to(where.id()); }}}});
    return;
  }
  const auto written = write_beside(
      QFileInfo(session_.editor().book_path()).absolutePath() + "/test-cut-" + name(*kind) + ".ngc", made->coupon.text);
  if (!written) {
    session_.machine().ask(tl::make_unexpected(written.error()));
    return;
  }
  const QString& path = *written;
  session_.editor().change_book(
      tr("Make a test cut"),
      [&](Book& b) {
        b.worksheets[cut_worksheet] = made->worksheet;
        b.job.stock_corner = {0, 0};
      },
      MachineFollows::no);
  session_.job().load_program(path);
  session_.notices().notify(
      {NoticeLevel::good,
       cut_by_heads(worksheet())
           ? tr("The test cut is written to “%1” and loaded. Its zero is the front left corner of the piece.")
                 .arg(QFileInfo(path).fileName())
       : is_engraved(worksheet())
           ? tr("The engraving is written to “%1” and loaded. Its zero is the front left corner of the plate, "
                "tool T%2, %3 deep.")
                 .arg(QFileInfo(path).fileName())
                 .arg(made->worksheet.tool)
                 .arg(session_.editor().length(made->worksheet.depth_mm, 2))
           : tr("The test cut is written to “%1” and loaded. Its zero is the stock's front left corner, cutter "
                "T%2 of %3.")
                 .arg(QFileInfo(path).fileName())
                 .arg(made->worksheet.tool)
                 .arg(session_.editor().length(made->worksheet.tool_diameter_mm, 2)),
       {{tr("Go to Ready check"), [this] { session_.notices().lead_to(ready_check_id); }}}});
}

/// An entry about this cut, with its sizes as readings.
Entry MeasureCutSheet::entry_of_cut(const QString& subject) const {
  Entry e;
  e.time = session_.editor().now().toStdString();
  e.sheet = measure_cut_id;
  e.subject = subject.toStdString();
  e.instrument = worksheet().instrument;
  e.readings = cut_readings(worksheet());
  e.note = first_cut_note;
  return e;
}

void MeasureCutSheet::keep() {
  if (!reading_) return;
  session_.editor().change_book(tr("Keep what the part says"), [&](Book& b) {
    Entry e = entry_of_cut(cut_by_heads(worksheet()) ? QString() : QString("T%1").arg(worksheet().tool));
    e.note.clear();
    e.result = cut_result(b, *reading_);
    b.history.push_back(std::move(e));
  });
}

void MeasureCutSheet::apply(std::size_t i) {
  if (!reading_ || i >= reading_->causes.size()) return;
  const CutCause c = reading_->causes[i];
  if (!c.significant || already_applied(session_.editor().book(), c)) return;
  switch (c.kind) {
    case CutCauseKind::steps: {
      const double steps = corrected_steps(session_.editor().book().machine.axis(*c.axis).steps_per_mm, c.value);
      Entry e = entry_of_cut({});
      e.result = result_of(StepsEntry{
          .scale = 1 + c.value, .U_scale = c.U, .new_steps = steps, .U_new_steps = steps * c.U / (1 + c.value)});
      session_.machine().apply_steps(*c.axis, steps, std::move(e),
                                     tr("Correct steps per unit of %1 by the cut").arg(QChar(letter(*c.axis))));
      return;
    }
    case CutCauseKind::cutter:
      session_.editor().change_book(tr("Correct the cutter's diameter"), [&](Book& b) {
        correct_cutter(b, c, entry_of_cut(QString("T%1").arg(worksheet().tool)), *reading_);
      });
      return;
    case CutCauseKind::lost_motion:
      session_.editor().change_book(tr("Note the lost motion"), [&](Book& b) {
        Entry e = entry_of_cut(QString(QChar(letter(*c.axis))));
        e.sheet = lost_motion_id;
        e.result = result_of(LostMotionEntry{.lost_motion = c.value, .U = c.U});
        b.history.push_back(std::move(e));
      });
      return;
    case CutCauseKind::z_zero:
      if (const auto zero = session_.editor().book().job.zero(Axis::z))
        session_.machine().set_work_zero_at({{Axis::z, *zero + c.value}}, cut_readings(worksheet()),
                                            worksheet().instrument);
      else
        session_.notices().notify(
            {NoticeLevel::attention, tr("The book knows no Z zero to correct; set it on the sheet Work zero."), {}});
      return;
    case CutCauseKind::head_place:
    case CutCauseKind::trailing:
      session_.editor().change_book(tr("Correct the %1 by the cut").arg(to_q(c.head)),
                                    [&](Book& b) { correct_head(b, c, entry_of_cut({})); });
      return;
    case CutCauseKind::nose:
      session_.editor().change_book(tr("Correct the nose by the engraving"),
                                    [&](Book& b) { correct_depth_setting(b, c, entry_of_cut({})); });
      return;
    case CutCauseKind::tip:
      session_.editor().change_book(tr("Correct the tip by the engraving"), [&](Book& b) {
        correct_tip(b, c, entry_of_cut(QString("T%1").arg(worksheet().tool)));
      });
      return;
    case CutCauseKind::plate_lie:
      session_.notices().lead_to(work_zero_id);
      return;
    case CutCauseKind::blade:
      session_.notices().lead_to(heads_id);
      return;
    case CutCauseKind::lean:
      session_.notices().lead_to(squareness_id);
  }
}

}  // namespace ypsi::app
