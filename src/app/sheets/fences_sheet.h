#pragma once
#include <QCheckBox>
#include <QComboBox>
#include <QLineEdit>
#include <QTableWidget>

#include "app/sheets/page_finding.h"
#include "app/sheets/sheet.h"
#include "app/sheets/sheet_pages.h"
#include "core/tasks/fences.h"

namespace ypsi::app {

class BlanksPage;
class FenceDrawing;

/// Edges and stops of the table: each tested by what is cut along it, and corrected until it is right.
class FencesSheet : public Sheet {
  Q_OBJECT
 public:
  explicit FencesSheet(Session& session);
  void refresh() override;
  void refresh_status() override;
  void show_part(const QString& part) override;

 private:
  void change(const QString& text, const std::function<void(Book&)>& how);
  void change_fence(const QString& text, const std::function<void(Fence&)>& how);
  void choose(int row);
  void add_fence();
  void take_out();
  void take_place();
  void take_measured(double mm);
  void write_test();
  void keep();
  void show_tests();
  PageFinding finding_words() const;

  void set_zero();
  bool shows_blanks() const;

  SheetPages* pages_;
  BlanksPage* blanks_;
  QPushButton* zero_;
  FenceDrawing* drawing_;
  QComboBox *which_, *kind_, *instrument_;
  QLineEdit* name_;
  LengthField *x_, *y_, *expected_, *tolerance_, *measured_;
  QCheckBox* adds_;
  QTableWidget* tests_;
  QPushButton *add_, *out_, *take_, *write_, *back_;
  QLabel* hint_;
  std::optional<FindingLabels> labels_;
};

}  // namespace ypsi::app
