#pragma once
#include "app/sheets/sheet.h"
#include "core/book/record_json.h"
#include "core/calibration/probing.h"
#include "core/procedures/touch.h"

namespace ypsi::app {

/// Readings of touches along one axis, as the record keeps them.
RecordJson trigger_readings(const std::vector<double>& triggers, Axis axis);
/// Thickness of the book's plate, mm; where it is not known, 0 and a notice that leads to the sheet Touch plate.
double known_plate(Session& session);

/// A page that touches edges from where the tool stands: the circuit first, then one touch after another.
class TouchingPage : public QWidget {
  Q_OBJECT
 public:
  explicit TouchingPage(Session& session);
  virtual void refresh() = 0;
  virtual void refresh_status() = 0;
  virtual void cancel();

 protected:
  /// Where the tool stood, and what the slow touches read along the touched axis.
  struct Touched {
    Point2 at;
    Axis axis = Axis::x;
    bool towards_plus = true;
    std::vector<double> across;
  };
  virtual void touched(const Touched& place) = 0;
  /// Checks the circuit where it was not seen to work, else touches; ends a touch that runs.
  void touch(Axis axis, bool towards_plus);
  bool circuit_works() const;
  bool touching() const { return touch_->running(); }
  /// Whether a button that touches may be pressed.
  bool can_touch() const;
  /// What is asked of the owner now; `otherwise` where it is nothing.
  QString asked(const QString& otherwise) const;
  Session& session_;

 private:
  std::shared_ptr<Touch> touch_ = std::make_shared<Touch>();
  Touched place_;
};

}  // namespace ypsi::app
