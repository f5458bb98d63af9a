#include "app/sheets/warmth_row.h"

#include <QHBoxLayout>
#include <cmath>

#include "app/session/book_editor.h"
#include "app/session/notices.h"
#include "app/sheets/sheet.h"
#include "core/book/book.h"

namespace ypsi::app {
namespace {

constexpr double coldest_C = -30, hottest_C = 60;

double fahrenheit(double celsius) {
  return celsius * 9 / 5 + 32;
}

double celsius(double fahrenheit) {
  return (fahrenheit - 32) * 5 / 9;
}

}  // namespace

WarmthRow::WarmthRow(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(0, 0, 0, 0);
  question_ = make_label("warmth-question", "small", "", this);
  question_->setWordWrap(false);
  row->addWidget(question_);
  row->addStretch();
  field_ =
      new LengthField("warmth", tr("Temperature of the workshop, kept with what is measured in this sitting"), this);
  field_->set_decimals(0);
  field_->set_unit(LengthUnit::none);
  field_->setFixedWidth(64);
  row->addWidget(field_);
  unit_ = make_label("warmth-unit", "small", "", this);
  unit_->setWordWrap(false);
  row->addWidget(unit_);
  connect(field_, &LengthField::refused, this, [this](const QString& why) {
    session_.notices().notify({NoticeLevel::attention, why, {}});
  });
  connect(field_, &LengthField::committed, this, [this](double typed) {
    const double C = session_.editor().unit() == LengthUnit::inch ? celsius(typed) : typed;
    if (C >= coldest_C && C <= hottest_C)
      session_.editor().say_temperature(C);
    else
      session_.notices().notify({NoticeLevel::attention,
                                 tr("No workshop is as warm or as cold as that; say it in %1.").arg(unit_->text()),
                                 {}});
    refresh();
  });
}

void WarmthRow::refresh() {
  const bool imperial = session_.editor().unit() == LengthUnit::inch;
  const auto said = session_.editor().temperature_C();
  question_->setText(said ? tr("Warmth, kept with findings") : tr("How warm is it here today?"));
  unit_->setText(imperial ? tr("°F") : tr("°C"));
  field_->show_value(said ? std::optional(std::round(imperial ? fahrenheit(*said) : *said)) : std::nullopt);
  field_->setEnabled(!session_.editor().read_only());
}

}  // namespace ypsi::app
