#pragma once
#include "app/sheets/bed/map_page.h"
#include "app/sheets/work_zero/touching_page.h"
#include "app/widgets/field.h"
#include "core/book/worksheets/surface.h"
#include "core/calibration/contours.h"
#include "core/procedures/probe_grid.h"

namespace ypsi::app {

/// The stock's top touched on a grid, and a copy of the program that follows it: what lies bent is engraved as deep
/// everywhere.
class SurfacePage : public TouchingPage {
  Q_OBJECT
 public:
  explicit SurfacePage(Session& session);
  void refresh() override;
  void refresh_status() override;
  void cancel() override;

 private:
  void touched(const Touched&) override {}
  const SurfaceWorksheet& worksheet() const;
  void change(const QString& text, const std::function<void(SurfaceWorksheet&)>& how);
  /// What the grid covers, machine coordinates: what the program cuts, else the stock; none where nobody knows where.
  std::optional<QRectF> room() const;
  /// Heights above what a program's depths are counted from, work frame. Errors: those of height_grid(); `no_zero`.
  Result<HeightGrid> top() const;
  void begin();
  void take_touches();
  void set_zero();
  void follow();
  std::shared_ptr<ProbeGrid> grid_ = std::make_shared<ProbeGrid>();
  std::size_t had_ = 0;  ///< places of the grid that are in the book
  MapDrawing* drawing_;
  LengthField *columns_, *rows_;
  QLabel *result_, *words_, *hint_;
  QPushButton *begin_, *zero_, *follow_;
};

}  // namespace ypsi::app
