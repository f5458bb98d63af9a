#include "app/sheets/build/machine_page.h"

#include <QGridLayout>
#include <QLabel>

#include "app/drawing/machine_view.h"
#include "app/session/book_editor.h"
#include "app/session/notices.h"
#include "app/sheets/sheet.h"
#include "app/to_q.h"
#include "app/widgets/wrapped_row.h"
#include "core/book/record.h"
#include "core/tasks/build.h"

namespace ypsi::app {

MachinePage::MachinePage(BuildDraft& draft) : BuildPage(draft) {
  setObjectName("build-page-machine");
  auto* grid = new QGridLayout(this);
  grid->setContentsMargins(0, 4, 0, 0);
  grid->setHorizontalSpacing(14);
  grid->setVerticalSpacing(4);
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
  add(tr("Good within"), tolerance_, tr("Measuring goes on until its sizes are."));
  auto* depths = new QWidget(this);
  auto* both = new QHBoxLayout(depths);
  both->setContentsMargins(0, 0, 0, 0);
  safe_height_ = new LengthField("safe-height", tr("Machine Z to lift to before it moves across"), depths);
  bed_skin_ = new LengthField("bed-skin", tr("How deep a cut through may enter the bed; 0: not at all"), depths);
  for (auto* f : {safe_height_, bed_skin_}) {
    f->set_decimals(1);
    f->setToolTip(f->accessibleName());
  }
  both->addWidget(safe_height_);
  auto* bed = make_label("word", "small", tr("bed"), depths);
  bed->setWordWrap(false);
  both->addWidget(bed);
  both->addWidget(bed_skin_);
  add(tr("Safe height"), depths, tr("Machine Z to lift to; how deep a cut may enter the bed."));
  auto* inputs = new QWidget(this);
  auto* beside = new WrappedRow;
  beside->setContentsMargins(0, 0, 0, 0);
  inputs->setLayout(beside);
  probe_ = new QCheckBox(tr("a probe"), inputs);
  probe_->setObjectName("has-probe");
  stop_ = new QCheckBox(tr("emergency stop"), inputs);
  stop_->setObjectName("has-emergency-stop");
  tool_words_ = new QCheckBox(tr("tool words"), inputs);
  tool_words_->setObjectName("takes-tool-words");
  tool_words_->setToolTip(tr("The controller takes T and M6; without, our own programs have none"));
  stops_ = line("emergency-stops", tr("Where each emergency stop is, with commas between"));
  stops_->setPlaceholderText(tr("of several stops, the place of each: at the bed, at the door"));
  beside->addWidget(probe_);
  beside->addWidget(stop_);
  beside->addWidget(tool_words_);
  stops_->setToolTip(stops_->accessibleName());
  grid->addWidget(make_label("word", "small", tr("Inputs"), this), row, 0);
  grid->addWidget(inputs, row++, 1, 1, 2);
  grid->addWidget(stops_, row++, 1, 1, 2);
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
  const auto has = [&](QCheckBox* box, bool MachineSetup::*without, const QString& what) {
    connect(box, &QCheckBox::clicked, this,
            [this, without, what](bool on) { draft_.change(what, [&](MachineSetup& m) { m.*without = !on; }); });
  };
  has(probe_, &MachineSetup::no_probe, tr("Say whether there is a probe"));
  has(tool_words_, &MachineSetup::no_tool_words, tr("Say whether the controller takes tool words"));
  has(stop_, &MachineSetup::no_emergency_stop, tr("Say whether there is an emergency stop"));
  connect(stops_, &QLineEdit::editingFinished, this, [this] {
    std::vector<std::string> places;
    for (const QString& place : stops_->text().split(',', Qt::SkipEmptyParts))
      if (!place.trimmed().isEmpty()) places.push_back(place.trimmed().toStdString());
    if (places == draft_.machine().emergency_stops) return;
    draft_.change(tr("Say where the emergency stops are"), [&](MachineSetup& m) { m.emergency_stops = places; });
  });
  connect(safe_height_, &LengthField::committed, this, [this](double mm) {
    session().editor().change_book(tr("Change the safe height"), [&](Book& b) { b.machine.safe_height = mm; });
  });
  connect(bed_skin_, &LengthField::committed, this, [this](double mm) {
    if (mm < 0) {
      session().notices().notify(
          {NoticeLevel::attention, tr("A depth into the bed is 0 or more; it was left as it was."), {}});
      return refresh();
    }
    session().editor().change_book(tr("Change how deep a cut may enter the bed"),
                                   [&](Book& b) { b.job.bed_skin = mm; });
  });
  for (auto* f : {safe_height_, bed_skin_})
    connect(f, &LengthField::refused, this, [this](const QString& why) {
      session().notices().notify({NoticeLevel::attention, why, {}});
    });
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
    usual.setting_names = m.setting_names;
    usual.vacuum = m.vacuum;
    usual.no_tool_words = m.no_tool_words;
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
  for (auto* f : {width_, height_, tolerance_, safe_height_, bed_skin_}) f->set_unit(session().editor().unit());
  width_->show_value(session().editor().book().job.part_width);
  height_->show_value(session().editor().book().job.part_height);
  safe_height_->show_value(session().editor().book().machine.safe_height);
  bed_skin_->show_value(session().editor().book().job.bed_skin);
  probe_->setChecked(!m.no_probe);
  stop_->setChecked(!m.no_emergency_stop);
  tool_words_->setChecked(!m.no_tool_words);
  stops_->setVisible(!m.no_emergency_stop);
  QStringList places;
  for (const auto& place : m.emergency_stops) places << to_q(place);
  show(stops_, places.join(", ").toStdString());
  tolerance_->show_value(session().editor().book().job.part_tolerance.value_or(usual_part_tolerance));
}

}  // namespace ypsi::app
