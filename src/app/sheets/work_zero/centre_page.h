#pragma once
#include "app/sheets/work_zero/touching_page.h"

namespace ypsi::app {

/// Work zero in the middle: between two edges, or of a hole or a boss by three touches or more.
class CentrePage : public TouchingPage {
  Q_OBJECT
 public:
  explicit CentrePage(Session& session);
  void refresh() override;
  void refresh_status() override;

 protected:
  void touched(const Touched& place) override;

 private:
  enum class Shape { edges, hole, boss };
  struct Middle {
    std::optional<double> x, y;  ///< machine coordinates
    QString words;               ///< what else the touches say; why not, where nothing can be told
  };
  Middle middle() const;
  void choose(Shape shape);
  void set_zero();
  QString len(double mm, int decimals) const;

  Shape shape_ = Shape::edges;
  std::vector<Touched> places_;
  class CentreDrawing* drawing_;
  QPushButton *chips_[3], *ways_[4], *again_, *set_;
  QLabel *result_, *words_, *hint_;
};

}  // namespace ypsi::app
