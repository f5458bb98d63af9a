#include "app/sheets/squareness/reversal_page.h"

#include "app/session/book_editor.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/sheets/squareness/reversal_drawing.h"
#include "app/to_q.h"

namespace ypsi::app {

ReversalPage::ReversalPage(Session& session) : session_(session) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  auto* card = make_card(this);
  auto* inside = new QVBoxLayout(card);
  inside->setContentsMargins(14, 10, 14, 10);
  inside->addWidget(make_label("reversal-caption", "caption",
                               tr("Carry the indicator along the blade; turn the square over; once more"), card));
  drawing_ = new ReversalDrawing(card);
  inside->addWidget(drawing_, 1);
  auto* row = new QHBoxLayout;
  read_ = make_button("reversal-read", tr("Read the indicator"),
                      tr("The next reading, as a person with this instrument would get it (Ctrl+R)"), card);
  read_->setShortcut(QKeySequence("Ctrl+R"));
  row->addWidget(read_);
  instruments_ = new QComboBox(card);
  instruments_->setObjectName("reversal-instrument");
  instruments_->setAccessibleName(tr("Read with"));
  row->addWidget(instruments_);
  row->addStretch();
  inside->addLayout(row);
  column->addWidget(card, 1);
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
  connect(instruments_, &QComboBox::textActivated, this, [this](const QString& name) {
    change(tr("Read with another instrument"), [&](ReversalWorksheet& w) { w.instrument = name.toStdString(); });
  });
  connect(read_, &QPushButton::clicked, this, &ReversalPage::read_next);
}

void ReversalPage::change(const QString& text, const std::function<void(ReversalWorksheet&)>& how) {
  session_.editor().change_book(
      text, [&](Book& b) { how(b.reversal_worksheet); }, MachineFollows::no);
}

Instrument ReversalPage::instrument() const {
  if (const Instrument* i = session_.editor().book().instrument(worksheet().instrument)) return *i;
  Instrument usual;
  usual.name = "indicator";
  usual.resolution_mm = 0.01;
  return usual;
}

Result<SquareByReversal> ReversalPage::evaluate() const {
  const ReversalWorksheet& w = worksheet();
  if (!w.first_mm || !w.turned_mm) return fail("too_few", "");
  return square_by_reversal(w.length_mm, *w.first_mm, *w.turned_mm, instrument());
}

std::optional<SquareByReversal> ReversalPage::result() const {
  const auto found = evaluate();
  return found ? std::optional(*found) : std::nullopt;
}

QString ReversalPage::problem() const {
  const auto found = evaluate();
  return found ? QString() : to_q(found.error().message);
}

void ReversalPage::read_next() {
  Bench* bench = session_.machine().bench();
  if (!bench) return;
  const bool turned = worksheet().first_mm.has_value();
  const auto read = bench->read_square(worksheet().length_mm, turned, instruments_->currentText().toStdString());
  if (!read) {
    session_.machine().ask(tl::make_unexpected(read.error()));
    return;
  }
  change(tr("Read the indicator"), [&](ReversalWorksheet& w) { (turned ? w.turned_mm : w.first_mm) = *read; });
}

void ReversalPage::refresh() {
  QStringList names;
  for (const auto& i : session_.editor().book().instruments) names << to_q(i.name);
  if (instruments_->count() != names.size()) {
    instruments_->clear();
    instruments_->addItems(names);
  }
  instruments_->setCurrentText(to_q(worksheet().instrument));
  drawing_->show(worksheet().length_mm, worksheet().first_mm, worksheet().turned_mm, session_.editor().unit());
  read_->setVisible(session_.machine().bench() != nullptr);
  read_->setEnabled(!worksheet().turned_mm);
  emit found();
}

}  // namespace ypsi::app
