#include "app/sheets/instrument_choice.h"

#include "app/to_q.h"

namespace ypsi::app {
namespace {

constexpr const char* indicator = "indicator";

}  // namespace

void offer_instruments(QComboBox* box, const Book& book) {
  QStringList names;
  for (const auto& i : book.instruments) names << to_q(i.name);
  if (!names.contains(indicator)) names << indicator;
  if (box->count() == names.size()) return;
  box->clear();
  box->addItems(names);
  box->setCurrentText(indicator);
}

Instrument instrument_or_indicator(const Book& book, const QString& name) {
  if (const Instrument* named = book.instrument(name.toStdString())) return *named;
  Instrument usual;
  usual.name = indicator;
  usual.resolution_mm = 0.01;
  return usual;
}

}  // namespace ypsi::app
