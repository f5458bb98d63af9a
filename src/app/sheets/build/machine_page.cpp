#include "app/sheets/build/machine_page.h"

#include <QGridLayout>
#include <QLabel>

#include "app/drawing/machine_view.h"
#include "app/session/book_editor.h"
#include "app/session/notices.h"
#include "app/sheets/sheet.h"
#include "app/to_q.h"
#include "core/book/record.h"
#include "core/tasks/build.h"

namespace ypsi::app {

MachinePage::MachinePage(BuildDraft& draft) : BuildPage(draft) {
  setObjectName("build-page-machine");
  auto* grid = new QGridLayout(this);
  grid->setContentsMargins(0, 4, 0, 0);
  grid->setHorizontalSpacing(14);
  grid->setVerticalSpacing(8);
  int row = 0;
  const auto add = [&](const QString& word, QWidget* widget, const QString& hint = {}) {
    grid->addWidget(make_label("word", "small", word, this), row, 0);
    grid->addWidget(widget, row, 1);
    grid->addWidget(make_label("hint", "small", hint, this), row++, 2);
  };
  kinds_ = new QComboBox(this);
  kinds_->setObjectName("kind");
  kinds_->setAccessibleName(tr("Kind of machine"));
  for (const auto& k : machine_kinds()) kinds_->addItem(kind_words(k.id), QString(k.id));
  add(tr("Kind"), kinds_, tr("A start; every figure can be changed."));
  const auto line = [&](const char* name, const QString& what) {
    auto* edit = new QLineEdit(this);
    edit->setObjectName(name);
    edit->setAccessibleName(what);
    edit->setFixedHeight(28);
    return edit;
  };
  name_ = line("machine-name", tr("Name of the machine"));
  workshop_ = line("workshop", tr("Workshop"));
  description_ = line("description", tr("What it is"));
  add(tr("Its name"), name_);
  add(tr("What it is"), description_, tr("as you would say it: bench router"));
  add(tr("Workshop"), workshop_);
  auto* part = new QWidget(this);
  auto* across = new QHBoxLayout(part);
  across->setContentsMargins(0, 0, 0, 0);
  width_ = new LengthField("part-width", tr("Width of the usual part"), part);
  height_ = new LengthField("part-height", tr("Height of the usual part"), part);
  for (auto* f : {width_, height_}) f->set_decimals(0);
  across->addWidget(width_);
  across->addWidget(make_label("times", "small", "×", part));
  across->addWidget(height_);
  add(tr("Usual part"), part, tr("Findings say what they do to a part of this size."));
  tolerance_ = new LengthField("part-tolerance", tr("What its sizes may be off by"), this);
  tolerance_->set_decimals(2);
  add(tr("Good within"), tolerance_, tr("What its sizes may be off by; measuring goes on until they are not."));
  grid->setColumnStretch(1, 2);
  grid->setColumnStretch(2, 3);
  grid->setRowStretch(row, 1);

  connect(kinds_, &QComboBox::activated, this, [this](int i) { choose_kind(kinds_->itemData(i).toString()); });
  const auto text = [&](QLineEdit* edit, std::string MachineSetup::*into, const QString& what) {
    connect(edit, &QLineEdit::editingFinished, this, [this, edit, into, what] {
      const std::string typed = edit->text().trimmed().toStdString();
      if (typed == draft_.machine().*into) return;
      draft_.change(what, [&](MachineSetup& m) { m.*into = typed; });
    });
  };
  text(name_, &MachineSetup::name, tr("Name the machine"));
  text(workshop_, &MachineSetup::workshop, tr("Name the workshop"));
  text(description_, &MachineSetup::description, tr("Describe the machine"));
  const auto size = [&](LengthField* f, auto Job::*into) {
    connect(f, &LengthField::committed, this, [this, into](double mm) {
      if (!(mm > 0)) {
        session().notices().notify({NoticeLevel::attention, tr("That must be above zero; it was left as it is."), {}});
        refresh();
        return;
      }
      session().editor().change_book(tr("Change the usual part"), [&](Book& b) { b.job.*into = mm; });
    });
    connect(f, &LengthField::refused, this, [this](const QString& why) {
      session().notices().notify({NoticeLevel::attention, why, {}});
    });
  };
  size(width_, &Job::part_width);
  size(height_, &Job::part_height);
  size(tolerance_, &Job::part_tolerance);
}

void MachinePage::choose_kind(const QString& id) {
  // A machine that was never kept starts from what is usual for the kind; one that was keeps its figures.
  const bool begins = !newest(session().editor().book(), build_id);
  draft_.change(tr("Choose the kind of machine"), [&](MachineSetup& m) {
    if (!begins) {
      m.kind = id.toStdString();
      return;
    }
    MachineSetup usual = machine_kind(id.toStdString()).usual;
    usual.name = m.name;
    usual.workshop = m.workshop;
    usual.description = m.description;
    usual.unknown = m.unknown;
    usual.spindle = m.spindle;
    m = std::move(usual);
  });
}

void MachinePage::refresh() {
  const MachineSetup& m = draft_.machine();
  kinds_->setCurrentIndex(kinds_->findData(QString(machine_kind(m.kind).id)));
  const auto show = [](QLineEdit* edit, const std::string& text) {
    if (!edit->hasFocus() || !edit->isModified()) edit->setText(to_q(text));
  };
  show(name_, m.name);
  show(workshop_, m.workshop);
  show(description_, m.description);
  for (auto* f : {width_, height_, tolerance_}) f->set_unit(session().editor().unit());
  width_->show_value(session().editor().book().job.part_width);
  height_->show_value(session().editor().book().job.part_height);
  tolerance_->show_value(session().editor().book().job.part_tolerance.value_or(usual_part_tolerance));
}

}  // namespace ypsi::app
