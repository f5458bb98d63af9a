#include "app/sheets/tool_setter_sheet.h"

#include <algorithm>
#include <cmath>

#include "app/drawing/draft.h"
#include "app/session/book_editor.h"
#include "app/session/entry_text.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/sheets/page_foot.h"
#include "app/sheets/references/circuit_words.h"
#include "app/to_q.h"
#include "core/calibration/tool_setter.h"
#include "core/metrology/spread.h"
#include "core/tasks/tool_setter.h"

namespace ypsi::app {
namespace {
constexpr double setter_search_mm = 150, setter_fast_mm_min = 600, setter_field_px = 96;
constexpr int usual_setter_touches = 5;
constexpr double same_mm = 0.02;      // nearer than this it is the same place
constexpr double height_left_mm = 2;  // the search ends above the lower limit
}  // namespace

SetterWay setter_way(const Book& book, int touches) {
  SetterWay way;
  way.x = book.setter->x;
  way.y = book.setter->y;
  way.safe_z = book.machine.safe_height;
  const AxisSetup& z = book.machine.axis(Axis::z);
  const double room = z.soft_min ? way.safe_z - *z.soft_min - height_left_mm : setter_search_mm;
  way.touch.search = std::clamp(room, 1.0, setter_search_mm);
  way.touch.fast = setter_fast_mm_min;
  way.touch.touches = touches;
  return way;
}

SetterSection::SetterSection(QWidget* parent) : QWidget(parent) {
  setObjectName("setter-section");
  setAccessibleName(tr("Section through tool, setter and bed"));
  setMinimumHeight(280);
  const auto field = [this](const char* name, const QString& what) {
    auto* f = new LengthField(name, what, this);
    f->set_decimals(2);
    f->setFixedWidth(static_cast<int>(setter_field_px));
    return f;
  };
  x_ = field("setter-x", tr("Where the setter stands, machine X"));
  y_ = field("setter-y", tr("Where the setter stands, machine Y"));
}

void SetterSection::show(const std::optional<ToolSetter>& setter, LengthUnit unit) {
  setter_ = setter;
  unit_ = unit;
  for (auto* f : {x_, y_}) f->set_unit(unit);
  x_->show_value(setter ? std::optional(setter->x) : std::nullopt);
  y_->show_value(setter ? std::optional(setter->y) : std::nullopt);
  update();
}

void SetterSection::resizeEvent(QResizeEvent*) {
  put_on_drawing(*x_, {width() * 0.36, height() - 20.0});
  put_on_drawing(*y_, {width() * 0.36 + 110 + setter_field_px / 2, height() - 20.0});
}

void SetterSection::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  Draft draft(painter);
  const double x = width() * 0.36, bed = height() - 64.0, top = bed - std::clamp(height() * 0.3, 70.0, 130.0);
  draft.text({8, 16}, tr("Section, from the front"), theme().second_ink, 11);
  const QRectF plank(30, bed, width() * 0.62, 14);
  draft.box(plank, theme().ink, theme().paper, 1.4);
  draft.hatch(plank, theme().second_ink, 8);
  draft.text({plank.right() + 8, bed + 12}, tr("bed"), theme().second_ink, 11);
  draft.box(QRectF(x - 34, bed - 16, 68, 16), theme().ink, theme().sheet, 1.4);
  draft.box(QRectF(x - 22, top + 10, 44, bed - 16 - top - 10), theme().ink, theme().sheet, 1.4);
  draft.box(QRectF(x - 18, top, 36, 12), theme().ink, theme().teal_soft, 1.6);
  draft.tool_elevation({x, top - 30}, 18, std::max(20.0, std::min(70.0, top - 70)), 36);
  draft.line({x, top - 26}, {x, top - 6}, theme().red, 1.4, Qt::DashLine);
  draft.arrow_head({x, top - 3}, {0, 1}, theme().red, 8);
  draft.line({x, bed + 14}, {x, bed + 30}, theme().second_ink);
  draft.text({x - setter_field_px / 2 - 8, height() - 15.0}, "X", theme().second_ink, 12, true, Qt::AlignRight);
  draft.text({x + 102, height() - 15.0}, "Y", theme().second_ink, 12, true, Qt::AlignRight);
  if (setter_ && !setter_->reference.empty()) {
    const double right = x + 150;
    draft.line({x + 20, top}, {right, top}, theme().teal, 1, Qt::DashLine);
    draft.text({right + 6, top + 4},
               tr("T%1 triggers at Z %2")
                   .arg(setter_->reference_tool)
                   .arg(to_q(format_length(mean(plain(setter_->reference)), unit_, 3))),
               theme().teal, 12, true);
  }
}

ToolSetterSheet::ToolSetterSheet(Session& session)
    : Sheet(session, tool_setter_task(),
            tr("Take its place, then measure the tool that the others are told against.")) {
  auto* card = make_card();
  auto* column = new QVBoxLayout(card);
  column->setContentsMargins(14, 10, 14, 10);
  column->setSpacing(6);
  section_ = new SetterSection(card);
  column->addWidget(section_, 1);
  PageFoot foot(column, card);
  auto *row = foot.settings(), *acts = foot.acts();
  take_ = make_button("take-setter", tr("Take it from the machine"),
                      tr("The tool stands over the setter's middle (Ctrl+Shift+M)"), card);
  take_->setShortcut(QKeySequence("Ctrl+Shift+M"));
  acts->addWidget(take_);
  touches_ = add_field(row, "setter-touches", tr("Touches"), tr("Slow touches, 2 to 50"), 0, session, card).field;
  touches_->set_unit(LengthUnit::none);
  touches_->show_value(usual_setter_touches);
  circuit_button_ = make_button("setter-circuit", tr("Check the circuit"),
                                tr("Press the setter by hand, seen on screen (Ctrl+K)"), card);
  circuit_button_->setShortcut(QKeySequence("Ctrl+K"));
  measure_ =
      make_button("measure-reference", tr("Measure the reference tool"), tr("Lift, across, down to it (Ctrl+M)"), card);
  measure_->setShortcut(QKeySequence("Ctrl+M"));
  acts->addWidget(circuit_button_);
  acts->addWidget(measure_);
  hint_ = foot.hint("setter-hint");
  body()->addWidget(card, 1);

  finding()->add_label("finding-heading", "heading", tr("FINDING"));
  lead_ = finding()->add_label("setter-lead", "strong");
  figure_ = finding()->add_label("setter-figure", "big");
  spread_ = finding()->add_label("setter-spread", "small");
  finding()->box()->addSpacing(4);
  verdict_ = finding()->add_label("setter-verdict", "strong");
  text_ = finding()->add_label("setter-text", "task");
  finding()->add_stretch();
  keep_ = finding()->add_button("keep", tr("Keep this finding"), tr("Writes it into the book (Ctrl+Return)"), true);
  keep_->setShortcut(QKeySequence("Ctrl+Return"));

  connect(take_, &QPushButton::clicked, this, [this] {
    const MachinePosition& at = session_.machine().status().position;
    set_place(at.x, at.y);
  });
  connect(section_->x(), &LengthField::committed, this, [this](double mm) { set_place(mm, std::nullopt); });
  connect(section_->y(), &LengthField::committed, this, [this](double mm) { set_place(std::nullopt, mm); });
  for (auto* f : {section_->x(), section_->y()})
    connect(f, &LengthField::refused, this, [this](const QString& why) {
      session_.notices().notify({NoticeLevel::attention, why, {}});
    });
  connect(circuit_button_, &QPushButton::clicked, this, [this] { session_.machine().check_circuit(); });
  connect(&session_.machine(), &MachineSession::procedure_ended, this, [this](const Procedure* p) {
    if (p != touch_.get()) return;
    if (touch_->phase() == Procedure::Phase::done) triggers_ = touch_->triggers();
    show_finding();
    refresh_status();
  });
  connect(measure_, &QPushButton::clicked, this, &ToolSetterSheet::measure);
  connect(keep_, &QPushButton::clicked, this, &ToolSetterSheet::keep);
  offer_jog();
}

/// A setter that stands elsewhere has not been touched by the reference tool.
void ToolSetterSheet::set_place(std::optional<double> x, std::optional<double> y) {
  triggers_.clear();
  session_.editor().change_book(
      tr("Place the setter"),
      [&](Book& b) {
        ToolSetter setter = b.setter.value_or(ToolSetter{});
        const ToolSetter before = setter;
        if (x) setter.x = *x;
        if (y) setter.y = *y;
        setter.reference.clear();
        setter.reference_tool = 0;
        if (b.setter && !before.reference.empty()) {
          Entry e;
          e.time = session_.editor().now().toStdString();
          e.sheet = tool_setter_id;
          e.as_found = {{"setter.x_mm", before.x.mm}, {"setter.y_mm", before.y.mm}};
          e.as_left = {{"setter.x_mm", setter.x.mm}, {"setter.y_mm", setter.y.mm}};
          e.result = result_of(SaidEntry{tr("the setter stands elsewhere").toStdString()});
          b.history.push_back(std::move(e));
        }
        b.setter = setter;
      },
      MachineFollows::no);
}

void ToolSetterSheet::measure() {
  if (!session_.editor().book().setter) return;
  if (touch_->running()) return session_.machine().end_procedure();
  if (!session_.machine().circuit().works()) {
    session_.notices().notify({NoticeLevel::attention,
                               tr("The circuit was not seen to work yet; without it the tool would not stop."),
                               {{tr("Check the circuit"), [this] { session_.machine().check_circuit(); }}}});
    return;
  }
  const int touches = static_cast<int>(std::lround(touches_->value().value_or(usual_setter_touches)));
  session_.machine().start(touch_, setter_way(session_.editor().book(), touches));
  refresh_status();
}

void ToolSetterSheet::keep() {
  if (triggers_.empty()) return;
  session_.editor().change_book(
      tr("Keep the setter"),
      [&](Book& b) {
        Entry e;
        e.time = session_.editor().now().toStdString();
        e.sheet = tool_setter_id;
        e.instrument = "probe";
        for (const double t : triggers_) e.readings.push_back(t);
        const double trigger = mean(triggers_);
        SetterEntry result{
            .trigger = trigger, .s = sample_deviation(triggers_).value_or(0), .tool = session_.machine().status().tool};
        if (b.job.zero(Axis::z)) result.setter_to_work = setter_to_work(trigger, *b.job.zero(Axis::z));
        e.result = result_of(result);
        // What stands on it is out of date only where it is not the same as before; the first time nothing stands on
        // it.
        e.as_found = e.as_left = {{"setter.trigger_mm", trigger}};
        if (const auto before = plain(b.setter->reference);
            !before.empty() && (b.setter->reference_tool != session_.machine().status().tool ||
                                std::fabs(mean(before) - trigger) > same_mm))
          e.as_found = {{"setter.trigger_mm", mean(before)}};
        b.setter->reference = coordinates(triggers_);
        b.setter->reference_tool = session_.machine().status().tool;
        b.history.push_back(std::move(e));
      },
      MachineFollows::no);
  triggers_.clear();
  refresh();
}

void ToolSetterSheet::show_finding() {
  const auto& setter = session_.editor().book().setter;
  const std::vector<double> shown = triggers_.empty() && setter ? plain(setter->reference) : triggers_;
  keep_->setEnabled(!triggers_.empty() && !session_.editor().read_only());
  if (shown.empty()) {
    lead_->setText(setter ? tr("Its place is known, its height not yet") : tr("No setter yet"));
    figure_->clear();
    spread_->clear();
    verdict_->clear();
    text_->setText(
        tr("You need a setter that is fixed to the bed and conducts or switches, and the tool that all others are told "
           "against. Bring the tool over its middle, take the place, check the circuit, measure."));
    return;
  }
  const double s = sample_deviation(shown).value_or(0);
  lead_->setText(triggers_.empty() ? tr("In the book: T%1 triggers at").arg(setter->reference_tool)
                                   : tr("T%1 triggers at").arg(session_.machine().status().tool));
  figure_->setText(tr("Z %1").arg(length(mean(shown), 3)));
  spread_->setText(tr("s %1, %2 touches").arg(length(s, 4)).arg(shown.size()));
  verdict_->setText(s <= 0.01 ? tr("● It repeats well.")
                              : tr("◐ It scatters: clean its top, see that it is bolted down."));
  QStringList words;
  if (session_.editor().book().job.zero(Axis::z))
    words << tr("From the setter to work zero: %1. With any later tool, work-zero Z is its trigger less that.")
                 .arg(length(setter_to_work(mean(shown), *session_.editor().book().job.zero(Axis::z)), 3));
  words << tr("Measure it again when the setter is moved, the bed surfaced, or steps per unit of Z changed.");
  text_->setText(words.join("\n"));
}

void ToolSetterSheet::refresh() {
  section_->show(session_.editor().book().setter, session_.editor().unit());
  show_finding();
  refresh_status();
}

void ToolSetterSheet::refresh_status() {
  const ProbeCircuit& circuit = session_.machine().circuit();
  const bool homed = session_.machine().status().all_homed(), placed = session_.editor().book().setter.has_value();
  const QString asked = circuit_words(circuit.stage());
  set_text(hint_, touch_->running()  ? tr("Lift, across, down; keep a finger on Hold.")
                  : !asked.isEmpty() ? asked
                  : !homed           ? tr("Home the machine first (Ctrl+H).")
                  : !placed          ? tr("Bring the tool over the setter's middle and take its place.")
                  : circuit.works()
                      ? tr("● The circuit works. It lifts to the safe height, goes across, and searches down.")
                      : tr("Then the circuit: press the setter, or touch it to the tool, by hand."));
  const bool ready = session_.machine().standing_ready() && homed;
  take_->setEnabled(ready && !touch_->running());
  circuit_button_->setEnabled(!touch_->running() && !circuit.waiting() &&
                              session_.machine().status().state != MachineState::offline);
  set_text(measure_, touch_->running() ? tr("End the measurement") : tr("Measure the reference tool"));
  measure_->setEnabled(touch_->running() || (ready && placed));
}

}  // namespace ypsi::app
