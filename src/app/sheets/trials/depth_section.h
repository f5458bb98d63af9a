#pragma once
#include <QWidget>

#include "app/widgets/field.h"
#include "core/book/book.h"
#include "core/book/worksheets/trials.h"
#include "core/tasks/engraving.h"

namespace ypsi::app {

/// A section through a plate with the tool in its groove, to scale; layers and depth are typed on it.
class DepthSection : public QWidget {
  Q_OBJECT
 public:
  explicit DepthSection(QWidget* parent);
  struct Shown {
    DepthSheet sheet;
    Material plate;
    std::optional<Tool> tool;
    double depth = 0;  ///< mm; 0: not said yet
    double U = 0;      ///< of the next groove
    bool nose = false;
  };
  void show(const Shown& shown, LengthUnit unit);
  LengthField *cap, *total, *depth, *left;

 protected:
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;

 private:
  struct Places {
    double left, right, top, bottom, scale;  ///< px, and px per mm
    double y(double mm) const { return top + mm * scale; }
  };
  Places places() const;
  void place_fields();
  Shown shown_;
  LengthUnit unit_ = LengthUnit::millimetre;
};

/// The nose's dial as its hand is to stand; where Z says how deep, what it is sent to.
class NoseDial : public QWidget {
  Q_OBJECT
 public:
  explicit NoseDial(QWidget* parent);
  /// A dial from `low` to `high`, once round; none: by Z.
  struct Dial {
    double low = 0, high = 0;
  };
  void show(const std::optional<Dial>& dial, const std::optional<double>& set, const QString& set_words);

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  std::optional<Dial> dial_;
  std::optional<double> set_;
  QString words_;
};

}  // namespace ypsi::app
