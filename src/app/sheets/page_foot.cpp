#include "app/sheets/page_foot.h"

#include "app/sheets/sheet.h"

namespace ypsi::app {

PageFoot::PageFoot(QVBoxLayout* column, QWidget* card, int side_px)
    : card_(card), settings_(new QVBoxLayout), acts_(new QVBoxLayout), hints_(new QVBoxLayout) {
  for (QVBoxLayout* part : {settings_, acts_, hints_}) {
    part->setContentsMargins(side_px, 0, side_px, 0);
    column->addLayout(part);
  }
}

WrappedRow* PageFoot::row(QVBoxLayout* in) {
  auto* made = new WrappedRow;
  in->addLayout(made);
  return made;
}

QLabel* PageFoot::hint(const QString& name, const char* role, const QString& text) {
  auto* label = make_label(name, role, text, card_);
  hints_->addWidget(label);
  return label;
}

}  // namespace ypsi::app
