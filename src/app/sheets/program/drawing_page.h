#pragma once
#include <QPushButton>
#include <QTableWidget>
#include <functional>

#include "app/session/loaded_drawing.h"
#include "app/session/session.h"
#include "app/sheets/page_finding.h"
#include "app/widgets/field.h"
#include "core/drawing_in/drawing_program.h"

namespace ypsi::app {

class DrawingView;

/// A drawing's layers, what is done with each, and the program that is made of it.
class DrawingPage : public FindingPage {
  Q_OBJECT
 public:
  explicit DrawingPage(Session& session);
  void refresh() override;
  PageFinding finding() const override;
  /// Writes the program beside the drawing and loads it.
  void keep() override;
  /// Another drawing is asked for.
  void second() override;
  void open(const QString& path);
  /// Whether a file of this name is a drawing.
  static bool takes(const QString& path);

 private:
  void change(const QString& text, const std::function<void(DrawingJob&)>& how);
  void take_row(int row);
  void show_layers();
  void show_view();
  void set_width(double mm);
  const DrawingJob& job() const;
  LayerAct act_of(const std::string& layer) const;
  void make();  ///< anew, of what the book says now

  DrawingLoader* loader_;
  std::shared_ptr<const LoadedDrawing> drawing_;
  std::vector<HeadPath> paths_;
  std::optional<Result<HeadProgram>> made_;  ///< none where no drawing is loaded
  QString failed_, asked_;
  std::string asked_unit_;
  DrawingView* view_;
  QLabel *caption_, *unit_words_, *hint_;
  QTableWidget* layers_;
  LengthField *columns_, *rows_, *gap_;
  QPushButton* corner_;
  bool showing_ = false;
};

}  // namespace ypsi::app
