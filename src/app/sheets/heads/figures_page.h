#pragma once
#include <QLabel>
#include <QPushButton>
#include <functional>

#include "app/sheets/page_finding.h"
#include "app/widgets/field.h"
#include "core/book/worksheets/heads.h"
#include "core/tasks/heads.h"

class QComboBox;

namespace ypsi::app {

/// What was cut, drawn large, with what is measured of it on its dimension lines.
class FiguresDrawing : public QWidget {
  Q_OBJECT
 public:
  FiguresDrawing(HeadMeasure measure, QWidget* parent);
  /// A field on the drawing, at this part of its width and height.
  LengthField* add(const QString& name, const QString& what, QPointF at);
  void set_strips(int strips);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;

 private:
  void paint_trailing(class Draft& draft);
  void paint_blade(class Draft& draft);
  void paint_kerf(class Draft& draft);
  QPointF at(double x, double y) const { return {x * width(), y * height()}; }
  HeadMeasure measure_;
  std::vector<std::pair<LengthField*, QPointF>> fields_;
  int strips_ = 10;
};

/// A head's finding from a few figures that are measured on what it cut: a castor's trailing offset, a turned blade's
/// place, a beam's kerf.
class FiguresPage : public FindingPage {
  Q_OBJECT
 public:
  FiguresPage(Session& session, HeadMeasure measure);
  void refresh() override;
  PageFinding finding() const override;
  void keep() override;

 private:
  struct Bound {
    LengthField* field;
    std::function<std::optional<double>(const HeadsWorksheet&)> get;
    bool is_length;
  };
  void bind(LengthField* field, const std::function<std::optional<double>(const HeadsWorksheet&)>& get,
            const std::function<void(HeadsWorksheet&, std::optional<double>)>& set, bool is_length = true);
  void change(const QString& text, const std::function<void(HeadsWorksheet&)>& how);
  void write_program();
  void write_square();

  HeadMeasure measure_;
  FiguresDrawing* drawing_;
  std::vector<Bound> fields_;
  QComboBox* instrument_;
  QPushButton *write_, *square_;
  QLabel* hint_;
};

}  // namespace ypsi::app
