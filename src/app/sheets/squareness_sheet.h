#pragma once
#include <QComboBox>

#include "app/sheets/sheet.h"
#include "app/sheets/sheet_pages.h"
#include "app/sheets/squareness/reversal_page.h"
#include "app/sheets/squareness/square_drawing.h"
#include "core/book/worksheets/squareness.h"
#include "core/procedures/mark_points.h"

namespace ypsi::app {

/// Squareness of X and Y from distances between marks, and what to do with the beam.
class SquarenessSheet : public Sheet {
  Q_OBJECT
 public:
  explicit SquarenessSheet(Session& session);
  void refresh() override;
  void refresh_status() override;
  /// "marks" or "square".
  void show_part(const QString& part) override;

 private:
  const SquareWorksheet& worksheet() const;
  SquareInput input() const;
  void change(const QString& text, const std::function<void(SquareWorksheet&)>& change);
  void set_corners(double width, double height);
  void mark();
  void write_program();
  void add_distance(std::size_t from, std::size_t to);
  void add_proposed();
  bool scales_known() const;
  void turn_edge(std::size_t distance);
  void take_out(std::size_t distance);
  void read_next();
  void focus_next(std::size_t after);
  std::optional<std::size_t> focused() const;
  Entry finding_entry() const;
  void keep();
  void beam_moved();
  void set_offset();
  void show_finding();
  void show_reversal();
  void keep_reversal();
  void add_mark_here();
  void write_corrected_copy();
  bool by_square() const { return pages_->part() == "square"; }
  QString cannot_tell() const;
  QString too_small() const;

  SheetPages* pages_;
  ReversalPage* reversal_;
  QPushButton *copy_, *mark_here_;
  SquareDrawing* drawing_;
  LengthField *width_, *height_, *hole_, *tolerance_;
  QComboBox* instruments_;
  QPushButton *mark_, *read_, *add_, *offset_, *moved_, *keep_;
  QLabel *caption_, *hint_, *lead_, *figure_, *spread_, *verdict_, *text_, *also_heading_, *also_;
  std::shared_ptr<MarkPoints> marking_ = std::make_shared<MarkPoints>();
  std::optional<SquareResult> result_;
  std::string problem_;
};

}  // namespace ypsi::app
