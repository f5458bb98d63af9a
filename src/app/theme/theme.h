#pragma once
// Both themes' roles, fonts and the style sheet made from them. Widgets ask for a role, never for a colour.
#include <QColor>
#include <QFont>
#include <QString>

namespace ypsi::app {

struct Theme {
  QColor paper, sheet, ink, second_ink, rule;
  QColor teal, ochre, red, stock;          ///< measured and act; attention; danger, limits, zero; material
  QColor teal_soft, cut, cut_deep, field;  ///< bands; material that has been cut; the field of a reading
  QColor on_act;                           ///< text on teal
  bool night = false;
};

const Theme& theme();
void set_night(bool night);
bool is_night();

/// B612 from the resources. Sizes in px, as the drawings use.
QFont text_font(int px, bool bold = false);
QFont mono_font(int px, bool bold = false);
/// Loads the shipped fonts; call once after QApplication.
void load_fonts();
QString style_sheet();

}  // namespace ypsi::app
