#pragma once
#include <QComboBox>
#include <QTableWidget>

#include "app/session/book_editor.h"
#include "app/sheets/measure_cut/part_drawing.h"
#include "app/sheets/sheet.h"
#include "core/book/worksheets/cut.h"
#include "core/program/coupon.h"

namespace ypsi::app {

/// The first cut: a test cut made for what the book does not know yet, its sizes typed on the part's drawing, what they
/// say, and each thing put right where it belongs.
class MeasureCutSheet : public Sheet {
  Q_OBJECT
 public:
  explicit MeasureCutSheet(Session& session);
  void refresh() override;
  void refresh_status() override;

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  static constexpr std::size_t most_causes = 12;
  const CutWorksheet& worksheet() const { return session_.editor().book().worksheets[cut_worksheet]; }
  void change(const QString& text, const std::function<void(CutWorksheet&)>& how);
  void make_cut();
  /// That is chosen to be made; none where another part is described.
  std::optional<CouponKind> chosen_kind() const;
  void cut_with(CutWorksheet& w) const;
  void show_material();
  void take(std::size_t size, std::optional<double> mm);
  /// The depth that is chosen in the table.
  std::optional<std::size_t> chosen_depth() const;
  void take_top(double mm);
  void show_chosen();  ///< what is said of the size that is chosen in the table
  void next_after(std::size_t size);
  void read_here();
  void add_size();
  void take_out();
  void apply(std::size_t cause);
  void keep();
  Entry entry_of_cut(const QString& subject) const;
  void show_table();
  void show_finding();

  PartDrawing* drawing_;
  QTableWidget* table_;
  QComboBox *coupon_, *material_, *instrument_, *short_, *kind_;
  std::vector<CouponKind> kinds_;  ///< that this machine can make
  LengthField* nominal_;
  WordedField top_{};
  QPushButton *make_, *read_, *add_, *out_, *keep_;
  QLabel *hint_, *lead_, *undetermined_, *scatter_;
  struct CauseRow {
    QLabel* words;
    QPushButton* apply;
  };
  std::array<CauseRow, most_causes> rows_;
  Result<CutReading> reading_ = CutReading{};
};

}  // namespace ypsi::app
