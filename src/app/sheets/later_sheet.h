#pragma once
#include "app/sheets/sheet.h"

namespace ypsi::app {

/// A stop of the order of work that this version does not have yet: says honestly what it will do.
class LaterSheet : public Sheet {
 public:
  LaterSheet(Session& session, const QString& id, const QString& title, const QString& what)
      : Sheet(session, id, title, what) {
    auto* card = make_card();
    auto* layout = new QVBoxLayout(card);
    layout->addStretch();
    auto* words = make_label(
        "later", "small", tr("Not in this version yet. What the book already holds of it stays in the record."), card);
    words->setAlignment(Qt::AlignCenter);
    layout->addWidget(words);
    layout->addStretch();
    body()->addWidget(card, 1);
    finding()->add_label("finding-heading", "heading", tr("IN THE BOOK"));
    from_book_ = finding()->add_label("from-book", "small");
    finding()->add_stretch();
    id_ = id;
  }
  void refresh() override;

 private:
  QString id_;
  QLabel* from_book_;
};

}  // namespace ypsi::app
