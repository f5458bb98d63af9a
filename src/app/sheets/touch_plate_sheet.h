#pragma once
#include "app/sheets/references/plate_section.h"
#include "app/sheets/sheet.h"
#include "core/procedures/touch.h"

namespace ypsi::app {

/// The touch plate: its dimensions, its circuit, and its thickness checked by touching with it and without.
class TouchPlateSheet : public Sheet {
  Q_OBJECT
 public:
  explicit TouchPlateSheet(Session& session);
  void refresh() override;
  void refresh_status() override;

 private:
  /// Machine Z of the touches, with their scatter.
  struct Touched {
    double mean = 0, s = 0;
    int touches = 0;
  };
  TouchPlate plate() const;
  void change_plate(const QString& text, const std::function<void(TouchPlate&)>& how);
  void over();
  void touch(bool with_plate);
  void keep();
  std::optional<std::pair<double, double>> measured() const;  ///< thickness and its U
  void show_finding();
  QString len(double mm, int decimals) const;

  PlateSection* section_;
  LengthField *search_, *touches_, *without_;
  QPushButton *circuit_button_, *with_button_, *without_button_, *keep_;
  QLabel *hint_, *lead_, *figure_, *spread_, *verdict_, *text_;
  std::shared_ptr<Touch> touch_ = std::make_shared<Touch>();
  bool touching_with_ = true;
  std::optional<Touched> with_, bare_;
};

}  // namespace ypsi::app
