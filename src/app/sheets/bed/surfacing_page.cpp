#include "app/sheets/bed/surfacing_page.h"

#include <QButtonGroup>
#include <QDir>
#include <QFileInfo>
#include <algorithm>
#include <cmath>

#include "app/drawing/draft.h"
#include "app/session/book_editor.h"
#include "app/session/job_session.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/sheets/page_foot.h"
#include "app/to_q.h"
#include "core/book/worksheets/bed.h"
#include "core/motion/machine_kinematics.h"
#include "core/motion/planner.h"
#include "core/tasks/bed_spindle.h"
#include "core/tasks/cut.h"

namespace ypsi::app {
namespace {

constexpr double plunge_mm_min = 300, lift_mm = 5;
constexpr double surfacing_rounding = 1e-6;

}  // namespace

SurfacingDrawing::SurfacingDrawing(QWidget* parent) : QWidget(parent) {
  setObjectName("surfacing-drawing");
  setAccessibleName(SurfacingPage::tr("The area to surface and the tool's path over it"));
  setMinimumHeight(190);
}

void SurfacingDrawing::show(const QRectF& room, const BedWorksheet& sheet, const std::optional<Surfacing>& made,
                            LengthUnit unit) {
  room_ = room;
  sheet_ = sheet;
  made_ = made;
  unit_ = unit;
  update();
}

void SurfacingDrawing::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  Draft draft(painter);
  const double scale =
      std::min((width() - 60) / std::max(1.0, room_.width()), (height() - 56) / std::max(1.0, room_.height()));
  const QRectF r((width() - room_.width() * scale) / 2, 26 + (height() - 52 - room_.height() * scale) / 2,
                 room_.width() * scale, room_.height() * scale);
  const auto at = [&](double x, double y) {
    return QPointF(r.left() + (x - room_.left()) * scale, r.bottom() - (y - room_.top()) * scale);
  };
  draft.text({8, 14}, SurfacingPage::tr("Plan, from work zero; dashed: the soft limits"), theme().second_ink, 11);
  draft.box(r, theme().red, theme().paper, 1, Qt::DashLine);
  const QRectF area(at(sheet_.area_x_mm, sheet_.area_y_mm + sheet_.area_height_mm),
                    at(sheet_.area_x_mm + sheet_.area_width_mm, sheet_.area_y_mm));
  if (made_) {
    // What the cutter takes, then where its centre goes.
    const double cutter = sheet_.cutter_mm * scale / 2;
    QColor swept = theme().cut;
    swept.setAlpha(150);
    painter.setPen(Qt::NoPen);
    painter.setBrush(swept);
    painter.drawRoundedRect(area.adjusted(-cutter, 0, cutter, 0).intersected(QRectF(rect())), cutter, cutter);
    painter.setBrush(Qt::NoBrush);
    const Program& p = made_->program;
    painter.setPen(QPen(theme().teal, 1.2));
    for (std::size_t i = 1; i < p.motions.size(); ++i) {
      if (!is_cut(p.motions[i])) continue;
      const WorkPosition from = p.begin_of(i), &to = p.motions[i].end;
      painter.drawLine(at(from.x, from.y), at(to.x, to.y));
    }
  }
  draft.box(area, theme().ink, Qt::transparent, 1.8);
  draft.text({area.center().x(), area.bottom() + 16},
             SurfacingPage::tr("%1 × %2 %3")
                 .arg(to_q(format_length(sheet_.area_width_mm, unit_, 0)),
                      to_q(format_length(sheet_.area_height_mm, unit_, 0)), to_q(unit_name(unit_))),
             theme().ink, 12, true, Qt::AlignHCenter);
  if (room_.contains(QPointF(0, 0))) draft.zero(at(0, 0));
}

SurfacingPage::SurfacingPage(Session& session) : BedPage(session) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  auto* card = make_card(this);
  auto* inside = new QVBoxLayout(card);
  inside->setContentsMargins(14, 10, 14, 10);
  drawing_ = new SurfacingDrawing(card);
  inside->addWidget(drawing_, 1);
  PageFoot foot(inside, card);
  auto* area = foot.settings();
  auto* tool = foot.settings();
  auto* ways = foot.settings();
  const auto field = [&](WrappedRow* row, const char* name, const QString& word, const QString& what, int decimals) {
    auto* f = add_field(row, name, word, what, decimals, session, card).field;
    f->setFixedWidth(76);
    return f;
  };
  x_ = field(area, "area-x", tr("From X"), tr("Left edge of the area, from work zero"), 0);
  y_ = field(area, "area-y", tr("Y"), tr("Front edge of the area, from work zero"), 0);
  width_ = field(area, "area-width", tr("wide"), tr("Along X"), 0);
  height_ = field(area, "area-height", tr("high"), tr("Along Y"), 0);
  cutter_ = field(tool, "surface-cutter", tr("Cutter ⌀"), tr("A flat cutter's diameter"), 1);
  stepover_ = field(tool, "surface-stepover", tr("stepover"), tr("From pass to pass, below the cutter's diameter"), 1);
  depth_ = field(tool, "surface-depth", tr("deep"), tr("How much comes off altogether"), 2);
  layer_ = field(tool, "surface-layer", tr("a layer"), tr("How much in one layer, at most"), 2);
  feed_ = field(ways, "surface-feed", tr("Feed"), tr("Feed, mm a minute"), 0);
  rpm_ = field(ways, "surface-rpm", tr("rpm"), tr("Spindle, turns a minute; 0 leaves it to your hand"), 0);
  for (auto* f : {feed_, rpm_}) f->set_unit(LengthUnit::none);
  const auto chip = [&](const char* name, const QString& text, bool BedWorksheet::*what, bool value,
                        QButtonGroup* group) {
    auto* button = make_chip(name, text, tr("The way the passes run"), card, group);
    connect(button, &QPushButton::clicked, this, [this, what, value] {
      change(tr("Choose the passes"), [&](BedWorksheet& w) { w.*what = value; });
      refresh();
    });
    ways->addWidget(button);
    return button;
  };
  auto *axis = new QButtonGroup(this), *sense = new QButtonGroup(this);
  along_x_ = chip("passes-x", tr("along X"), &BedWorksheet::along_y, false, axis);
  along_y_ = chip("passes-y", tr("along Y"), &BedWorksheet::along_y, true, axis);
  ways->addSpacing(8);
  both_ = chip("passes-both", tr("both ways"), &BedWorksheet::one_way, false, sense);
  one_ = chip("passes-one", tr("one way"), &BedWorksheet::one_way, true, sense);
  column->addWidget(card, 1);

  const auto place = [this](LengthField* f, double BedWorksheet::*what) {
    connect(f, &LengthField::committed, this, [this, what](double mm) {
      change(tr("Move the area"), [&](BedWorksheet& w) { w.*what = mm; });
      refresh();
    });
  };
  place(x_, &BedWorksheet::area_x_mm);
  place(y_, &BedWorksheet::area_y_mm);
  take_positive(width_, &BedWorksheet::area_width_mm, tr("Change the area"));
  take_positive(height_, &BedWorksheet::area_height_mm, tr("Change the area"));
  take_positive(cutter_, &BedWorksheet::cutter_mm, tr("Change the cutter"));
  take_positive(stepover_, &BedWorksheet::stepover_mm, tr("Change the stepover"));
  take_positive(depth_, &BedWorksheet::depth_mm, tr("Change the depth"));
  take_positive(layer_, &BedWorksheet::layer_mm, tr("Change the layers"));
  take_positive(feed_, &BedWorksheet::feed_mm_min, tr("Change the feed"));
  connect(rpm_, &LengthField::committed, this, [this](double rpm) {
    change(tr("Change the speed"), [&](BedWorksheet& w) { w.rpm = std::max(0.0, rpm); });
    refresh();
  });
}

QRectF SurfacingPage::room() const {
  const auto x = session_.machine().room(Axis::x), y = session_.machine().room(Axis::y);
  const WorkZero& zero = session_.machine().status().work_zero;
  return {x.low - zero.x, y.low - zero.y, x.size(), y.size()};
}

Result<Surfacing> SurfacingPage::make() const {
  const BedWorksheet& w = worksheet();
  SurfacingPlan plan;
  plan.x0 = w.area_x_mm;
  plan.y0 = w.area_y_mm;
  plan.width = w.area_width_mm;
  plan.height = w.area_height_mm;
  plan.cutter_diameter = w.cutter_mm;
  plan.stepover = w.stepover_mm;
  plan.depth = w.depth_mm;
  plan.depth_per_pass = w.layer_mm;
  plan.feed = w.feed_mm_min;
  plan.plunge_feed = plunge_mm_min;
  plan.lift = lift_mm;
  plan.frame = session_.editor().book().job.frame;
  plan.spin_up_s = spin_up_of(session_.editor().book().machine.spindle);
  plan.rpm = w.rpm;
  plan.along_y = w.along_y;
  plan.way = w.one_way ? SurfacingWay::one_way : SurfacingWay::both_ways;
  auto made = surfacing_program(plan);
  if (!made) return made;
  const QRectF r = room();
  const Extents& e = made->reach;
  if (e.low.x < r.left() - surfacing_rounding || e.high.x > r.right() + surfacing_rounding ||
      e.low.y < r.top() - surfacing_rounding || e.high.y > r.bottom() + surfacing_rounding)
    return fail(
        "limit",
        tr("The tool would leave the soft limits: make the area smaller, or move it to where X goes from %1 to %2 "
           "and Y from %3 to %4.")
            .arg(r.left(), 0, 'f', 1)
            .arg(r.right(), 0, 'f', 1)
            .arg(r.top(), 0, 'f', 1)
            .arg(r.bottom(), 0, 'f', 1)
            .toStdString(),
        "area");
  const auto z = session_.machine().room(Axis::z);
  const double zero_z = session_.machine().status().work_zero.z;
  if (session_.editor().book().job.zero(Axis::z) && (zero_z + e.low.z < z.low || zero_z + e.high.z > z.high))
    return fail(
        "limit",
        tr("At this work zero Z would leave its soft limits: set Z zero on the bed's highest place.").toStdString(),
        "z");
  return made;
}

PageFinding SurfacingPage::finding() const {
  PageFinding f;
  f.lead = tr("Surfacing the bed");
  if (!made_) return f;
  const auto& made = *made_;
  if (!made) {
    f.verdict = tr("◐ %1").arg(to_q(made.error().message));
    f.text = tr(
        "You need a flat cutter that the spindle carries, the bed's highest place as Z zero, and nothing on the bed.");
    return f;
  }
  f.figure =
      to_q(format_duration(estimate_time(made->program, kinematics_of(session_.editor().book().machine)).total_s));
  f.spread = made->layers == 1 ? tr("%1 passes in one layer of %2").arg(made->passes).arg(len(worksheet().depth_mm, 2))
                               : tr("%1 passes in each of %2 layers of %3")
                                     .arg(made->passes)
                                     .arg(made->layers)
                                     .arg(len(worksheet().depth_mm / made->layers, 2));
  f.verdict = tr("● The tool's centre stays inside the limits.");
  f.text = tr("The cutter reaches %1 beyond the area at the ends of its passes: nothing must stand there. Afterwards "
              "everything that was measured from the bed is out of date.")
               .arg(len(worksheet().cutter_mm / 2, 1));
  f.keep = tr("Write it and load it");
  f.can_keep = true;
  f.second = tr("The bed is surfaced");
  return f;
}

void SurfacingPage::keep() {
  if (!made_ || !*made_) return;
  const auto& made = *made_;
  const auto path = write_beside(QFileInfo(session_.editor().book_path()).dir().filePath("surfacing.ngc"), made->text);
  if (!path) {
    session_.machine().ask(tl::make_unexpected(path.error()));
    return;
  }
  session_.job().load_program(*path);
  session_.notices().lead_to(cut_id);
}

void SurfacingPage::second() {
  session_.editor().change_book(
      tr("Surface the bed"),
      [&](Book& b) {
        const BedWorksheet& w = b.worksheets[bed_worksheet];
        Entry e = entry(surface_subject);
        e.result = result_of(SurfaceEntry{tr("bed surfaced").toStdString(), w.depth_mm});
        e.as_found = {{"bed.height_mm", 0}};
        e.as_left = {{"bed.height_mm", -w.depth_mm}};
        b.history.push_back(std::move(e));
        b.worksheets[bed_worksheet].map.clear();
      },
      MachineFollows::no);
}

void SurfacingPage::refresh() {
  if (!(worksheet().area_width_mm > 0)) {
    // The whole room, once it is known.
    const QRectF r = room();
    session_.editor().note_in_book([&](Book& b) {
      auto& w = b.worksheets[bed_worksheet];
      w.area_x_mm = std::ceil(r.left());
      w.area_y_mm = std::ceil(r.top());
      w.area_width_mm = std::max(1.0, std::floor(r.right()) - w.area_x_mm);
      w.area_height_mm = std::max(1.0, std::floor(r.bottom()) - w.area_y_mm);
    });
    return;
  }
  const BedWorksheet& w = worksheet();
  for (auto* f : {cutter_, stepover_, depth_, layer_, x_, y_, width_, height_}) f->set_unit(session_.editor().unit());
  cutter_->show_value(w.cutter_mm);
  stepover_->show_value(w.stepover_mm);
  depth_->show_value(w.depth_mm);
  layer_->show_value(w.layer_mm);
  feed_->show_value(w.feed_mm_min);
  rpm_->show_value(w.rpm);
  x_->show_value(w.area_x_mm);
  y_->show_value(w.area_y_mm);
  width_->show_value(w.area_width_mm);
  height_->show_value(w.area_height_mm);
  (w.along_y ? along_y_ : along_x_)->setChecked(true);
  (w.one_way ? one_ : both_)->setChecked(true);
  made_ = make();
  drawing_->show(room(), w, *made_ ? std::optional(**made_) : std::nullopt, session_.editor().unit());
  emit found();
}

}  // namespace ypsi::app
