#include "app/sheets/work_zero/surface_page.h"

#include <QFileInfo>
#include <algorithm>
#include <cmath>

#include "app/session/book_editor.h"
#include "app/session/job_session.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/sheets/copy_beside.h"
#include "app/sheets/page_foot.h"
#include "app/to_q.h"
#include "core/book/worksheets/surface.h"
#include "core/calibration/surface_map.h"
#include "core/program/following_copy.h"

namespace ypsi::app {
namespace {

constexpr double over_stock_rate = 3000, search_down_mm = 8, from_edge_mm = 3;
constexpr double follow_tolerance_mm = 0.005;
constexpr double level_mm = 0.02;  // what is flatter needs no following

std::vector<BedPoint> places_of(const SurfaceWorksheet& s) {
  std::vector<BedPoint> all;
  for (const auto& p : s.points) all.push_back({p.x_mm, p.y_mm, p.z_mm - s.plate_mm});
  return all;
}

}  // namespace

SurfacePage::SurfacePage(Session& session) : TouchingPage(session) {
  auto* inside = make_card_page(this);
  auto* card = inside->parentWidget();
  drawing_ = new MapDrawing(card);
  drawing_->setObjectName("surface-map");
  drawing_->setAccessibleName(tr("The stock's heights, shaded, with level lines"));
  drawing_->setMinimumHeight(200);
  inside->addWidget(drawing_, 1);
  result_ = make_label("surface-result", "strong", "", card);
  words_ = make_label("surface-words", "task", "", card);
  inside->addWidget(result_);
  inside->addWidget(words_);
  PageFoot foot(inside, card);
  auto *settings = foot.settings(), *acts = foot.acts();
  columns_ = add_field(settings, "surface-columns", tr("Places along X"), tr("2 to 50"), 0, session, card).field;
  rows_ = add_field(settings, "surface-rows", tr("Places along Y"), tr("2 to 50"), 0, session, card).field;
  for (auto* f : {columns_, rows_}) f->set_unit(LengthUnit::none);
  begin_ = make_button("surface-begin", tr("Touch the grid"),
                       tr("Touches the stock's top at each place, through the plate (Ctrl+B)"), card);
  begin_->setShortcut(QKeySequence("Ctrl+B"));
  zero_ = make_button("surface-zero", tr("Set Z zero on it"),
                      tr("Z zero is the height in the middle of what was touched (Ctrl+Shift+B)"), card);
  zero_->setShortcut(QKeySequence("Ctrl+Shift+B"));
  follow_ =
      make_button("follow-surface", tr("Have the program follow it"),
                  tr("A copy of the program whose depths are counted from what was touched (Ctrl+Shift+C)"), card);
  follow_->setShortcut(QKeySequence("Ctrl+Shift+C"));
  for (auto* b : {begin_, zero_, follow_}) acts->addWidget(b);
  hint_ = foot.hint("surface-hint");
  const auto count = [this](LengthField* f, int SurfaceWorksheet::*what) {
    connect(f, &LengthField::committed, this, [this, what](double n) {
      if (n >= 2 && n <= 50)
        change(tr("Change the grid"), [&](SurfaceWorksheet& w) {
          w.*what = static_cast<int>(std::lround(n));
          w.points.clear();
        });
      else
        session_.notices().notify({NoticeLevel::attention, tr("A grid has between 2 and 50 places each way."), {}});
      refresh();
    });
  };
  count(columns_, &SurfaceWorksheet::columns);
  count(rows_, &SurfaceWorksheet::rows);
  connect(begin_, &QPushButton::clicked, this, &SurfacePage::begin);
  connect(zero_, &QPushButton::clicked, this, &SurfacePage::set_zero);
  connect(follow_, &QPushButton::clicked, this, &SurfacePage::follow);
  connect(&session_.machine(), &MachineSession::procedure_ended, this, [this](const Procedure* p) {
    if (p == grid_.get()) refresh();
  });
}

const SurfaceWorksheet& SurfacePage::worksheet() const {
  return session_.editor().book().worksheets[surface_worksheet];
}

void SurfacePage::change(const QString& text, const std::function<void(SurfaceWorksheet&)>& how) {
  session_.editor().change_book(
      text, [&](Book& b) { how(b.worksheets[surface_worksheet]); }, MachineFollows::no);
}

std::optional<QRectF> SurfacePage::room() const {
  const Job& job = session_.editor().book().job;
  if (!job.zero(Axis::x) || !job.zero(Axis::y)) return std::nullopt;
  const QPointF zero(*job.zero(Axis::x), *job.zero(Axis::y));
  const auto program = session_.job().program();
  if (program && !program->program.cut.empty()) {
    const Extents& cut = program->program.centre;
    const QRectF all(QPointF(cut.low.x, cut.low.y), QPointF(cut.high.x, cut.high.y));
    if (all.width() > 1 && all.height() > 1) return all.translated(zero);
  }
  const QRectF stock(job.stock_corner[0] + from_edge_mm, job.stock_corner[1] + from_edge_mm,
                     job.stock_size[0] - 2 * from_edge_mm, job.stock_size[1] - 2 * from_edge_mm);
  return stock.width() > 1 && stock.height() > 1 ? std::optional(stock.translated(zero)) : std::nullopt;
}

Result<HeightGrid> SurfacePage::top() const {
  const Job& job = session_.editor().book().job;
  if (!job.has_zero()) return fail("no_zero", "Work zero is not set.");
  auto grid = height_grid(places_of(worksheet()));
  if (!grid) return grid;
  for (double& x : grid->xs) x -= *job.zero(Axis::x);
  for (double& y : grid->ys) y -= *job.zero(Axis::y);
  // What a program's depths are counted from on the bed is as far above zero as the stock is thick.
  for (double& z : grid->heights) z -= *job.zero(Axis::z) + job.stock_top_z();
  return grid;
}

void SurfacePage::begin() {
  if (grid_->running()) return session_.machine().end_procedure();
  const double plate = known_plate(session_);
  const auto over = room();
  if (!(plate > 0) || !over) return;
  if (!circuit_works()) {
    session_.machine().check_circuit();
    return refresh_status();
  }
  GridPlan plan{over->left(),        over->top(),      over->right(),   over->bottom(),
                worksheet().columns, worksheet().rows, over_stock_rate, {}};
  plan.touch.search = search_down_mm;
  plan.touch.touches = 2;
  had_ = 0;
  if (!session_.machine().start(grid_, plan)) return;
  change(tr("Touch the stock's top"), [plate](SurfaceWorksheet& w) {
    w.points.clear();
    w.plate_mm = plate;
  });
}

void SurfacePage::take_touches() {
  had_ = grid_->points().size();
  change(tr("Touch a place"), [&](SurfaceWorksheet& w) {
    w.points.clear();
    for (const auto& p : grid_->points()) w.points.push_back({p.x, p.y, p.z});
  });
  refresh();
}

void SurfacePage::set_zero() {
  const auto grid = height_grid(places_of(worksheet()));
  if (!grid) return;
  const double middle =
      height_at(*grid, (grid->xs.front() + grid->xs.back()) / 2, (grid->ys.front() + grid->ys.back()) / 2);
  RecordJson readings = RecordJson::from_text("[]");
  for (const auto& p : worksheet().points)
    readings.push_back({{"x_mm", p.x_mm}, {"y_mm", p.y_mm}, {"trigger_mm", p.z_mm}});
  if (session_.machine().set_work_zero_at({{Axis::z, middle}}, readings, "touch plate", false))
    session_.notices().notify(
        {NoticeLevel::good, tr("Z zero is the top in the middle of what was touched. Take plate and clip away."), {}});
}

void SurfacePage::follow() {
  const auto made = copy_beside(session_, this, "-following", [&](std::string_view text) -> Result<CorrectedCopy> {
    const auto grid = top();
    if (!grid) return tl::make_unexpected(grid.error());
    return following_copy(text, *grid, follow_tolerance_mm);
  });
  if (!made) return;
  session_.job().load_program(made->path);
  session_.notices().notify({NoticeLevel::good,
                             tr("“%1” follows what was touched, and is loaded. It holds for this work zero.")
                                 .arg(QFileInfo(made->path).fileName()),
                             {}});
}

void SurfacePage::cancel() {
  if (grid_->running()) session_.machine().end_procedure();
  TouchingPage::cancel();
}

void SurfacePage::refresh() {
  const LengthUnit unit = session_.editor().unit();
  const auto len = [&](double mm) { return to_q(format_length(mm, unit, 2) + " " + unit_name(unit)); };
  columns_->show_value(worksheet().columns);
  rows_->show_value(worksheet().rows);
  const auto over = room();
  drawing_->show(over.value_or(QRectF(0, 0, 1, 1)), worksheet().columns, worksheet().rows, worksheet().points, unit);
  drawing_->setVisible(over.has_value());
  const auto map = map_bed(places_of(worksheet()));
  const auto grid = height_grid(places_of(worksheet()));
  if (grid_->running() || !map || !grid) {
    set_text(result_, tr("How the stock's top lies"));
    set_text(words_,
             over ? tr("A bent plate, or one that is thicker at one side, is engraved deeper here than there. Lay "
                       "the touch plate at each place in turn, bring the tool less than 8 mm above the highest.")
                  : tr("Set work zero of X and Y first, and say how large the stock is or load the program: then "
                       "it is known where to touch."));
  } else {
    const auto [low, high] = std::minmax_element(grid->heights.begin(), grid->heights.end());
    set_text(result_, tr("Its highest place lies %1 above its lowest").arg(len(*high - *low)));
    set_text(words_,
             *high - *low <= level_mm
                 ? tr("● It lies level, as far as an engraving can tell; the program need not follow it.")
                 : tr("◐ It slopes %1 per m along X and %2 along Y, and is bent by %3 about that. Depths that are "
                      "counted from one height come out as much deeper here than there.")
                       .arg(len(map->slope_x * 1000), len(map->slope_y * 1000), len(map->peak_to_valley)));
  }
  refresh_status();
}

void SurfacePage::refresh_status() {
  if (grid_->points().size() != had_) return take_touches();
  const bool told = !grid_->running() && height_grid(places_of(worksheet())).has_value();
  const auto above_zero = top();
  const bool far = told && above_zero &&
                   std::any_of(above_zero->heights.begin(), above_zero->heights.end(),
                               [](double z) { return std::fabs(z) > most_followed_mm; });
  set_text(hint_,
           grid_->running() ? tr("Place %1 of %2; lay the plate under the tool. Hold ends it.")
                                  .arg(grid_->points().size() + 1)
                                  .arg(grid_->count())
           : far ? tr("✕ Work zero lies more than %1 mm from what was touched; set Z zero on it.").arg(most_followed_mm)
                 : asked(tr("● The circuit works. It crosses at the height at which the tool stands now.")));
  set_text(begin_, grid_->running()  ? tr("End the grid")
                   : circuit_works() ? tr("Touch the grid")
                                     : tr("Check the circuit"));
  begin_->setEnabled(grid_->running() || (room() && can_touch()));
  zero_->setEnabled(told && session_.machine().standing_ready() && !session_.editor().read_only());
  follow_->setEnabled(told && !far && session_.job().program() && session_.editor().book().job.has_zero());
}

}  // namespace ypsi::app
