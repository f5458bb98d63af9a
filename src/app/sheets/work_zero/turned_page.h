#pragma once
#include "app/sheets/work_zero/touching_page.h"
#include "core/calibration/probing.h"

namespace ypsi::app {

/// The stock from above, turned more than it is, with the two places at which its edge was touched.
class TurnedDrawing : public QWidget {
 public:
  enum class Edge { front, left, right, back };
  explicit TurnedDrawing(QWidget* parent);
  void show(Edge edge, int touched, const std::optional<TurnedStock>& found);

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  Edge edge_ = Edge::front;
  int touched_ = 0;
  std::optional<TurnedStock> found_;
};

/// Stock that lies turned on the bed: two touches of one edge, and the program turned with it.
class TurnedPage : public TouchingPage {
  Q_OBJECT
 public:
  explicit TurnedPage(Session& session);
  void refresh() override;
  void refresh_status() override;

 protected:
  void touched(const Touched& place) override;

 private:
  using Edge = TurnedDrawing::Edge;
  Axis touched_axis() const { return edge_ == Edge::front || edge_ == Edge::back ? Axis::y : Axis::x; }
  bool towards_plus() const { return edge_ == Edge::front || edge_ == Edge::left; }
  std::optional<TurnedStock> found() const;
  QString push_words(double rotation) const;
  void choose(Edge edge);
  void take_by_eye();
  void keep();

  Edge edge_ = Edge::front;
  std::vector<Touched> places_;
  bool by_eye_ = false;  ///< a pointer told them
  TurnedDrawing* drawing_;
  QPushButton *chips_[4], *touch_button_, *again_, *keep_, *turn_;
  QLabel *result_, *words_, *hint_;
};

/// Writes and loads a copy of the program that is loaded, turned about work zero, rad counter-clockwise, and says so.
void turn_program(Session& session, QWidget* parent, double rotation);

}  // namespace ypsi::app
