#include "app/sheets/program/layers_row.h"

#include "app/session/book_editor.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/widgets/wrapped_row.h"
#include "core/tasks/trials.h"

namespace ypsi::app {
namespace {

/// Of the material that lies there.
double& cap_of(Job& job) {
  return describe_material(job.materials, job.stock_name).cap_mm;
}

}  // namespace

LayersRow::LayersRow(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
  auto* row = new WrappedRow;
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(8);
  setLayout(row);
  cap_ = add("stock-cap", tr("Cap"), tr("Thickness of the cap of a plate of two layers; empty: it is of one piece"),
             cap_of);
  sheet_ = add("stock-sheet", tr("Sheet"),
               tr("Thickness of the adhesive sheet below the stock, which a cut may go into; empty: there is none"),
               [](Job& job) -> double& { return job.sheet_mm; });
  board_ = add("stock-board", tr("Board"), tr("Thickness of the board between that and the bed; empty: there is none"),
               [](Job& job) -> double& { return job.board_mm; });
}

WordedField LayersRow::add(const char* name, const QString& word, const QString& what, double& (*value)(Job&)) {
  const WordedField added = add_field(layout(), name, word, what, 3, session_, this);
  added.field->set_clearable(true);
  const auto type = [this, value](double mm) {
    session_.editor().change_book(
        tr("Change the stock"), [&](Book& b) { value(b.job) = mm; }, MachineFollows::no);
  };
  connect(added.field, &LengthField::committed, this, [this, type](double mm) {
    if (mm >= 0) return type(mm);
    session_.notices().notify({NoticeLevel::attention, tr("A thickness is not below zero; it was left as it is."), {}});
    refresh();
  });
  connect(added.field, &LengthField::cleared, this, [type] { type(0); });
  return added;
}

void LayersRow::refresh() {
  const Book& book = session_.editor().book();
  const auto show = [&](const WordedField& of, double mm) {
    of.field->set_unit(session_.editor().unit());
    of.field->show_value(mm > 0 ? std::optional(mm) : std::nullopt);
    of.field->setEnabled(!session_.editor().read_only());
  };
  cap_.set_visible(engraves(book.machine));
  show(cap_, material_named(book.job.materials, book.job.stock_name).cap_mm);
  show(sheet_, book.job.sheet_mm);
  show(board_, book.job.board_mm);
}

}  // namespace ypsi::app
