#pragma once
#include "app/sheets/work_zero/touching_page.h"
#include "app/widgets/field.h"

namespace ypsi::app {

class HeightDrawing;

/// Z zero: the stock's top and the bed touched by the plate, compared with the stock's thickness, and the zero spot.
class HeightPage : public TouchingPage {
  Q_OBJECT
 public:
  explicit HeightPage(Session& session);
  void refresh() override;
  void refresh_status() override;

 private:
  /// A surface as the tool in the spindle found it through the plate.
  struct Surface {
    Point2 at;                ///< machine coordinates
    double z = 0, plate = 0;  ///< of the surface; the plate's thickness
    int tool = 0;
    std::vector<double> triggers;
  };
  void touched(const Touched& place) override;
  void touch_surface(bool bed);
  void set_zero(bool on_bed);
  void mark_spot();
  void zero_from_spot();
  /// Where Z zero would be, and from which touch: its own, else the other carried by the thickness.
  std::optional<double> zero_on(bool bed, bool* carried = nullptr) const;

  HeightDrawing* drawing_;
  LengthField* thickness_;
  QLabel *result_, *words_, *spot_, *hint_;
  QPushButton *top_button_, *bed_button_, *zero_top_, *zero_bed_, *mark_, *go_, *from_spot_;
  std::optional<Surface> top_, bed_;
  bool touching_bed_ = false;
};

}  // namespace ypsi::app
