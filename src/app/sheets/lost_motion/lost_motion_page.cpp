#include "app/sheets/lost_motion/lost_motion_page.h"

#include "app/session/book_editor.h"
#include "app/to_q.h"

namespace ypsi::app {
namespace {

constexpr const char* indicator = "indicator";

}  // namespace

void LostMotionPage::offer_instruments(QComboBox* box) const {
  QStringList names;
  for (const auto& i : session_.editor().book().instruments) names << to_q(i.name);
  if (!names.contains(indicator)) names << indicator;
  if (box->count() == names.size()) return;
  box->clear();
  box->addItems(names);
  box->setCurrentText(indicator);
}

Instrument LostMotionPage::chosen(const QComboBox* box) const {
  if (const Instrument* named = session_.editor().book().instrument(box->currentText().toStdString())) return *named;
  Instrument usual;
  usual.name = indicator;
  usual.resolution_mm = 0.01;
  return usual;
}

}  // namespace ypsi::app
