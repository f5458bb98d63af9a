#pragma once
#include <QLabel>
#include <QPushButton>

#include "app/sheets/page_finding.h"
#include "app/widgets/field.h"
#include "core/book/worksheets/fences.h"
#include "core/tasks/fences.h"

class QCustomPlot;

namespace ypsi::app {

/// Blanks cut one after the other on one zero: counted, one of every so many measured, drawn over the count.
class BlanksPage : public FindingPage {
  Q_OBJECT
 public:
  explicit BlanksPage(Session& session);
  void refresh() override;
  void refresh_status() override;
  PageFinding finding() const override;
  void keep() override;
  void second() override;

 private:
  void change(const QString& text, const std::function<void(FencesWorksheet&)>& how);
  void draw();
  int due() const;  ///< the number of the next that is to be measured

  QCustomPlot* plot_;
  LengthField *every_, *size_;
  QLabel *count_, *hint_;
  QPushButton *one_, *back_;
};

}  // namespace ypsi::app
