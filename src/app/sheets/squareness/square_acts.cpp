// What is done on Squareness: marks, distances, and what is set by what was found.
#include "app/sheets/squareness_sheet.h"

#include <QFileDialog>
#include <algorithm>
#include <cmath>

#include "app/session/book_editor.h"
#include "app/session/job_session.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/session/text_file.h"
#include "app/sheets/copy_beside.h"
#include "core/book/worksheets/reversal.h"
#include "core/book/worksheets/squareness.h"
#include "core/calibration/next_distance.h"
#include "core/calibration/squareness.h"
#include "core/program/corrected_copy.h"
#include "core/program/interpreter.h"
#include "core/program/program_head.h"
#include "core/tasks/build.h"
#include "core/tasks/squareness.h"
#include "core/tasks/standing.h"
#include "core/tasks/steps_per_unit.h"
#include "core/tasks/work_zero.h"

namespace ypsi::app {
namespace {

constexpr double margin_mm = 10, mark_depth_mm = 0.5, program_lift_mm = 5, program_feed = 600;

constexpr std::ptrdiff_t most_of_a_pair = 4;  // fields that a diagonal has room for

/// Both diagonals, which tell the lean; two sides as well where they have to tell the scales.
std::vector<MarkDistance> usual_distances(bool scales_known) {
  std::vector<MarkDistance> all{{0, 2, 0}, {1, 3, 0}};
  if (!scales_known) all.insert(all.end(), {{0, 1, 0}, {0, 3, 0}});
  return all;
}

std::vector<MarkedPoint> corners(double x, double y, double width, double height) {
  return {{"A", {x, y}}, {"B", {x + width, y}}, {"C", {x + width, y + height}}, {"D", {x, y + height}}};
}

}  // namespace

void SquarenessSheet::set_corners(double width, double height) {
  const auto x = session_.machine().room(Axis::x), y = session_.machine().room(Axis::y);
  if (!(width > 0 && height > 0) || width > x.size() - margin_mm || height > y.size() - margin_mm) {
    session_.notices().notify({NoticeLevel::attention,
                               tr("Marks of %1 × %2 do not fit: the travel leaves %3 × %4.")
                                   .arg(length(width, 0), length(height, 0), length(x.size() - margin_mm, 0),
                                        length(y.size() - margin_mm, 0)),
                               {}});
    refresh();
    return;
  }
  change(tr("Choose the marks"), [&](SquareWorksheet& w) {
    // In the middle of the travel, on whole millimetres; what was measured between other marks does not hold.
    w.points = corners(std::round(x.low + (x.size() - width + margin_mm / 2) / 2),
                       std::round(y.low + (y.size() - height + margin_mm / 2) / 2), width, height);
    w.distances = usual_distances(scales_known());
  });
}

void SquarenessSheet::mark() {
  if (!session_.machine().must_be_there()) return;
  if (worksheet().points.empty()) set_corners(width_->value().value_or(0), height_->value().value_or(0));
  if (worksheet().points.empty()) return;
  if (!session_.editor().book().job.zero(Axis::z)) {
    session_.notices().notify(
        {NoticeLevel::attention,
         tr("How high the board lies is not known, so the marks would be in the air or too deep. Set Z zero "
            "on the board first."),
         {{tr("Go to work zero"), [this] { session_.notices().lead_to(work_zero_id); }}}});
    return;
  }
  MarkingWay way;
  way.lift_z = session_.editor().book().machine.safe_height;
  way.mark_z = session_.machine().status().work_zero.z - mark_depth_mm;
  way.rate = session_.editor().book().machine.axis(Axis::x).max_rate;
  way.plunge_rate = session_.editor().book().machine.axis(Axis::z).max_rate / 4;
  if (session_.machine().start(marking_, worksheet().points, way)) refresh_status();
}

void SquarenessSheet::write_program() {
  if (worksheet().points.empty()) set_corners(width_->value().value_or(0), height_->value().value_or(0));
  const QString path = QFileDialog::getSaveFileName(this, tr("Write the marks"), "marks.ngc", tr("G-code (*.ngc)"));
  if (path.isEmpty()) return;
  const std::string text =
      marking_program(worksheet().points, mark_depth_mm,
                      std::max(program_lift_mm, tallest_clamp(session_.editor().book()) + over_clamps_mm), program_feed,
                      session_.editor().book().job.frame);
  const auto read = read_program(text);  // nothing is written that this program would not take itself
  session_.machine().ask(read ? write_file(path, text) : tl::make_unexpected(read.error()));
}

bool SquarenessSheet::scales_known() const {
  const auto current = [&](Axis a) {
    return standing_of(session_.editor().book(), steps_per_unit_id, a).standing == Standing::current;
  };
  return current(Axis::x) && current(Axis::y);
}

void SquarenessSheet::add_distance(std::size_t from, std::size_t to) {
  const SquareWorksheet& w = worksheet();
  const auto& all = w.distances;
  const auto same = [&](const MarkDistance& d) {
    return (d.from == from && d.to == to) || (d.from == to && d.to == from);
  };
  // One that is not read yet, else the first; a diagonal is read again, which tells as much as another would.
  auto there =
      std::find_if(all.begin(), all.end(), [&](const MarkDistance& d) { return same(d) && !(d.measured > 0); });
  if (there == all.end()) there = std::find_if(all.begin(), all.end(), same);
  const bool again = there != all.end() && there->measured > 0 && !is_side(w, *there) &&
                     std::count_if(all.begin(), all.end(), same) < most_of_a_pair;
  const auto at = again ? all.size() : static_cast<std::size_t>(there - all.begin());
  if (again) {
    change(tr("Read a distance again"), [&, copy = *there](SquareWorksheet& sheet) mutable {
      copy.measured = 0;
      sheet.distances.push_back(copy);
    });
  } else if (there == all.end()) {
    change(tr("Add a distance"), [&](SquareWorksheet& sheet) {
      sheet.distances.push_back(
          {std::min(from, to), std::max(from, to), 0, HoleEdge::center, hole_->value().value_or(0)});
    });
  }
  drawing_->field(at)->setFocus();
}

void SquarenessSheet::add_proposed() {
  const SquareWorksheet& w = worksheet();
  if (result_ && !result_->missing.empty() && !(result_->fit && scales_known())) {
    add_distance(result_->missing.front()[0], result_->missing.front()[1]);
    return;
  }
  if (const auto next = next_distance(input())) {
    add_distance(next->from, next->to);
    return;
  }
  // Otherwise the longest that is not drawn yet.
  std::optional<std::pair<std::size_t, std::size_t>> best;
  double longest = 0;
  for (std::size_t a = 0; a < w.points.size(); ++a)
    for (std::size_t b = a + 1; b < w.points.size(); ++b) {
      const double size = std::hypot(w.points[b].commanded.x - w.points[a].commanded.x,
                                     w.points[b].commanded.y - w.points[a].commanded.y);
      const bool drawn = std::any_of(w.distances.begin(), w.distances.end(), [&](const MarkDistance& d) {
        return std::min(d.from, d.to) == a && std::max(d.from, d.to) == b;
      });
      if (drawn || size <= longest) continue;
      longest = size;
      best = {a, b};
    }
  if (best) add_distance(best->first, best->second);
}

void SquarenessSheet::turn_edge(std::size_t i) {
  change(tr("Measure over other edges"), [&](SquareWorksheet& w) {
    auto& d = w.distances[i];
    d.edge = static_cast<HoleEdge>((static_cast<int>(d.edge) + 1) % 3);
    d.hole_diameter = hole_->value().value_or(0);
  });
}

void SquarenessSheet::take_out(std::size_t i) {
  change(tr("Take a distance out"),
         [&](SquareWorksheet& w) { w.distances.erase(w.distances.begin() + static_cast<std::ptrdiff_t>(i)); });
}

void SquarenessSheet::read_next() {
  const auto& all = worksheet().distances;
  const auto next = std::find_if(all.begin(), all.end(), [](const MarkDistance& d) { return !(d.measured > 0); });
  if (next == all.end()) return;
  session_.machine().look(
      this,
      [from = worksheet().points[next->from].name, to = worksheet().points[next->to].name,
       with = instruments_->currentText().toStdString()](Bench& b) { return b.read_between(from, to, with); },
      [this, asked = *next](double read) {
        const auto& now = worksheet().distances;
        const auto at = std::find(now.begin(), now.end(), asked);  // the list may be another meanwhile
        if (at == now.end()) return;
        const auto i = static_cast<std::size_t>(at - now.begin());
        change(tr("Read a distance"), [&](SquareWorksheet& w) { w.distances[i].measured = read; });
      });
}

Entry SquarenessSheet::finding_entry() const {
  Entry entry;
  entry.time = session_.editor().now().toStdString();
  entry.sheet = squareness_id;
  entry.instrument = worksheet().instrument;
  for (const auto& d : input().distances)
    entry.readings.push_back({{"from", worksheet().points[d.from].name},
                              {"to", worksheet().points[d.to].name},
                              {"measured_mm", d.measured},
                              {"hole_diameter_mm", d.edge == HoleEdge::center ? 0 : d.hole_diameter}});
  const SquareFit& fit = *result_->fit;
  SquarenessEntry result{.skew_mrad = fit.skew * 1000, .U_skew_mrad = fit.U_skew * 1000, .k = fit.coverage.k};
  if (fit.model == SquareModel::affine) {
    result.scale_x = fit.scale_x;
    result.scale_y = fit.scale_y;
    result.U_scale_x = fit.U_scale_x;
    result.U_scale_y = fit.U_scale_y;
  }
  entry.result = result_of(result);
  return entry;
}

void SquarenessSheet::keep() {
  if (!result_ || !result_->fit) return;
  session_.editor().change_book(
      tr("Keep the squareness"),
      [&](Book& b) {
        b.history.push_back(finding_entry());
        for (auto& d : b.worksheets[square_worksheet]->distances) d.measured = 0;
      },
      MachineFollows::no);
}

void SquarenessSheet::beam_moved() {
  if (!result_ || !result_->fit || !result_->fit->gantry) return;
  const GantryMove& move = *result_->fit->gantry;
  const std::string end = move.right ? "machine.beam_right_end_mm" : "machine.beam_left_end_mm";
  session_.editor().change_book(
      tr("Move the beam"),
      [&](Book& b) {
        b.history.push_back(finding_entry());
        Entry moved;
        moved.time = session_.editor().now().toStdString();
        moved.sheet = build_id;
        moved.subject = "XY";
        moved.as_found = {{end, 0}};
        moved.as_left = {{end, move.towards_plus ? move.distance : -move.distance}};
        moved.result = result_of(SaidEntry{tr("beam moved by hand").toStdString()});
        b.history.push_back(std::move(moved));
        for (auto& d : b.worksheets[square_worksheet]->distances) d.measured = 0;
      },
      MachineFollows::no);
}

void SquarenessSheet::set_offset() {
  if (!result_ || !result_->fit || !result_->fit->gantry || !session_.machine().may_set()) return;
  const std::string setting = axis_setting(Axis::y, "second_switch_offset_mm");
  const auto found = session_.machine().link()->setting(setting);
  if (!found) {
    session_.machine().ask(tl::make_unexpected(found.error()));
    return;
  }
  const GantryMove& move = *result_->fit->gantry;
  const double left = *found + (move.towards_plus ? move.distance : -move.distance);
  if (!session_.machine().ask(session_.machine().link()->set_setting(setting, left))) return;
  // The book knows it from now on, so that undoing sets it back.
  session_.editor().note_in_book([&](Book& b) { b.machine.second_switch_offset = *found; });
  session_.editor().change_book(tr("Set the right side's offset"), [&](Book& b) {
    b.machine.second_switch_offset = left;
    b.history.push_back(finding_entry());
    Entry set;
    set.time = session_.editor().now().toStdString();
    set.sheet = build_id;
    set.subject = "XY";
    set.as_found = {{setting, *found}};
    set.as_left = {{setting, left}};
    set.result = result_of(SaidEntry{tr("offset of the beam's right switch").toStdString()});
    b.history.push_back(std::move(set));
    for (auto& d : b.worksheets[square_worksheet]->distances) d.measured = 0;
  });
  session_.machine().keep_settings();
  session_.notices().notify({NoticeLevel::attention,
                             tr("The offset counts from the next homing: home, put the marks down again, and measure."),
                             {{tr("Home now"), [this] { session_.machine().home(); }}}});
}

void SquarenessSheet::add_mark_here() {
  const MachinePosition& at = session_.machine().status().position;
  const MachinePoint place{std::round(at.x * 100) / 100, std::round(at.y * 100) / 100};
  const auto& points = worksheet().points;
  if (std::any_of(points.begin(), points.end(), [&](const MarkedPoint& p) {
        return std::hypot(p.commanded.x - place.x, p.commanded.y - place.y) < margin_mm;
      })) {
    session_.notices().notify(
        {NoticeLevel::attention, tr("There is a mark already, less than %1 away.").arg(length(margin_mm, 0)), {}});
    return;
  }
  change(tr("Add a mark"), [&](SquareWorksheet& w) {
    w.points.push_back({w.points.size() < 26 ? std::string(1, static_cast<char>('A' + w.points.size()))
                                             : "P" + std::to_string(w.points.size() + 1),
                        place});
  });
}

void SquarenessSheet::write_corrected_copy() {
  if (!result_ || !result_->fit) return;
  const SquareFit& fit = *result_->fit;
  // Only what can be told apart from nothing is taken out.
  PlaneErrors errors;
  if (std::fabs(fit.skew) > fit.U_skew) errors.skew = fit.skew;
  if (fit.model == SquareModel::affine) {
    if (std::fabs(fit.scale_x - 1) > fit.U_scale_x) errors.scale_x = fit.scale_x;
    if (std::fabs(fit.scale_y - 1) > fit.U_scale_y) errors.scale_y = fit.scale_y;
  }
  const auto made = copy_beside(session_, this, "-corrected",
                                [&](std::string_view text) { return corrected_copy(text, errors, lines_within_mm); });
  if (!made) return;
  const QString to = made->path;
  session_.notices().notify(
      {NoticeLevel::good,
       tr("“%1” has a lean of %2 mrad and scales %3 and %4 taken out; its places moved by %5 at most, %6 arcs "
          "became lines within %7.")
           .arg(QFileInfo(to).fileName())
           .arg(errors.skew * 1000, 0, 'f', 2)
           .arg(errors.scale_x, 0, 'f', 5)
           .arg(errors.scale_y, 0, 'f', 5)
           .arg(length(made->copy.largest_change, 2))
           .arg(made->copy.arcs)
           .arg(length(lines_within_mm, 3)),
       {{tr("Load it"), [this, to] { session_.job().load_program(to); }}}});
}

void SquarenessSheet::keep_reversal() {
  const auto found = reversal_->result();
  if (!found) return;
  session_.editor().change_book(
      tr("Keep the squareness"),
      [&](Book& b) {
        const ReversalWorksheet& w = b.worksheets[reversal_worksheet];
        Entry e;
        e.time = session_.editor().now().toStdString();
        e.sheet = squareness_id;
        e.instrument = w.instrument;
        e.readings.push_back({{"length_mm", w.length_mm}, {"first_mm", *w.first_mm}, {"turned_mm", *w.turned_mm}});
        e.result = result_of(SquarenessEntry{
            .skew_mrad = found->skew * 1000, .U_skew_mrad = found->U * 1000, .square_mrad = found->square * 1000});
        b.history.push_back(std::move(e));
        b.worksheets[reversal_worksheet].first_mm.reset();
        b.worksheets[reversal_worksheet].turned_mm.reset();
      },
      MachineFollows::no);
}

}  // namespace ypsi::app
