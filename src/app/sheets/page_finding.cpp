#include "app/sheets/page_finding.h"

#include "app/sheets/sheet.h"

namespace ypsi::app {

FindingLabels::FindingLabels(FindingPanel& panel, const QString& prefix, const QString& second_tip) {
  panel.add_label("finding-heading", "heading", QWidget::tr("FINDING"));
  lead_ = panel.add_label(prefix + "-lead", "strong");
  figure_ = panel.add_label(prefix + "-figure", "big");
  figure_->setStyleSheet("font-size: 25px;");  // with its U it fits on one line
  spread_ = panel.add_label(prefix + "-spread", "small");
  panel.box()->addSpacing(4);
  verdict_ = panel.add_label(prefix + "-verdict", "strong");
  text_ = panel.add_label(prefix + "-text", "task");
  panel.add_stretch();
  keep_ = panel.add_button("keep", QWidget::tr("Keep this finding"),
                           QWidget::tr("Writes it into the book with its readings (Ctrl+Return)"), true);
  keep_->setShortcut(QKeySequence("Ctrl+Return"));
  second_ = panel.add_button(prefix + "-second", "", second_tip);
}

void FindingLabels::show(const PageFinding& f, bool read_only) {
  set_text(lead_, f.lead);
  set_text(figure_, f.figure);
  set_text(spread_, f.spread);
  set_text(verdict_, f.verdict);
  set_text(text_, f.text);
  for (QLabel* label : {lead_, figure_, spread_, verdict_, text_}) label->setVisible(!label->text().isEmpty());
  set_text(keep_, f.keep.isEmpty() ? QWidget::tr("Keep this finding") : f.keep);
  keep_->setEnabled(f.can_keep && !read_only);
  second_->setVisible(!f.second.isEmpty());
  if (!f.second.isEmpty()) set_text(second_, f.second);
  second_->setEnabled(!read_only);
}

}  // namespace ypsi::app
