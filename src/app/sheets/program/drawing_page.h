#pragma once
#include <QPushButton>
#include <QSlider>
#include <QTableWidget>
#include <functional>

#include "app/session/drawing_maker.h"
#include "app/session/loaded_drawing.h"
#include "app/session/session.h"
#include "app/sheets/page_finding.h"
#include "app/widgets/field.h"

namespace ypsi::app {

class DrawingView;
class LayerMore;
class LookView;

/// A drawing's layers, what is done with each, and the program that is made of it.
class DrawingPage : public FindingPage {
  Q_OBJECT
 public:
  explicit DrawingPage(Session& session);
  void refresh() override;
  PageFinding finding() const override;
  /// Writes the program beside the drawing and loads it.
  void keep() override { write(); }
  /// Whether it is written and being loaded; where not, it was said why.
  bool write();
  bool write_and_load(const std::vector<std::string>& texts, const QString& beside);
  /// What holds the stock and each piece that is cut free; empty without a vacuum bed or a drawing.
  QString held_words() const;
  /// Where each head stands against the first; empty where there is none beside it.
  QString places_words() const;
  /// Another drawing is asked for.
  void second() override;
  void open(const QString& path);
  /// Whether a file of this name is a drawing.
  static bool takes(const QString& path);

 signals:
  void made();  ///< finding() is another, and nothing else is

 private:
  enum LayerColumn {
    layer_name,
    layer_act,
    layer_with,
    layer_depth,
    layer_passes,
    layer_over,
    layer_feed,
    layer_level
  };
  void change(const QString& text, const std::function<void(DrawingJob&)>& how);
  void take_row(int row);
  void fit_columns();
  void resizeEvent(QResizeEvent* event) override;
  void show_layers();
  void show_more();  ///< of the chosen layer
  void say(const LayerAct& act);
  void show_view();
  void show_steps();
  void show_look();
  void choose_colour(bool of_cap);
  void set_width(double mm);
  const DrawingJob& job() const;
  DrawingJob named_job() const;
  LayerAct act_of(const std::string& layer) const;
  void make();       ///< anew, of what the book says now
  void show_made();  ///< what hangs on the program
  const std::vector<HeadPath>& paths() const;

  DrawingLoader* loader_;
  std::shared_ptr<const LoadedDrawing> drawing_;
  DrawingMaker* maker_;
  std::shared_ptr<const MadeDrawing>
      made_;  ///< null where no drawing is loaded, or what is made of it is not there yet
  QString failed_, asked_;
  std::string asked_unit_;
  DrawingView* view_;
  QLabel *caption_, *unit_words_, *hint_;
  QTableWidget* layers_;
  LayerMore* more_;
  LengthField *columns_, *rows_, *gap_;
  LookView* look_;
  QPushButton *corner_, *stepping_, *looking_, *each_;
  QWidget* steps_row_;
  QSlider* step_;
  QLabel* step_words_;
  bool showing_ = false;
};

}  // namespace ypsi::app
