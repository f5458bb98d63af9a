#pragma once
#include <QComboBox>

#include "app/session/book_editor.h"
#include "app/sheets/homing/trials_chart.h"
#include "app/sheets/sheet.h"
#include "core/book/worksheets/homing.h"
#include "core/procedures/homing_repeat.h"

namespace ypsi::app {

/// How well homing finds the same place again, by the switches' own places or by an indicator.
class HomingSheet : public Sheet {
  Q_OBJECT
 public:
  explicit HomingSheet(Session& session);
  void refresh() override;
  void refresh_status() override;

 private:
  const HomingWorksheet& worksheet() const { return session_.editor().book().worksheets[homing_worksheet]; }
  bool by_indicator() const { return !worksheet().instrument.empty(); }
  double resolution() const;
  std::optional<HomingResult> result(Axis axis) const;
  std::optional<std::size_t> kept(Axis axis) const;
  void begin();
  void take(double reading);
  void over();
  void read_here();
  void keep();
  double scatter_in(std::size_t entry) const;  ///< that the record has, mm
  void show_finding();
  QString len(double mm, int decimals) const;

  Axis axis_ = Axis::x;
  std::shared_ptr<HomingRepeat> repeat_ = std::make_shared<HomingRepeat>();
  WaitsFor waited_ = WaitsFor::nothing;
  TrialsChart* chart_;
  LengthField *trials_, *tolerance_, *place_;
  WordedField indicator_place_;
  QComboBox* way_;
  QPushButton *begin_, *read_, *take_place_, *keep_;
  QLabel *hint_, *lead_, *figure_, *spread_, *verdict_, *text_, *others_;
};

}  // namespace ypsi::app
