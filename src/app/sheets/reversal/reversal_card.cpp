#include "app/sheets/reversal/reversal_card.h"

#include <QVBoxLayout>

#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/sheets/instrument_choice.h"
#include "app/sheets/page_foot.h"
#include "app/to_q.h"
#include "core/book/worksheets/reversal.h"

namespace ypsi::app {

ReversalCard::ReversalCard(Session& session, const QString& name, const ReversalWords& words, QWidget* parent)
    : QFrame(parent), session_(session) {
  setObjectName("card");
  auto* inside = new QVBoxLayout(this);
  inside->setContentsMargins(14, 10, 14, 10);
  inside->addWidget(make_label(name + "-caption", "caption", words.caption, this));
  drawing_ = new ReversalDrawing(name, words, this);
  inside->addWidget(drawing_, 1);
  auto* row = PageFoot(inside, this).acts();
  read_ = make_button(name + "-read", tr("Read the indicator"),
                      tr("The next reading, as a person with this instrument would get it (Ctrl+R)"), this);
  read_->setShortcut(QKeySequence("Ctrl+R"));
  row->addWidget(read_);
  instruments_ = new QComboBox(this);
  instruments_->setObjectName(name + "-instrument");
  instruments_->setAccessibleName(tr("Read with"));
  row->addWidget(instruments_);
  for (auto* f : {drawing_->length(), drawing_->first(), drawing_->turned()})
    connect(f, &LengthField::refused, this, [this](const QString& why) {
      session_.notices().notify({NoticeLevel::attention, why, {}});
    });
  connect(drawing_->length(), &LengthField::committed, this, [this](double mm) {
    if (mm > 0)
      change(tr("Change the blade's length"), [mm](ReversalWorksheet& w) { w.length_mm = mm; });
    else
      session_.notices().notify({NoticeLevel::attention, tr("That must be above zero; it was left as it was."), {}});
    refresh();
  });
  connect(drawing_->first(), &LengthField::committed, this, [this](double mm) {
    change(tr("Type a reading"), [mm](ReversalWorksheet& w) { w.first_mm = mm; });
    drawing_->turned()->setFocus();
  });
  connect(drawing_->turned(), &LengthField::committed, this,
          [this](double mm) { change(tr("Type a reading"), [mm](ReversalWorksheet& w) { w.turned_mm = mm; }); });
  connect(instruments_, &QComboBox::textActivated, this, [this](const QString& chosen) {
    change(tr("Read with another instrument"), [&](ReversalWorksheet& w) { w.instrument = chosen.toStdString(); });
  });
  connect(read_, &QPushButton::clicked, this, &ReversalCard::read_next);
}

void ReversalCard::change(const QString& text, const std::function<void(ReversalWorksheet&)>& how) {
  session_.editor().change_book(
      text, [&](Book& b) { how(of(b)); }, MachineFollows::no);
}

Instrument ReversalCard::instrument() const {
  return instrument_or_indicator(session_.editor().book(), to_q(worksheet().instrument));
}

void ReversalCard::read_next() {
  const bool turned = worksheet().first_mm.has_value();
  session_.machine().look(
      this, [this, turned](Bench& b) { return read(b, turned); },
      [this, turned](double seen) {
        change(tr("Read the indicator"), [&](ReversalWorksheet& w) { (turned ? w.turned_mm : w.first_mm) = seen; });
      });
}

void ReversalCard::refresh() {
  offer_instruments(instruments_, session_.editor().book());
  instruments_->setCurrentText(to_q(worksheet().instrument));
  drawing_->show(worksheet().length_mm, worksheet().first_mm, worksheet().turned_mm, session_.editor().unit());
  read_->setVisible(session_.machine().bench() != nullptr);
  read_->setEnabled(!worksheet().turned_mm);
  emit found();
}

}  // namespace ypsi::app
