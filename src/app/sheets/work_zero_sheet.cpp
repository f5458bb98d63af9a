#include "app/sheets/work_zero_sheet.h"

#include "app/session/book_editor.h"
#include "app/session/entry_text.h"
#include "app/session/job_session.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/sheets/references/circuit_words.h"
#include "app/sheets/work_zero/centre_page.h"
#include "app/sheets/work_zero/height_page.h"
#include "app/sheets/work_zero/marks_page.h"
#include "app/sheets/work_zero/places_page.h"
#include "app/sheets/work_zero/surface_page.h"
#include "app/sheets/work_zero/turned_page.h"
#include "app/to_q.h"
#include "app/widgets/elevation_view.h"
#include "core/book/record.h"
#include "core/book/tool_change.h"
#include "core/tasks/homing.h"
#include "core/tasks/work_zero.h"

namespace ypsi::app {
namespace {
constexpr double stand_off_mm = 5;
constexpr int zero_touches = 3;

/// The corners that can be touched, and the way the tool travels when it does.
std::vector<std::pair<QString, CornerWay>> corners() {
  const QString names[] = {WorkZeroSheet::tr("front left"), WorkZeroSheet::tr("front right"),
                           WorkZeroSheet::tr("back left"), WorkZeroSheet::tr("back right")};
  std::vector<std::pair<QString, CornerWay>> all;
  for (const bool inner : {false, true})
    for (int i = 0; i < 4; ++i) {
      CornerWay way;
      way.inner = inner;
      way.x_towards_plus = (i % 2 == 0) != inner;
      way.y_towards_plus = (i < 2) != inner;
      all.emplace_back(
          (inner ? WorkZeroSheet::tr("inner corner, %1") : WorkZeroSheet::tr("corner plate, %1")).arg(names[i]), way);
    }
  return all;
}
}  // namespace

WorkZeroSheet::WorkZeroSheet(Session& session)
    : Sheet(session, work_zero_task(), tr("Bring the tool to the stock, and set zero there.")) {
  auto* card = make_card();
  auto* layout = new QVBoxLayout(card);
  layout->setContentsMargins(18, 12, 18, 12);
  layout->addWidget(make_label("plan-caption", "caption", tr("Plan, seen from where you stand (front)"), card));
  plan_ = new PlanView(session, PlanView::Subject::travel, card);
  plan_->set_armable(true);
  layout->addWidget(plan_, 4);
  auto* row = new QHBoxLayout;
  row->addWidget(make_label("elevation-caption", "caption", tr("Front elevation: what Z is measured from"), card), 1);
  seen_ = make_label("gap-seen", "attention", "", card);
  seen_->setAlignment(Qt::AlignRight);
  row->addWidget(seen_, 1);
  layout->addLayout(row);
  elevation_ = new ElevationView(session, true, card);
  elevation_->setMinimumHeight(120);
  layout->addWidget(elevation_, 2);
  pages_ = new SheetPages(this, "zero-part-");
  pages_->add("zero", tr("Zero"), tr("Where work zero is"), card);
  pages_->add("height", tr("Height"), tr("Z by the stock's top or the bed, and the zero spot"),
              new HeightPage(session));
  pages_->add("centre", tr("Centre"), tr("Between two edges, of a hole or a boss"), new CentrePage(session));
  places_ = new PlacesPage(session);
  pages_->add("places", tr("Places"), tr("By numbers, from stored places, the middle of the bed"), places_);
  pages_->add("turned", tr("Turned"), tr("How the stock lies, and the program turned with it"),
              new TurnedPage(session));
  // Reached from Height: there is no room for a chip of its own.
  pages_->add_under("surface", "height", new SurfacePage(session));
  marks_ = new MarksPage(session);
  pages_->add("marks", tr("Marks"), tr("By printed or cut marks that are found again"), marks_);
  body()->addWidget(pages_, 1);
  connect(pages_, &SheetPages::leaving, this, [this] {
    if (auto* page = touching_page()) page->cancel();
  });

  finding()->add_label("finding-heading", "heading", tr("WORK ZERO"));
  auto* frame_row = new QHBoxLayout;
  frame_ = new QComboBox(this);
  frame_->setObjectName("work-frame");
  frame_->setAccessibleName(tr("Work frame"));
  frame_->setToolTip(tr("The work frame whose zero is set, and in which a program without one of its own is cut"));
  for (int i = 0; i < static_cast<int>(work_frame_count); ++i) frame_->addItem(to_q(frame_name(i)));
  frame_text_ = new QLineEdit(this);
  frame_text_->setObjectName("frame-name");
  frame_text_->setAccessibleName(tr("Name of this work frame"));
  frame_text_->setPlaceholderText(tr("a name for it"));
  frame_row->addWidget(frame_);
  frame_row->addWidget(frame_text_, 1);
  finding()->box()->addLayout(frame_row);
  connect(frame_, &QComboBox::activated, this, [this](int i) {
    session_.machine().use_frame(i);
    refresh();
  });
  connect(frame_text_, &QLineEdit::editingFinished, this, [this] {
    const std::string name = frame_text_->text().trimmed().toStdString();
    if (name != session_.editor().book().job.used().name)
      session_.editor().change_book(
          tr("Name a work frame"), [&](Book& b) { b.job.used().name = name; }, MachineFollows::no);
  });
  when_ = finding()->add_label("zero-when", "small");
  for (int i = 0; i < 3; ++i) {
    zero_[i] = finding()->add_label(QString("zero-%1").arg(QChar("xyz"[i])), "big");
    zero_[i]->setStyleSheet("font-size: 21px;");
  }
  program_ = finding()->add_label("zero-program", "small");
  finding()->add_rule();
  auto* over_row = new QHBoxLayout;
  over_word_ = make_label("over-label", "small", tr("What stands over the place"), this);
  over_row->addWidget(over_word_, 1);
  over_ = new QComboBox(this);
  over_->setObjectName("zero-by-head");
  over_->setAccessibleName(tr("The head that stands over the place"));
  over_->setToolTip(tr("Zero of X and Y is set where this head's point is; the rail tells its place"));
  over_row->addWidget(over_);
  finding()->box()->addLayout(over_row);
  connect(over_, &QComboBox::activated, this, [this] {
    session_.machine().look_by(over_->currentData().toString().toStdString());
    refresh();
  });
  auto* paper_row = new QHBoxLayout;
  paper_word_ = make_label("paper-label", "small", tr("Paper under the tool (taken off Z)"), this);
  paper_row->addWidget(paper_word_, 1);
  paper_ = new LengthField("paper", tr("Thickness of the paper under the tool"), this);
  paper_->setFixedWidth(92);
  paper_->show_value(0.0);
  paper_row->addWidget(paper_);
  finding()->box()->addLayout(paper_row);
  way_ = finding()->add_label("way", "small");
  finding()->add_stretch();
  change_ = finding()->add_label("tool-changed", "attention");
  rezero_ = finding()->add_button("rezero", tr("Set Z for this tool"),
                                  tr("Z alone, by what is known of the tools; X and Y stay (Ctrl+Shift+0)"), true);
  rezero_->setShortcut(QKeySequence("Ctrl+Shift+0"));
  connect(rezero_, &QPushButton::clicked, this, &WorkZeroSheet::rezero);
  home_ = finding()->add_button("home", tr("Home"),
                                tr("Finds the machine's own zero by its switches: Z up first (Ctrl+H)"), true);
  set_all_ = finding()->add_button("set-zero-all", tr("Set zero of X, Y and Z here"),
                                   tr("Takes all three from where the tool is (Ctrl+0)"), true);
  set_all_->setShortcut(QKeySequence("Ctrl+0"));
  set_xy_ = finding()->add_button("set-zero-xy", tr("Set zero of X and Y here"), tr("Leaves Z as it is"));
  set_z_ = finding()->add_button("set-zero-z", tr("Set zero of Z here"),
                                 tr("Leaves X and Y as they are: after a tool change this is all that is needed"));
  which_ = new QComboBox(this);
  which_->setObjectName("which-corner");
  which_->setAccessibleName(tr("Which corner is touched"));
  which_->setToolTip(tr("An outer corner wears the plate; an inner one is touched by the tool itself, standing in it"));
  for (const auto& [name, way] : corners()) which_->addItem(name);
  finding()->add(which_);
  corner_button_ = finding()->add_button("touch-corner", tr("Touch the corner plate"),
                                         tr("Z, X and Y by the plate on the chosen corner (Ctrl+M)"));
  corner_button_->setShortcut(QKeySequence("Ctrl+M"));
  top_button_ =
      finding()->add_button("touch-top", tr("Touch the top"),
                            tr("Z alone by the plate: after a tool change this is all that is needed (Ctrl+Shift+M)"));
  top_button_->setShortcut(QKeySequence("Ctrl+Shift+M"));
  go_ = finding()->add_button("go-to-zero", tr("Lift, then go to zero"),
                              tr("Z up to the safe height, X and Y across, then down (Ctrl+G)"));
  go_->setShortcut(QKeySequence("Ctrl+G"));
  connect(home_, &QPushButton::clicked, this, [this] { session_.machine().home(); });
  connect(set_all_, &QPushButton::clicked, this, [this] { set_zero({Axis::x, Axis::y, Axis::z}); });
  connect(set_xy_, &QPushButton::clicked, this, [this] { set_zero({Axis::x, Axis::y}); });
  connect(set_z_, &QPushButton::clicked, this, [this] { set_zero({Axis::z}); });
  connect(corner_button_, &QPushButton::clicked, this, &WorkZeroSheet::touch_corner);
  connect(top_button_, &QPushButton::clicked, this, &WorkZeroSheet::touch_top);
  connect(go_, &QPushButton::clicked, this, [this] { session_.job().lift_then_go_to_zero(stand_off_mm); });
  connect(&session_.machine(), &MachineSession::procedure_ended, this, [this](const Procedure* p) {
    if (p == corner_.get() && corner_->phase() == Procedure::Phase::done) corner_touched();
    if (p == top_.get() && top_->phase() == Procedure::Phase::done) top_touched();
    refresh_status();
  });
  connect(paper_, &LengthField::refused, this, [this](const QString& why) {
    session_.notices().notify({NoticeLevel::attention, why, {}});
  });
}

TouchingPage* WorkZeroSheet::touching_page() const {
  return qobject_cast<TouchingPage*>(pages_->currentWidget());
}

void WorkZeroSheet::show_part(const QString& part) {
  if (pages_->turn_to(part)) refresh();
}

void WorkZeroSheet::set_zero(const std::vector<Axis>& axes) {
  session_.machine().set_work_zero(axes, paper_->value().value_or(0));
  plan_->setFocus();
}

/// Whether the probe's circuit was seen to work since the last failed touch; asks for it where it was not.
bool WorkZeroSheet::circuit_works() {
  if (session_.machine().circuit().works()) return true;
  if (!(known_plate(session_) > 0)) return false;
  session_.machine().check_circuit();
  refresh_status();
  return false;
}

/// After a tool change: Z alone, by the lengths or on the spot.
void WorkZeroSheet::rezero() {
  const Book& book = session_.editor().book();
  switch (zero_after_change(book, session_.machine().status().tool)) {
    case ZeroAfterChange::by_length:
      session_.machine().set_zero_by_length();
      break;
    case ZeroAfterChange::by_spot:
      show_part("height");
      session_.job().lift_then_go_over({book.job.zero_spot->x_mm, book.job.zero_spot->y_mm, 0});
      break;
    case ZeroAfterChange::by_touch:
      if (book.job.used().on_bed)
        show_part("height");
      else
        touch_top();
      break;
    default:
      break;
  }
}

void WorkZeroSheet::show_tool_change() {
  const Book& book = session_.editor().book();
  const int tool = session_.machine().status().tool;
  const auto how = zero_after_change(book, tool);
  QString words, act;
  const QString told =
      tr("Z zero was set with T%1, and T%2 is in the spindle. X and Y stay.").arg(book.job.used().z_tool).arg(tool);
  if (how == ZeroAfterChange::by_length) {
    words = told;
    act = tr("Set Z by the tools' lengths");
  } else if (how == ZeroAfterChange::by_spot) {
    words = told + " " + tr("Go over the zero spot and touch it.");
    act = tr("Go over the zero spot");
  } else if (how == ZeroAfterChange::by_touch) {
    words = told + " " + tr("Touch it again; nobody measured how long both are.");
    act = book.job.used().on_bed ? tr("Touch the bed again") : tr("Touch the top again");
  }
  set_text(change_, words);
  const bool changed = !words.isEmpty();
  change_->setVisible(changed);
  rezero_->setVisible(changed);
  // Only the acts of the page that is shown; after a tool change X and Y are not asked for again.
  const bool plan = pages_->part() == "zero";
  const std::initializer_list<QWidget*> about_all{set_xy_, which_, corner_button_},
      about_z{set_z_, top_button_, paper_word_, paper_};
  for (QWidget* w : about_all) w->setVisible(plan && !changed);
  for (QWidget* w : about_z) w->setVisible(plan);
  set_all_->setVisible(plan && !changed && session_.machine().status().all_homed());
  if (session_.editor().book().machine.no_probe)
    for (QWidget* w : std::initializer_list<QWidget*>{which_, corner_button_, top_button_}) w->setVisible(false);
  // By a pointer X and Y alone are told.
  if (session_.machine().looking())
    for (QWidget* w : std::initializer_list<QWidget*>{set_all_, set_z_, paper_word_, paper_, which_, corner_button_})
      w->setVisible(false);
  if (!act.isEmpty()) set_text(rezero_, act);
  rezero_->setEnabled(session_.machine().standing_ready() && session_.machine().status().all_homed());
}

void WorkZeroSheet::touch_corner() {
  if (corner_->running()) return session_.machine().end_procedure();
  if (!circuit_works()) return;
  const TouchPlate& plate = session_.editor().book().plates.front();
  const Tool* tool = session_.editor().book().tool(session_.machine().status().tool);
  CornerWay way = corners()[which_->currentIndex()].second;
  if (!tool || !(tool->diameter > 0) || (!way.inner && !(plate.wall_x > 0 && plate.wall_y > 0))) {
    session_.notices().notify(
        {NoticeLevel::attention,
         !tool || !(tool->diameter > 0)
             ? tr("The diameter of T%1 is not known; enter it on the sheet Tools.")
                   .arg(session_.machine().status().tool)
             : tr("The plate in the book has no walls: it is a flat one. Type its walls on the sheet Touch plate."),
         {}});
    return;
  }
  way.tool_diameter = tool->diameter;
  if (!way.inner) {
    // Turned by a quarter the plate's walls change places.
    const bool quarter = way.x_towards_plus != way.y_towards_plus;
    way.wall_x = quarter ? plate.wall_y : plate.wall_x;
    way.wall_y = quarter ? plate.wall_x : plate.wall_y;
    way.floor = plate.thickness;
  }
  way.touch.touches = zero_touches;
  session_.machine().start(corner_, way);
  refresh_status();
}

void WorkZeroSheet::touch_top() {
  if (top_->running()) return session_.machine().end_procedure();
  if (!circuit_works()) return;
  TouchWay way;
  way.touches = zero_touches;
  session_.machine().start(top_, way);
  refresh_status();
}

void WorkZeroSheet::corner_touched() {
  RecordJson all = RecordJson::from_text("[]");
  for (const Axis a : {Axis::z, Axis::x, Axis::y})
    for (const auto& r : trigger_readings(corner_->triggers(a), a)) all.push_back(r);
  const MachinePosition& c = corner_->corner();
  if (session_.machine().set_work_zero_at({{Axis::x, c.x}, {Axis::y, c.y}, {Axis::z, c.z}}, all, "corner plate", false))
    session_.notices().notify({NoticeLevel::good,
                               tr("Work zero is the corner (%1). Take plate and clip away.").arg(which_->currentText()),
                               {}});
}

void WorkZeroSheet::top_touched() {
  const double z = top_->mean_trigger() - session_.editor().book().plates.front().thickness;
  if (session_.machine().set_work_zero_at({{Axis::z, z}}, trigger_readings(top_->triggers(), Axis::z), "touch plate",
                                          false))
    session_.notices().notify(
        {NoticeLevel::good, tr("Z zero is the top of what the plate lay on. Take plate and clip away."), {}});
}

/// The first, and those whose place against it is known.
void WorkZeroSheet::offer_heads() {
  const auto& heads = session_.editor().book().machine.heads;
  over_->clear();
  for (std::size_t i = 0; i < heads.size(); ++i)
    if (i == 0 || heads[i].place) over_->addItem(to_q(heads[i].name), to_q(heads[i].name));
  const Head* by = session_.machine().looking();
  over_->setCurrentIndex(by ? over_->findData(to_q(by->name)) : 0);
  for (QWidget* w : std::initializer_list<QWidget*>{over_, over_word_})
    w->setVisible(over_->count() > 1 && pages_->part() != "height");
}

void WorkZeroSheet::refresh() {
  offer_heads();
  plan_->invalidate();
  if (auto* page = touching_page()) page->refresh();
  if (pages_->currentWidget() == places_) places_->refresh();
  if (pages_->currentWidget() == marks_) marks_->refresh();
  const Job& job = session_.editor().book().job;
  for (int i = 0; i < frame_->count(); ++i) {
    const auto& name = job.frames[static_cast<std::size_t>(i)].name;
    frame_->setItemText(i, to_q(frame_name(i)) + (name.empty() ? QString() : " " + to_q(name)));
  }
  frame_->setCurrentIndex(job.frame);
  if (!frame_text_->hasFocus()) frame_text_->setText(to_q(job.used().name));
  paper_->set_unit(session_.editor().unit());
  const Book& book = session_.editor().book();
  const std::optional<double> zeros[] = {book.job.zero(Axis::x), book.job.zero(Axis::y), book.job.zero(Axis::z)};
  for (std::size_t i = 0; i < 3; ++i)
    zero_[i]->setText(
        zeros[i] ? tr("%1   %2").arg(QChar("XYZ"[i])).arg(to_q(format_length(*zeros[i], session_.editor().unit(), 3)))
                 : tr("%1   not set").arg(QChar("XYZ"[i])));
  const auto entry = newest(book, work_zero_id);
  QString when =
      entry ? tr("in the machine's positions, set %1").arg(entry_date(book.history[*entry])) : tr("never set");
  QStringList keeps;
  for (const Axis a : all_axes)
    if (const auto homed = newest(book, homing_id, std::string(1, letter(a))))
      keeps << tr("%1 %2")
                   .arg(QChar(letter(a)))
                   .arg(to_q(format_length(2 * finding_of<HomingEntry>(book.history[*homed]).s.value_or(0),
                                           session_.editor().unit(), 3)));
  if (entry && !keeps.isEmpty()) when += "\n" + tr("a new homing keeps it within %1").arg(keeps.join(", "));
  if (book.job.zero(Axis::z))
    when += "\n" + (book.job.used().on_bed ? tr("Z zero is the bed") : tr("Z zero is the stock's top"));
  when_->setText(when);
  refresh_status();
}

void WorkZeroSheet::refresh_status() {
  const ProbeCircuit& circuit = session_.machine().circuit();
  show_tool_change();
  if (auto* page = touching_page()) page->refresh_status();
  if (pages_->currentWidget() == places_) places_->refresh_status();
  if (pages_->currentWidget() == marks_) marks_->refresh_status();
  const MachineStatus& s = session_.machine().status();
  const LengthUnit unit = session_.editor().unit();
  plan_->update();
  elevation_->update();
  const bool ready = session_.machine().standing_ready() && s.all_homed();
  home_->setVisible(!s.all_homed());
  home_->setEnabled(s.state == MachineState::not_homed || s.state == MachineState::ready ||
                    s.state == MachineState::stopped);
  const bool touching = corner_->running() || top_->running();
  for (auto* b : {set_all_, set_xy_, set_z_, go_}) b->setEnabled(ready && !touching);
  set_text(corner_button_, corner_->running() ? tr("End the touch") : tr("Touch the corner plate"));
  set_text(top_button_, top_->running() ? tr("End the touch") : tr("Touch the top"));
  corner_button_->setEnabled(corner_->running() || (ready && !touching && !circuit.waiting()));
  top_button_->setEnabled(top_->running() || (ready && !touching && !circuit.waiting()));
  const auto len = [&](double mm, int d) { return to_q(format_length(mm, unit, d) + " " + unit_name(unit)); };
  QString way;
  if (const QString asked = circuit_words(circuit.stage()); !asked.isEmpty())
    way = asked;
  else if (touching)
    way = tr("It touches; keep a finger on Hold.");
  else if (!s.all_homed())
    way = tr("Home first: before homing a position means nothing.");
  else if (session_.editor().book().job.zero(Axis::z))
    way =
        tr("Lift, then go to zero: up to machine Z %1, across, down to %2 above zero.")
            .arg(to_q(format_length(std::max(session_.editor().book().machine.safe_height.mm, s.position.z), unit, 1)),
                 len(stand_off_mm, 0));
  if (way_->text() != way) way_->setText(way);
  QString words;
  if (session_.machine().bench() && s.all_homed()) {
    const double gap = session_.machine().bench()->gap_seen();
    words = gap < 0    ? tr("At the stand-in you see: the tool is in the material")
            : gap == 0 ? tr("At the stand-in you see: paper just drags")
                       : tr("At the stand-in you see: about %1 of air").arg(len(gap, gap < 3 ? 1 : 0));
  }
  if (seen_->text() != words) seen_->setText(words);
  QString about;
  if (const auto loaded = session_.job().program(); loaded && !loaded->program.cut.empty()) {
    const Extents& c = loaded->program.centre;
    QStringList outside, unknown;
    for (const Axis a : all_axes) {
      const AxisSetup& axis = session_.editor().book().machine.axis(a);
      if (!axis.soft_min || !axis.soft_max) unknown << QString(QChar(letter(a)));
      if (axis.soft_min && c.low[a] + s.work_zero[a] < *axis.soft_min)
        outside << tr("%1 by %2").arg(QChar(letter(a))).arg(len(*axis.soft_min - c.low[a] - s.work_zero[a], 1));
      else if (axis.soft_max && c.high[a] + s.work_zero[a] > *axis.soft_max)
        outside << tr("%1 by %2").arg(QChar(letter(a))).arg(len(c.high[a] + s.work_zero[a] - *axis.soft_max, 1));
    }
    about = !outside.isEmpty()   ? tr("✕ With this zero the program leaves the limits: %1.").arg(outside.join(", "))
            : !unknown.isEmpty() ? tr("○ Nobody knows whether the program stays inside: %1 has no limits in the book.")
                                       .arg(unknown.join(", "))
                                 : tr("● The program stays inside the limits with this zero.");
  }
  if (program_->text() != about) program_->setText(about);
}

}  // namespace ypsi::app
