#pragma once
#include <QCheckBox>
#include <QTableWidget>

#include "app/sheets/build/build_draft.h"
#include "app/widgets/field.h"

class QHBoxLayout;
class QLabel;
class QPushButton;

namespace ypsi::app {

/// The dial as it is printed, with its speeds; a pointer at what was asked for.
class DialDrawing : public QWidget {
  Q_OBJECT
 public:
  explicit DialDrawing(QWidget* parent);
  void show(std::vector<DialPoint> points, std::optional<double> pointer);

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  std::vector<DialPoint> points_;
  std::optional<double> pointer_;
};

/// Spindle: who sets its speed, how fast it goes, and what its dial's positions give.
class SpindlePage : public BuildPage {
  Q_OBJECT
 public:
  explicit SpindlePage(BuildDraft& draft);
  void refresh() override;

 protected:
  void resizeEvent(QResizeEvent* event) override;

 private:
  void take_dial();
  void show_wanted();
  QCheckBox* controlled_;
  LengthField *max_, *spin_up_, *wanted_;
  std::vector<std::pair<LengthField*, double Spindle::*>> hanging_;
  QHBoxLayout* across_;
  DialDrawing* drawing_;
  QTableWidget* table_;
  QPushButton *add_, *remove_;
  QLabel* answer_;
  bool showing_ = false;
};

}  // namespace ypsi::app
