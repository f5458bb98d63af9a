#pragma once
#include <QComboBox>
#include <QProgressBar>

#include "app/sheets/sheet.h"
#include "app/sheets/sheet_pages.h"
#include "app/widgets/field.h"
#include "app/widgets/plan_view.h"

namespace ypsi::app {

class ClampsTable;
class DrawingPage;
class ElevationView;
class LayersRow;

/// Stock and program: load by menu, drop or from the recent list; what it cuts and how long it takes.
class ProgramSheet : public Sheet {
  Q_OBJECT
 public:
  explicit ProgramSheet(Session& session);
  void refresh() override;
  void show_part(const QString& part) override;
  void choose_file();
  /// One more program, to be cut after this one.
  void queue(const QString& path);

 protected:
  void dragEnterEvent(QDragEnterEvent* event) override;
  void dropEvent(QDropEvent* event) override;

 private:
  void set_stock(std::size_t which, double mm);
  void set_where(int choice);
  void queue_file();
  QString ask_for_program(const QString& title);
  void take_file(const QString& path);
  void show_program();
  void show_drawing();
  void show_drawing_finding();
  PlanView* plan_;
  ElevationView* elevation_;
  LengthField* stock_[3];
  LayersRow* layers_;
  QLabel *name_, *size_, *details_, *empty_;
  QLabel *held_heading_, *held_, *places_heading_, *places_;  ///< of a drawing
  bool shows_drawing() const { return pages_->part() == "drawing"; }
  SheetPages* pages_;
  DrawingPage* drawing_;
  QPushButton *write_, *another_;
  QWidget* of_material_;
  QLabel* recent_heading_;
  QPushButton *open_, *cancel_, *next_, *edit_;
  QComboBox *where_, *material_;
  ClampsTable* clamps_;
  QProgressBar* progress_;
  QVBoxLayout* recent_;
  QStringList shown_recent_;
};

}  // namespace ypsi::app
