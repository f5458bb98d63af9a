#pragma once
#include <QComboBox>
#include <QTableView>

#include "app/session/book_editor.h"
#include "app/session/notices.h"
#include "app/sheets/sheet.h"
#include "app/widgets/field.h"
#include "core/book/worksheets/scale.h"
#include "core/calibration/next_reading.h"
#include "core/calibration/scale.h"
#include "core/procedures/measured_move.h"

namespace ypsi::app {

class StepsChart;
class StepsDrawing;
class StepsTable;

/// Steps per unit: told and measured on the drawing, what is left over, the finding, apply and put back.
class StepsSheet : public Sheet {
  Q_OBJECT
 public:
  explicit StepsSheet(Session& session);
  void refresh() override;
  void refresh_status() override;

 private:
  void choose(Axis axis);
  ScaleInput input() const;
  /// A typed size takes the sign of the move; a reading from the bench has its own.
  void add_reading(double measured, bool typed);
  void move_and_mark();
  void forget_move();
  void read_instrument();
  void apply();
  std::vector<NoticeAction> home_now();
  void put_back();
  void show_finding();
  QString guidance() const;
  QString warmth_words(const Entry* last) const;
  Result<void> take_table(const std::string& text);
  void offer_drives();
  double longest() const;
  void edit(const QString& text, const std::function<void(ScaleWorksheet&)>& change);
  double suggested_distance() const;
  bool tries_short() const;
  const ScaleWorksheet& worksheet() const {
    return session_.editor().book().worksheets[scale_worksheets][index(axis_)];
  }
  QString instrument_name() const;

  Axis axis_ = Axis::x;
  double told_ = 0;
  bool reversed_ = false;
  std::optional<ScaleResult> result_;
  std::optional<NextReading> next_;
  QString guidance_;  ///< looks through the record: once a refresh
  std::shared_ptr<MeasuredMove> move_ = std::make_shared<MeasuredMove>();
  StepsDrawing* drawing_;
  StepsChart* chart_;
  StepsTable* model_;
  QTableView* table_;
  QComboBox* instruments_;
  QPushButton *move_button_, *read_button_, *apply_, *once_more_, *put_back_, *correct_drive_;
  LengthField* tolerance_;
  class WarmthRow* warmth_;
  QLabel *drawing_caption_, *chart_caption_, *hint_, *lead_, *figure_, *was_, *verdict_, *explanation_, *warmth_said_,
      *also_heading_, *also_;
};

}  // namespace ypsi::app
