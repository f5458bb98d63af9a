#pragma once
#include <QElapsedTimer>
#include <QSlider>
#include <QTimer>

#include "app/sheets/sheet.h"
#include "app/widgets/field.h"
#include "app/widgets/plan_view.h"

namespace ypsi::app {

class ElevationView;

/// A button that acts only after it was pressed for two seconds; shows how long still. Space held does the same.
class LongPressButton : public QPushButton {
  Q_OBJECT
 public:
  LongPressButton(const QString& text, QWidget* parent);

 signals:
  void pressed_long();

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  void end_press();
  QTimer timer_;
  QElapsedTimer since_;
};

/// Progress over the whole program with marks at tool changes and stops.
class ProgressStrip : public QWidget {
 public:
  explicit ProgressStrip(QWidget* parent);
  void show(double part, std::vector<double> marks);
  double part() const { return part_; }

 protected:
  void paintEvent(QPaintEvent*) override;

 private:
  double part_ = 0;
  std::vector<double> marks_;
};

/// The program's lines around the one that is cut.
class LinesView : public QWidget {
 public:
  explicit LinesView(QWidget* parent);
  void show(std::shared_ptr<const LoadedProgram> program, std::uint32_t line);

 protected:
  void paintEvent(QPaintEvent*) override;

 private:
  std::shared_ptr<const LoadedProgram> program_;
  std::uint32_t line_ = 0;
};

class BeamChecks;
class ToolDrawing;

/// Cut: start, hold, continue, abandon; what has been cut and what is left.
class CutSheet : public Sheet {
  Q_OBJECT
 public:
  explicit CutSheet(Session& session);
  void refresh() override;
  void refresh_status() override;
  void leave() override;

 private:
  PlanView* plan_;
  ElevationView* elevation_;
  LinesView* lines_;
  ProgressStrip* strip_;
  QLabel *what_, *percent_, *line_, *facts_, *left_, *message_, *override_label_;
  QPushButton *start_, *continue_, *resume_, *stand_over_;
  LengthField* from_;
  ToolDrawing* tool_;
  BeamChecks* beam_;
  QWidget* resume_row_;
  LongPressButton* abandon_;
  QSlider* override_;
  void find_passes();
  QString pass_words(std::uint32_t line) const;
  std::vector<double> marks_;
  std::vector<double> passes_;  ///< depths that are cut at, the highest first; empty where there are too many
  std::shared_ptr<const LoadedProgram> passes_of_;
  std::uint32_t shown_line_ = 0;
};

}  // namespace ypsi::app
