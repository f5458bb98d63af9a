#pragma once
#include <QLabel>
#include <QPushButton>
#include <QTableWidget>

#include "app/sheets/heads/carriage_drawing.h"
#include "app/sheets/page_finding.h"
#include "core/book/worksheets/heads.h"
#include "core/heads/head_offset.h"

class QComboBox;

namespace ypsi::app {

class LeftOverDrawing;

/// Where a head stands against the first: from marks that both are brought over, or from crosses that both have cut.
class PlacePage : public FindingPage {
  Q_OBJECT
 public:
  explicit PlacePage(Session& session);
  void refresh() override;
  void refresh_status() override;
  PageFinding finding() const override;
  void keep() override;
  void second() override;

 private:
  void take(bool first);
  void take_cell(int row, int column);
  void take_out();
  void write_crosses();
  void change(const QString& text, const std::function<void(HeadsWorksheet&)>& how);
  bool by_crosses() const;
  QString first_name() const;
  QString other_name() const;
  Result<HeadOffset> result() const;

  CarriageDrawing* carriage_;
  LeftOverDrawing* left_over_;
  QTableWidget* table_;
  QPushButton *marks_chip_, *crosses_chip_, *first_, *other_, *out_, *add_, *write_;
  QComboBox* instrument_;
  QLabel* hint_;
  bool showing_ = false;
};

}  // namespace ypsi::app
