#pragma once
#include <QComboBox>
#include <QLineEdit>

#include "app/sheets/sheet.h"
#include "app/sheets/sheet_pages.h"
#include "app/sheets/work_zero/touching_page.h"
#include "app/widgets/field.h"
#include "app/widgets/plan_view.h"
#include "core/procedures/corner_touch.h"

namespace ypsi::app {

class ElevationView;
class MarksPage;
class PlacesPage;

/// Work zero: jog the tool to the stock, set zero from where it is; lift, then go to zero.
class WorkZeroSheet : public Sheet {
  Q_OBJECT
 public:
  explicit WorkZeroSheet(Session& session);
  void refresh() override;
  void refresh_status() override;
  /// "zero", "height", "centre", "places", "turned", "surface" or "marks".
  void show_part(const QString& part) override;

 private:
  void set_zero(const std::vector<Axis>& axes);
  /// The page that touches and is in front; none while it is the plan.
  TouchingPage* touching_page() const;
  bool circuit_works();
  void touch_corner();
  void touch_top();
  void rezero();
  void show_tool_change();
  void offer_heads();
  void corner_touched();
  void top_touched();
  SheetPages* pages_;
  PlacesPage* places_;
  MarksPage* marks_;
  QComboBox *frame_, *which_, *over_;
  QLineEdit* frame_text_;
  QPushButton* rezero_;
  QLabel* change_;
  PlanView* plan_;
  ElevationView* elevation_;
  LengthField* paper_;
  QLabel *seen_, *zero_[3], *when_, *program_, *way_, *paper_word_, *over_word_;
  std::shared_ptr<CornerTouch> corner_ = std::make_shared<CornerTouch>();
  std::shared_ptr<Touch> top_ = std::make_shared<Touch>();
  QPushButton *corner_button_, *top_button_;
  QPushButton *home_, *set_xy_, *set_z_, *set_all_, *go_;
};

}  // namespace ypsi::app
