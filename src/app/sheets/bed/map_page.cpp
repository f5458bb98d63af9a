#include "app/sheets/bed/map_page.h"

#include <algorithm>
#include <cmath>

#include "app/drawing/draft.h"
#include "app/session/book_editor.h"
#include "app/session/entry_text.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/sheets/page_foot.h"
#include "app/sheets/references/circuit_words.h"
#include "app/to_q.h"
#include "core/book/worksheets/bed.h"
#include "core/book/worksheets/surface.h"
#include "core/calibration/surface_map.h"
#include "core/tasks/bed_spindle.h"

namespace ypsi::app {
namespace {

constexpr double inset_mm = 20, crossing_rate = 3000, search_mm = 12;
constexpr int most_contours = 6, shades = 24;

QColor between(const QColor& a, const QColor& b, double t) {
  const auto mix = [t](int p, int q) { return static_cast<int>(std::lround(p + (q - p) * t)); };
  return {mix(a.red(), b.red()), mix(a.green(), b.green()), mix(a.blue(), b.blue())};
}

}  // namespace

MapDrawing::MapDrawing(QWidget* parent) : QWidget(parent) {
  setObjectName("bed-map");
  setAccessibleName(MapPage::tr("The bed's heights, shaded, with level lines"));
  setMinimumHeight(260);
}

void MapDrawing::show(const QRectF& room, int columns, int rows, const std::vector<MapPoint>& points, LengthUnit unit) {
  room_ = room;
  columns_ = columns;
  rows_ = rows;
  points_ = points;
  unit_ = unit;
  update();
}

/// The points as a grid, once every one is there.
std::optional<HeightGrid> MapDrawing::grid() const {
  std::vector<BedPoint> all;
  for (const auto& p : points_) all.push_back({p.x_mm, p.y_mm, p.z_mm});
  auto found = height_grid(all);
  return found ? std::optional(std::move(*found)) : std::nullopt;
}

void MapDrawing::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  Draft draft(painter);
  const double scale =
      std::min((width() - 130) / std::max(1.0, room_.width()), (height() - 60) / std::max(1.0, room_.height()));
  const QRectF r(24, 26 + (height() - 60 - room_.height() * scale) / 2, room_.width() * scale, room_.height() * scale);
  const auto at = [&](double x, double y) {
    return QPointF(r.left() + (x - room_.left()) * scale, r.bottom() - (y - room_.top()) * scale);
  };
  draft.text({8, 14}, MapPage::tr("Plan; machine coordinates"), theme().second_ink, 11);
  draft.box(r, theme().ink, theme().paper, 1.4);
  double low = 1e9, high = -1e9;
  for (const auto& p : points_) {
    low = std::min(low, p.z_mm.mm);
    high = std::max(high, p.z_mm.mm);
  }
  const double range = std::max(1e-9, high - low);
  const auto g = grid();
  if (g) {
    for (std::size_t row = 0; row + 1 < g->ys.size(); ++row)
      for (std::size_t c = 0; c + 1 < g->xs.size(); ++c)
        for (int i = 0; i < shades; ++i)
          for (int j = 0; j < shades; ++j) {
            const double u = (i + 0.5) / shades, v = (j + 0.5) / shades;
            const double z = (g->at(c, row) * (1 - u) + g->at(c + 1, row) * u) * (1 - v) +
                             (g->at(c, row + 1) * (1 - u) + g->at(c + 1, row + 1) * u) * v;
            const double dx = (g->xs[c + 1] - g->xs[c]) / shades, dy = (g->ys[row + 1] - g->ys[row]) / shades;
            const QPointF a = at(g->xs[c] + i * dx, g->ys[row] + (j + 1) * dy),
                          b = at(g->xs[c] + (i + 1) * dx, g->ys[row] + j * dy);
            painter.fillRect(QRectF(a, b).adjusted(0, 0, 0.6, 0.6),
                             between(theme().cut, theme().stock, (z - low) / range));
          }
    const double step = contour_step(range, most_contours);
    for (double level = std::ceil(low / step) * step; level < high; level += step) {
      const auto pieces = contour(*g, level);
      for (const auto& piece : pieces)
        draft.line(at(piece.from.x, piece.from.y), at(piece.to.x, piece.to.y), theme().ink, 1.2);
    }
    draft.text({r.right() + 12, r.top() + 12}, MapPage::tr("step %1").arg(to_q(format_length(step, unit_, 3))),
               theme().ink, 11, true);
    draft.text({r.right() + 12, r.top() + 28}, to_q(unit_name(unit_)), theme().second_ink, 11);
    for (int i = 0; i < 40; ++i)
      painter.fillRect(QRectF(r.right() + 14, r.top() + 44 + i * 3, 16, 3.4),
                       between(theme().stock, theme().cut, i / 39.0));
    draft.text({r.right() + 36, r.top() + 54}, MapPage::tr("high"), theme().second_ink, 11);
    draft.text({r.right() + 36, r.top() + 164}, MapPage::tr("low"), theme().second_ink, 11);
  }
  for (int row = 0; row < rows_; ++row)
    for (int c = 0; c < columns_; ++c) {
      const double x = room_.left() + room_.width() * c / (columns_ - 1),
                   y = room_.top() + room_.height() * row / (rows_ - 1);
      const auto done = std::find_if(points_.begin(), points_.end(), [&](const MapPoint& p) {
        return std::fabs(p.x_mm - x) < 1e-6 && std::fabs(p.y_mm - y) < 1e-6;
      });
      const QPointF p = at(x, y);
      painter.setPen(QPen(theme().ink, 1.2));
      painter.setBrush(done != points_.end() ? theme().teal : theme().sheet);
      painter.drawEllipse(p, 4, 4);
      painter.setBrush(Qt::NoBrush);
      if (done != points_.end() && columns_ <= 8) {
        const bool last = c == columns_ - 1;
        draft.text(p + QPointF(last ? -7 : 7, row == rows_ - 1 ? 15 : -6),
                   to_q(format_signed(in_unit(done->z_mm - low, unit_), 2)), theme().ink, 11, false,
                   last ? Qt::AlignRight : Qt::AlignLeft);
      }
    }
  if (points_.empty())
    draft.text(r.center() + QPointF(0, 24), MapPage::tr("Heights will stand here, and level lines."),
               theme().second_ink, 12, false, Qt::AlignHCenter);
}

MapPage::MapPage(Session& session) : BedPage(session) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  auto* card = make_card(this);
  auto* inside = new QVBoxLayout(card);
  inside->setContentsMargins(14, 10, 14, 10);
  drawing_ = new MapDrawing(card);
  inside->addWidget(drawing_, 1);
  PageFoot foot(inside, card);
  auto* row = foot.settings();
  begin_ = make_button("map-begin", tr("Touch the grid"), tr("Touches the bed at each place (Ctrl+M)"), card);
  begin_->setShortcut(QKeySequence("Ctrl+M"));
  foot.acts()->addWidget(begin_);
  columns_ = add_field(row, "map-columns", tr("Places"), tr("Along X, 2 to 50"), 0, session, card).field;
  rows_ = add_field(row, "map-rows", "×", tr("Along Y, 2 to 50"), 0, session, card).field;
  for (auto* f : {columns_, rows_}) f->set_unit(LengthUnit::none);
  hint_ = foot.hint("map-hint");
  column->addWidget(card, 1);
  const auto count = [this](LengthField* f, int BedWorksheet::*what) {
    connect(f, &LengthField::committed, this, [this, what](double n) {
      if (n >= 2 && n <= 50)
        change(tr("Change the grid"), [&](BedWorksheet& w) {
          w.*what = static_cast<int>(std::lround(n));
          w.map.clear();
        });
      else
        session_.notices().notify({NoticeLevel::attention, tr("A grid has between 2 and 50 places each way."), {}});
      refresh();
    });
  };
  count(columns_, &BedWorksheet::map_columns);
  count(rows_, &BedWorksheet::map_rows);
  connect(begin_, &QPushButton::clicked, this, &MapPage::begin);
  connect(&session_.machine(), &MachineSession::procedure_ended, this, [this](const Procedure* p) {
    if (p == grid_.get()) refresh();
  });
}

QRectF MapPage::room() const {
  const auto x = session_.machine().room(Axis::x), y = session_.machine().room(Axis::y);
  return {x.low + inset_mm, y.low + inset_mm, std::max(1.0, x.size() - 2 * inset_mm),
          std::max(1.0, y.size() - 2 * inset_mm)};
}

void MapPage::begin() {
  if (grid_->running()) return session_.machine().end_procedure();
  if (!session_.machine().circuit().works()) {
    session_.machine().check_circuit();
    return refresh_status();
  }
  const QRectF r = room();
  GridPlan plan{r.left(),      r.top(), r.right(), r.bottom(), worksheet().map_columns, worksheet().map_rows,
                crossing_rate, {}};
  plan.touch.search = search_mm;
  plan.touch.touches = 1;
  had_ = 0;
  if (!session_.machine().start(grid_, plan)) return;
  change(tr("Begin the map"), [](BedWorksheet& w) { w.map.clear(); });
}

std::optional<BedMap> MapPage::map() const {
  std::vector<BedPoint> points;
  for (const auto& p : worksheet().map) points.push_back({p.x_mm, p.y_mm, p.z_mm});
  const auto found = map_bed(points);
  return found ? std::optional(*found) : std::nullopt;
}

PageFinding MapPage::finding() const {
  PageFinding f;
  const auto found = map();
  if (!found || grid_->running()) {
    f.lead = tr("How flat the bed is");
    f.text =
        tr("You need the touch plate on its wire and a bed with nothing on it. Bring the tool to less than a finger's "
           "breadth above the plate at the highest place, and carry the plate along from place to place.");
    return f;
  }
  f.lead = tr("The bed is uneven by");
  f.figure = len(found->peak_to_valley, 2);
  f.spread = tr("about its own plane, %1 places").arg(worksheet().map.size());
  f.verdict =
      tr("It slopes %1 per m along X, %2 along Y.").arg(len(found->slope_x * 1000, 2), len(found->slope_y * 1000, 2));
  f.text = tr("To make it flat, surface it %1 deep from its highest place; go on to Surfacing.")
               .arg(len(found->depth_to_flat, 2));
  f.keep = tr("Keep this map");
  f.can_keep = true;
  return f;
}

void MapPage::keep() {
  const auto found = map();
  if (!found) return;
  session_.editor().change_book(
      tr("Keep the map"),
      [&](Book& b) {
        Entry e = entry(map_subject);
        for (const auto& p : worksheet().map)
          e.readings.push_back({{"x_mm", p.x_mm}, {"y_mm", p.y_mm}, {"z_mm", p.z_mm}});
        e.result = result_of(MapEntry{.peak_to_valley = found->peak_to_valley,
                                      .slope_x = found->slope_x * 1000,
                                      .slope_y = found->slope_y * 1000,
                                      .depth_to_flat = found->depth_to_flat,
                                      .u_slope_x = found->u_slope_x * 1000,
                                      .u_slope_y = found->u_slope_y * 1000});
        b.history.push_back(std::move(e));
        b.worksheets[bed_worksheet].depth_mm = std::max(0.1, std::ceil(found->depth_to_flat * 10) / 10);
      },
      MachineFollows::no);
}

void MapPage::cancel() {
  if (grid_->running()) session_.machine().end_procedure();
  session_.machine().forget_circuit();
}

void MapPage::refresh() {
  columns_->show_value(worksheet().map_columns);
  rows_->show_value(worksheet().map_rows);
  drawing_->show(room(), worksheet().map_columns, worksheet().map_rows, worksheet().map, session_.editor().unit());
  refresh_status();
  emit found();
}

void MapPage::touched() {
  had_ = grid_->points().size();
  change(tr("Touch a place"), [&](BedWorksheet& w) {
    w.map.clear();
    for (const auto& p : grid_->points()) w.map.push_back({p.x, p.y, p.z});
  });
  refresh();
}

void MapPage::refresh_status() {
  if (grid_->points().size() != had_) return touched();
  const ProbeCircuit& circuit = session_.machine().circuit();
  const bool homed = session_.machine().status().all_homed();
  set_text(hint_, grid_->running() ? tr("Place %1 of %2; keep the plate under the tool. Hold ends it.")
                                         .arg(grid_->points().size() + 1)
                                         .arg(grid_->count())
                  : circuit.waiting() ? circuit_words(circuit.stage())
                  : circuit.works()   ? tr("The circuit works. Bring the tool over the plate and touch the grid.")
                  : homed ? tr("Crosses at the height at which the tool stands now, and searches 12 mm down.")
                          : tr("Home the machine first (Ctrl+H)."));
  set_text(begin_, grid_->running()  ? tr("End the grid")
                   : circuit.works() ? tr("Touch the grid")
                                     : tr("Check the circuit"));
  begin_->setEnabled(grid_->running() || (session_.machine().standing_ready() && homed && !circuit.waiting()));
}

}  // namespace ypsi::app
