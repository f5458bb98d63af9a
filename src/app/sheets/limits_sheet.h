#pragma once
#include "app/sheets/limits/travel_drawing.h"
#include "app/sheets/sheet.h"
#include "core/book/worksheets.h"
#include "core/book/worksheets/limits.h"
#include "core/calibration/limits.h"
#include "core/procedures/travel.h"

namespace ypsi::app {

/// Travel of each axis from its switch to its far end, and soft limits that leave room to stop.
class LimitsSheet : public Sheet {
  Q_OBJECT
 public:
  explicit LimitsSheet(Session& session);
  void refresh() override;
  void refresh_status() override;

 private:
  /// What the controller is set to that the limits depend on.
  struct Homing {
    double seek = 0, pull_off = 0;
    bool known = false;
  };
  void make_ways(QVBoxLayout* column);
  void change(Axis axis, const QString& text, const std::function<void(LimitsWorksheet&)>& change);
  AxisTravel travel_of(Axis axis) const;
  LimitsInput input(Axis axis) const;
  Homing homing(Axis axis) const;
  void take_far_end(double machine_mm);
  void search();
  void let_further();
  void creep(double outwards);
  void put_back();
  /// What is kept once the controller has refused to go beyond it.
  struct Proving {
    Axis axis{};
    LimitsInput input;
    AxisTravel travel;
    LimitsResult found;
    double low_found = 0, high_found = 0;
  };
  void set_limits(bool even_so);
  void keep_limits(const Proving& proved);
  void slow_the_approach();
  void show_finding();
  QString problem_words(LimitsProblem problem, const LimitsInput& in, const LimitsResult& found) const;
  QString in(double mm, int decimals = 1) const;

  Axis axis_ = Axis::x;
  std::array<Homing, axis_count> homing_{};
  std::array<AxisTravel, axis_count> travels_{};  ///< of the book and the controller as they are
  std::shared_ptr<FarSwitchSearch> search_ = std::make_shared<FarSwitchSearch>();
  std::shared_ptr<LiftedLimit> lifted_ = std::make_shared<LiftedLimit>();
  std::shared_ptr<LimitProof> proof_ = std::make_shared<LimitProof>();
  std::optional<Proving> proving_;
  TravelDrawing* drawing_;
  class AxisChips* chips_;
  QPushButton *search_button_, *further_, *back_, *out_, *take_, *set_, *slow_;
  QLabel *hint_, *lead_, *figure_, *spread_, *verdict_, *text_, *also_;
};

}  // namespace ypsi::app
