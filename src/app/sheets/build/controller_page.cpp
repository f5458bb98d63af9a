#include "app/sheets/build/controller_page.h"

#include <QLabel>
#include <QScrollArea>

#include "app/session/book_editor.h"
#include "app/session/machine_session.h"
#include "app/session/setting_words.h"
#include "app/sheets/sheet.h"
#include "app/to_q.h"

namespace ypsi::app {

ControllerPage::ControllerPage(BuildDraft& draft) : BuildPage(draft) {
  setObjectName("build-page-controller");
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  summary_ = make_label("controller-summary", "strong", "", this);
  column->addWidget(summary_);
  auto* area = new QScrollArea(this);
  area->setWidgetResizable(true);
  area->setFrameShape(QFrame::NoFrame);
  list_ = new QWidget(area);
  grid_ = new QGridLayout(list_);
  area->setWidget(list_);
  column->addWidget(area, 1);
}

void ControllerPage::fill() {
  // Rows are made anew: they are few, and change only when something is settled.
  while (QLayoutItem* item = grid_->takeAt(0)) {
    if (QWidget* widget = item->widget()) {
      widget->setObjectName({});  // it may be the button that is being clicked, and lives on until that is over
      widget->hide();
      widget->deleteLater();
    }
    delete item;
  }
  if (!session().machine().connection() || !session().machine().connection()->up()) {
    summary_->setText(tr("Offline: connect to the machine to read its settings (Ctrl+L)."));
    return;
  }
  const auto all = controller_settings(session().editor().book().machine);
  const auto there = read_back(*session().machine().link(), all);
  const auto different = session().machine().setting_differences();
  summary_->setText(
      different.empty()
          ? tr("● Book and controller agree in all %1 settings.").arg(all.size())
          : tr("◐ %1 of %2 settings differ. Say for each which holds.").arg(different.size()).arg(all.size()));
  int row = 0;
  const auto put = [&](int column, const QString& text, const char* role) {
    auto* label = make_label("setting", role, text, list_);
    label->setWordWrap(false);
    grid_->addWidget(label, row, column);
  };
  put(0, tr("Setting"), "caption");
  put(1, tr("In the book"), "caption");
  put(2, tr("In the controller"), "caption");
  ++row;
  const LengthUnit unit = session().editor().unit();
  for (const auto& d : different) {
    const QString words = setting_words(d.in_book.name);
    put(0, words, "attention");
    put(1, setting_value(d.in_book, d.in_book.value, unit), "strong");
    put(2, setting_value(d.in_book, d.in_controller, unit), "strong");
    auto* take = make_button(to_q("take-" + d.in_book.name), tr("Into the book"),
                             tr("The book takes what the controller has: %1").arg(words), list_);
    auto* set = make_button(to_q("set-" + d.in_book.name), tr("Into the controller"),
                            tr("The controller is set as in the book: %1").arg(words), list_);
    for (auto* b : {take, set})
      b->setEnabled(session().machine().standing_ready() ||
                    session().machine().status().state == MachineState::not_homed);
    connect(take, &QPushButton::clicked, this, [this, d] { session().machine().settle(d, true); });
    connect(set, &QPushButton::clicked, this, [this, d] { session().machine().settle(d, false); });
    grid_->addWidget(take, row, 3);
    grid_->addWidget(set, row, 4);
    ++row;
  }
  for (const auto& s : all) {
    const auto value = there.find(s.name);
    if (value == there.end() ||
        std::any_of(different.begin(), different.end(), [&](const auto& d) { return d.in_book.name == s.name; }))
      continue;
    put(0, setting_words(s.name), "small");
    put(1, setting_value(s, s.value, unit), "small");
    put(2, setting_value(s, value->second, unit), "small");
    ++row;
  }
  grid_->setRowStretch(row, 1);
  grid_->setColumnStretch(0, 1);
}

void ControllerPage::refresh() {
  shown_ = session().machine().status().state;
  fill();
}

void ControllerPage::refresh_status() {
  if (session().machine().status().state != shown_) refresh();
}

}  // namespace ypsi::app
