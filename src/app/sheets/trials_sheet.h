#pragma once
#include <QComboBox>

#include "app/sheets/page_finding.h"
#include "app/sheets/sheet.h"
#include "app/sheets/sheet_pages.h"
#include "core/book/worksheets/trials.h"
#include "core/procedures/beam_flash.h"
#include "core/tasks/trials.h"

namespace ypsi::app {

class BeamChecks;
class DepthPage;
class GridPage;
class TrialCurve;

/// Short cuts at rising pressure, depth or power, looked at one by one; what to set lies between.
class TrialsSheet : public Sheet {
  Q_OBJECT
 public:
  explicit TrialsSheet(Session& session);
  void refresh() override;
  void refresh_status() override;
  void show_part(const QString& part) override;

 private:
  void show_heads();
  void choose(const QString& material, const std::string& head, int tool);
  void set_range(double TrialsWorksheet::*value, double to);
  void add_look();
  void take_back();
  void make_cut();
  void flash();
  bool by_power() const;  ///< a beam is tried
  void write_program();
  void keep();
  void change(const QString& text, const std::function<void(Book&)>& how);
  PageFinding finding_words() const;
  QString level_words() const;  ///< "pressure at the gauge, bar"
  std::optional<TrialFinding> found() const;
  double level() const;  ///< of the cut in hand

  /// What the head that is tried is tried by, and of it what is shown.
  enum class Part { looks, grid, depth };
  bool engraves_depth() const;  ///< grooves of a spindle or a scribe
  Part part() const;
  FindingPage* shown_page() const;  ///< null where looks are shown

  TrialCurve* curve_;
  SheetPages* pages_;
  GridPage* grid_;
  DepthPage* depth_;
  Part wanted_ = Part::depth;  ///< where the head has it
  std::vector<QPushButton*> head_chips_;
  QComboBox *material_, *tool_;
  LengthField *low_, *high_, *step_, *level_;
  QLabel *caption_, *cut_words_, *next_, *wear_;
  BeamChecks* beam_;
  std::shared_ptr<BeamFlash> flash_;
  QPushButton *through_, *not_through_, *spared_, *marked_, *take_, *back_, *make_, *flash_act_, *write_;
  std::optional<FindingLabels> labels_;
};

}  // namespace ypsi::app
