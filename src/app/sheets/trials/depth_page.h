#pragma once
#include <QComboBox>
#include <QPushButton>

#include "app/sheets/page_finding.h"
#include "app/widgets/field.h"
#include "core/book/worksheets/trials.h"
#include "core/tasks/engraving.h"

class QCustomPlot;

namespace ypsi::app {

class DepthSection;
class NoseDial;

/// Depth by the ticks of a nose or by Z: grooves are engraved and measured, and what to set for a depth is told.
class DepthPage : public FindingPage {
  Q_OBJECT
 public:
  explicit DepthPage(Session& session);
  void refresh() override;
  void refresh_status() override;
  PageFinding finding() const override;
  void keep() override;

 private:
  void change(const QString& text, const std::function<void(DepthSheet&)>& how);
  /// `value`: where the field's number stands.
  void bind(LengthField* field, double& (*value)(Book&));
  void add_groove();
  void make_groove();
  void write_ladder();
  void show_ladder(const Result<EngravingFinding>& found);

  DepthSection* section_;
  QCustomPlot* ladder_;
  NoseDial* dial_;
  QComboBox *instrument_, *what_, *by_;
  QLabel* tick_word_;
  LengthField *tick_, *measured_;
  QPushButton *take_, *make_, *write_, *back_;
  QLabel* hint_;
};

}  // namespace ypsi::app
