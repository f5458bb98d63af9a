#pragma once
#include <QLabel>
#include <QPushButton>
#include <QTableWidget>

#include "app/sheets/page_finding.h"
#include "app/widgets/field.h"
#include "core/book/book.h"
#include "core/book/worksheets/heads.h"
#include "core/heads/beam_focus.h"

class QCustomPlot;

namespace ypsi::app {

/// A beam's focus: lines burnt at several heights, their widths, and the curve through them.
class FocusPage : public FindingPage {
  Q_OBJECT
 public:
  explicit FocusPage(Session& session);
  void refresh() override;
  void refresh_status() override;
  PageFinding finding() const override;
  void keep() override;

 private:
  void change(const QString& text, const std::function<void(HeadsWorksheet&)>& how);
  void take_cell(int row, int column);
  void draw();

  QCustomPlot* plot_;
  QTableWidget* table_;
  LengthField* sure_;
  QPushButton *take_, *add_, *out_;
  QLabel* hint_;
  bool showing_ = false;
};

}  // namespace ypsi::app
