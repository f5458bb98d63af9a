#include "app/widgets/field.h"

#include <QPainter>
#include <QStyle>
#include <algorithm>

#include "app/theme/theme.h"

namespace ypsi::app {

LengthField::LengthField(const QString& name, const QString& what, QWidget* parent) : QLineEdit(parent) {
  setObjectName(name);
  setAccessibleName(what);
  setToolTip(what);
  setAlignment(Qt::AlignRight | Qt::AlignVCenter);
  setFont(text_font(13, true));
  setTextMargins(0, 0, 24, 0);
  setFixedHeight(28);
  connect(this, &QLineEdit::editingFinished, this, &LengthField::commit);
  connect(this, &QLineEdit::returnPressed, this, &LengthField::next_wanted);
}

void LengthField::set_unit(LengthUnit unit) {
  wanted_unit_ = unit;
  // What is being typed was begun in a unit, and is of it.
  if (!(hasFocus() && isModified())) take_unit();
}

void LengthField::take_unit() {
  if (wanted_unit_ == unit_) return;
  const LengthUnit unit = unit_ = wanted_unit_;
  setTextMargins(0, 0, unit == LengthUnit::none ? 4 : 24, 0);  // room for the unit's name
  show_value(value_);
  update();
}

void LengthField::show_value(std::optional<double> mm) {
  value_ = mm;
  if (hasFocus() && isModified()) return;
  setText(mm ? QString::fromStdString(format_length(*mm, unit_, decimals_)) : QString());
  setModified(false);
  set_wrong(false);
}

void LengthField::set_wrong(bool wrong) {
  if (property("wrong").toBool() == wrong) return;
  setProperty("wrong", wrong);
  style()->unpolish(this);
  style()->polish(this);
}

void LengthField::commit() {
  if (!isModified()) return;
  if (text().trimmed().isEmpty()) {
    setModified(false);
    take_unit();
    if (!clearable_) return show_value(value_);
    show_value(std::nullopt);
    emit cleared();
    return;
  }
  const auto mm = parse_length(text().toStdString(), unit_);
  if (!mm) {
    set_wrong(true);
    emit refused(QString::fromStdString(mm.error().message));
    return;
  }
  setModified(false);
  value_ = *mm;
  take_unit();
  show_value(*mm);
  emit committed(*mm);
}

void LengthField::focusInEvent(QFocusEvent* event) {
  QLineEdit::focusInEvent(event);
  selectAll();
}

void LengthField::paintEvent(QPaintEvent* event) {
  QLineEdit::paintEvent(event);
  QPainter painter(this);
  painter.setFont(text_font(11));
  painter.setPen(theme().second_ink);
  painter.drawText(rect().adjusted(0, 0, -7, 0), Qt::AlignRight | Qt::AlignVCenter,
                   QString::fromStdString(unit_name(unit_)));
}

void put_on_drawing(QWidget& widget, QPointF centre) {
  const QSize room = widget.parentWidget()->size() - widget.size();
  const QPointF at = centre - QPointF(widget.width() / 2.0, widget.height() / 2.0);
  widget.move(std::clamp(static_cast<int>(at.x()), 0, std::max(0, room.width())),
              std::clamp(static_cast<int>(at.y()), 0, std::max(0, room.height())));
}

}  // namespace ypsi::app
