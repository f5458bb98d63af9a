#include "app/sheets/references/rack_page.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/drawing/draft.h"
#include "app/session/book_editor.h"
#include "app/session/job_session.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/sheets/page_foot.h"
#include "app/sheets/sheet.h"
#include "app/to_q.h"

namespace ypsi::app {

/// The row of slots from above with tools and nut to scale, and its heights from the front.
class RackDrawing : public QWidget {
 public:
  RackDrawing(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
    setObjectName("rack-drawing");
    setAccessibleName(RackPage::tr("The rack's slots with their tools"));
    setMinimumHeight(200);
  }
  void show(std::vector<RackFinding> findings) {
    findings_ = std::move(findings);
    update();
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    QPainter painter(this);
    Draft draft(painter);
    const ToolRack& rack = session_.editor().book().rack;
    draft.text({8, 16}, RackPage::tr("Plan, along the row of slots"), theme().second_ink, 11);
    if (rack.slot_count < 1) {
      draft.text(QRectF(rect()).center(), RackPage::tr("no rack: type how many slots it has"), theme().second_ink, 12,
                 false, Qt::AlignHCenter);
      return;
    }
    const Spindle& spindle = session_.editor().book().machine.spindle;
    const double pitch = slot_pitch(rack), long_side = pitch * (rack.slot_count - 1);
    const double widest = std::max({spindle.nut_diameter, spindle.boot_diameter, 20.0});
    const double scale = std::min((width() - 60) / (long_side + widest), (height() * 0.4 - 70) / widest);
    const double y = 40 + widest / 2 * scale, left = (width() - long_side * scale) / 2;
    draft.box(QRectF(left - 12 * scale, y - 9 * scale, (long_side + 24) * scale, 18 * scale), theme().ink,
              theme().paper, 1.4);
    for (int n = 1; n <= rack.slot_count; ++n) {
      const QPointF c(left + pitch * (n - 1) * scale, y);
      const auto found =
          std::find_if(findings_.begin(), findings_.end(), [n](const RackFinding& f) { return f.slot == n; });
      const bool wrong = found != findings_.end();
      painter.setPen(QPen(wrong ? theme().red : theme().second_ink, 1, Qt::DashLine));
      if (spindle.nut_diameter > 0)
        painter.drawEllipse(c, spindle.nut_diameter / 2 * scale, spindle.nut_diameter / 2 * scale);
      painter.setPen(QPen(theme().ink, 1.4));
      const auto& tools = session_.editor().book().tools;
      const auto tool = std::find_if(tools.begin(), tools.end(), [n](const Tool& t) { return t.slot == n; });
      const double r = tool != tools.end() ? std::max(tool->diameter / 2 * scale, 3.0) : 3.0;
      painter.setBrush(tool != tools.end() ? theme().teal : theme().sheet);
      painter.drawEllipse(c, r, r);
      painter.setBrush(Qt::NoBrush);
      const double below = y + widest / 2 * scale + 18;
      draft.text({c.x(), below}, QString::number(n), wrong ? theme().red : theme().ink, 12, true, Qt::AlignHCenter);
      if (tool != tools.end())
        draft.text({c.x(), below + 16}, QStringLiteral("T%1").arg(tool->number), theme().teal, 11, false,
                   Qt::AlignHCenter);
      if (wrong) draft.mark({c.x(), below + 28}, Mark::crossed, 5);
    }
    draw_elevation(draft, y + widest / 2 * scale + 62);
    draft.text({12, height() - 10.0},
               RackPage::tr("First: X %1 Y %2   last: X %3 Y %4, machine")
                   .arg(len(rack.first_x_mm), len(rack.first_y_mm), len(rack.last_x_mm), len(rack.last_y_mm)),
               theme().second_ink, 11);
  }

 private:
  /// How high the spindle passes and grips, against the rack and the longest tool in it; heights not to scale.
  void draw_elevation(Draft& draft, double top) {
    const ToolRack& rack = session_.editor().book().rack;
    const double bed = height() - 44.0, room = bed - top, x = width() * 0.3;
    if (room < 70) return;
    draft.text({8, top - 4}, RackPage::tr("Front elevation"), theme().second_ink, 11);
    const QRectF block(x - 60, bed - room * 0.36, 120, room * 0.36);
    draft.box(block, theme().ink, theme().paper, 1.4);
    draft.hatch(block, theme().rule);
    draft.line({x - 120, bed}, {width() * 0.8, bed}, theme().ink, 3);
    draft.text({block.left() - 8, block.center().y() + 4}, len(rack.height_mm), theme().ink, 11, false, Qt::AlignRight);
    const double pass = top + 22, grip = top + room * 0.42;
    for (const auto& [at, words] : {std::pair{pass, RackPage::tr("passes at Z %1").arg(len(rack.clear_z_mm))},
                                    std::pair{grip, RackPage::tr("grips at Z %1").arg(len(rack.grip_z_mm))}}) {
      draft.line({x - 60, at}, {width() * 0.62, at}, theme().teal, 1, Qt::DashLine);
      draft.text({width() * 0.62 + 6, at + 4}, words, theme().teal, 11, true);
    }
    double longest = 0;
    for (const Tool& t : session_.editor().book().tools)
      if (t.slot > 0) longest = std::max(longest, t.length_out);
    draft.tool_elevation({x, pass + room * 0.22}, 8, room * 0.22, 26);
    if (longest > 0)
      draft.text({x + 14, pass + room * 0.2}, RackPage::tr("longest %1").arg(len(longest)), theme().ink, 11);
  }
  QString len(double mm) const { return to_q(format_length(mm, session_.editor().unit(), 1)); }
  Session& session_;
  std::vector<RackFinding> findings_;
};

RackPage::RackPage(Session& session) : session_(session) {
  auto* inside = make_card_page(this);
  auto* card = inside->parentWidget();
  drawing_ = new RackDrawing(session, card);
  inside->addWidget(drawing_, 1);
  result_ = make_label("rack-result", "strong", "", card);
  words_ = make_label("rack-words", "task", "", card);
  inside->addWidget(result_);
  inside->addWidget(words_);
  PageFoot foot(inside, card);
  auto *settings = foot.settings(), *acts = foot.acts();
  const auto field = [&](QLayout* row, const char* name, const QString& word, const QString& what, auto&& take) {
    auto* f = add_field(row, name, word, what, 2, session, card).field;
    connect(f, &LengthField::committed, this, take);
    return f;
  };
  slots_ = field(settings, "rack-slots", tr("Slots"), tr("How many slots; 0 where there is no rack"), [this](double n) {
    if (n < 0 || n > 200 || n != std::floor(n)) {
      session_.notices().notify({NoticeLevel::attention, tr("A rack has a whole number of slots, from 0 to 200."), {}});
      return refresh();
    }
    change(tr("Change the rack"), [n](ToolRack& r) { r.slot_count = static_cast<int>(n); });
  });
  slots_->set_unit(LengthUnit::none);
  slots_->set_decimals(0);
  height_ =
      field(settings, "rack-height", tr("Rack's height"), tr("Height of the rack above the bed"), [this](double mm) {
        if (!(mm > 0)) {
          session_.notices().notify(
              {NoticeLevel::attention, tr("A height must be above zero; it was left as it is."), {}});
          return refresh();
        }
        change(tr("Change the rack"), [mm](ToolRack& r) { r.height_mm = mm; });
      });
  grip_ = field(settings, "rack-grip", tr("Grips at Z"), tr("Machine Z at which the spindle takes a tool"),
                [this](double mm) { change(tr("Change the rack"), [mm](ToolRack& r) { r.grip_z_mm = mm; }); });
  clear_ =
      field(settings, "rack-clear", tr("Passes at Z"), tr("Machine Z at which a hanging tool passes over the rack"),
            [this](double mm) { change(tr("Change the rack"), [mm](ToolRack& r) { r.clear_z_mm = mm; }); });
  first_ = add_act(acts, "rack-first", tr("First slot is here"), tr("Takes X and Y of the first slot from the machine"),
                   card, [this] {
                     const auto at = session_.machine().status().position;
                     change(tr("Take the first slot"), [at](ToolRack& r) {
                       r.first_x_mm = at.x;
                       r.first_y_mm = at.y;
                     });
                   });
  last_ = add_act(acts, "rack-last", tr("Last slot is here"), tr("Takes X and Y of the last slot from the machine"),
                  card, [this] {
                    const auto at = session_.machine().status().position;
                    change(tr("Take the last slot"), [at](ToolRack& r) {
                      r.last_x_mm = at.x;
                      r.last_y_mm = at.y;
                    });
                  });
  take_grip_ = add_act(acts, "rack-take-grip", tr("It grips here"), tr("Takes the gripping height from the machine"),
                       card, [this] {
                         const double z = session_.machine().status().position.z;
                         change(tr("Take the gripping height"), [z](ToolRack& r) { r.grip_z_mm = z; });
                       });
  go_ = add_act(acts, "rack-go", tr("Go over slot 1"), tr("Z up to the safe height, then across; not down"), card,
                [this] {
                  const Point2 at = slot_place(session_.editor().book().rack, 1);
                  session_.job().lift_then_go_over({at.x, at.y, 0});
                });
  number_acts({first_, last_, take_grip_, go_});
  hint_ = foot.hint("rack-hint");
}

void RackPage::change(const QString& text, const std::function<void(ToolRack&)>& how) {
  session_.editor().change_book(
      text,
      [&](Book& b) {
        if (b.rack.slot_count == 0 && b.rack.clear_z_mm == 0) b.rack.clear_z_mm = b.machine.safe_height;
        how(b.rack);
      },
      MachineFollows::no);
}

std::vector<RackFinding> RackPage::findings() const {
  const Book& book = session_.editor().book();
  MachinePosition low, high;
  for (const Axis a : all_axes) {
    const auto room = session_.machine().room(a);
    low[a] = room.low;
    high[a] = room.high;
  }
  return check_rack(book.rack, book.tools, book.machine.spindle, low, high, nose_at_bed(book));
}

QString RackPage::words(const RackFinding& f) const {
  const QString by = session_.editor().length(f.short_by, 1);
  switch (f.problem) {
    case RackProblem::heights:
      return tr("✕ It must pass higher than it grips; %1 are missing.").arg(by);
    case RackProblem::outside:
      return f.slot > 0 ? tr("✕ Slot %1 is %2 outside the machine's limits.").arg(f.slot).arg(by)
                        : tr("✕ A height is %1 outside the machine's limits.").arg(by);
    case RackProblem::pitch:
      return tr("✕ Over slot %1 the nut or the boot meets the tool beside it: %2 are missing.").arg(f.slot).arg(by);
    case RackProblem::tool_too_wide:
      return tr("✕ The tools in slots %1 and %2 touch each other: %3 are missing.").arg(f.slot).arg(f.slot + 1).arg(by);
    case RackProblem::hangs_too_low:
      return tr("✕ T%1 hangs %2 too low to pass over the rack.").arg(f.tool).arg(by);
    case RackProblem::slot_twice:
      return tr("✕ Slot %1 has two tools; T%2 is one of them.").arg(f.slot).arg(f.tool);
    case RackProblem::no_such_slot:
      return tr("✕ T%1 is said to be in slot %2, which the rack does not have.").arg(f.tool).arg(f.slot);
  }
  return {};
}

void RackPage::refresh() {
  const ToolRack& rack = session_.editor().book().rack;
  for (auto* f : {grip_, clear_, height_}) f->set_unit(session_.editor().unit());
  slots_->show_value(rack.slot_count);
  grip_->show_value(rack.grip_z_mm);
  clear_->show_value(rack.clear_z_mm);
  height_->show_value(rack.height_mm);
  const auto found = findings();
  drawing_->show(found);
  const Spindle& spindle = session_.editor().book().machine.spindle;
  QStringList lines;
  for (std::size_t i = 0; i < std::min<std::size_t>(4, found.size()); ++i) lines << words(found[i]);
  if (found.size() > 4) lines << tr("and %1 more").arg(found.size() - 4);
  if (rack.slot_count > 0 && !(spindle.nut_diameter > 0))
    lines << tr(
        "○ How wide the collet nut is was never entered (sheet Build, Spindle): what hangs on the spindle cannot "
        "be checked.");
  result_->setText(
      rack.slot_count < 1 ? tr("No rack")
      : found.empty()
          ? tr("● %1 slots, %2 apart").arg(rack.slot_count).arg(session_.editor().length(slot_pitch(rack), 2))
          : tr("✕ %1 slots, %2 apart: not as it stands")
                .arg(rack.slot_count)
                .arg(session_.editor().length(slot_pitch(rack), 2)));
  words_->setText(lines.join("\n"));
  refresh_status();
}

void RackPage::refresh_status() {
  const bool there = session_.editor().book().rack.slot_count > 0, homed = session_.machine().status().all_homed();
  for (auto* b : {first_, last_, take_grip_}) b->setEnabled(there && homed && session_.machine().standing_ready());
  go_->setEnabled(there && homed && session_.machine().standing_ready());
  set_text(hint_, !there   ? tr("A row of slots, straight and evenly spaced.")
                  : !homed ? tr("Home the machine first (Ctrl+H), then bring the nose over the slots.")
                           : tr("Bring the nose over the first slot and take it, then over the last. Which tool is in "
                                "which slot is said in the table of tools."));
}

}  // namespace ypsi::app
