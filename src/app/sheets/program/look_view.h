#pragma once
#include <QColor>
#include <QPushButton>
#include <QWidget>

#include "core/drawing_in/engraved_look.h"

namespace ypsi::app {

/// The plate as it will look: cap and core in their colours, each line as wide as its tool leaves it; what stays uncut
/// is ringed.
class LookView : public QWidget {
  Q_OBJECT
 public:
  explicit LookView(QWidget* parent);
  struct Shown {
    EngravedLook look;
    PlanPoint corner, size;          ///< of the plate, as the look's places; size 0: not known
    double cap = 0;                  ///< mm; 0: of one piece
    QColor cap_colour, core_colour;  ///< not valid: not said
  };
  void show(Shown shown);

 signals:
  void colour_wanted(bool of_cap);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;

 private:
  QColor top_colour() const;
  QColor floor_colour() const;
  Shown shown_;
  QPushButton *cap_, *core_;
};

}  // namespace ypsi::app
