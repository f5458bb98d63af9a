#pragma once
#include <QLabel>
#include <QPushButton>
#include <QTableWidget>

#include "app/session/session.h"
#include "app/widgets/field.h"
#include "core/geometry.h"

namespace ypsi::app {

class PlacesDrawing;

/// Work zero by numbers: a place typed, taken from the machine, the middle of the bed, or one that was stored.
class PlacesPage : public QWidget {
  Q_OBJECT
 public:
  explicit PlacesPage(Session& session);
  void refresh();
  void refresh_status();

 private:
  std::optional<std::size_t> chosen() const;
  void take(int row);
  void keep_place();
  void show_numbers(const MachinePosition& at, bool with_z);
  void set_zero();
  void go_there();
  QString len(double mm, int decimals) const;

  Session& session_;
  PlacesDrawing* drawing_;
  QTableWidget* table_;
  LengthField* numbers_[3];
  QPushButton *take_machine_, *middle_, *keep_, *remove_, *set_, *go_;
  QLabel* hint_;
  bool showing_ = false;
};

}  // namespace ypsi::app
