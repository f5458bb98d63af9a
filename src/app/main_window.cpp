#include "app/main_window.h"

#include <QActionGroup>
#include <QApplication>
#include <QCloseEvent>
#include <QFileDialog>
#include <QFileInfo>
#include <QKeyEvent>
#include <QMenu>
#include <QMenuBar>
#include <QMessageBox>
#include <QScrollBar>
#include <QVBoxLayout>

#include "app/at_machine/hand_strip.h"
#include "app/connect_dialog.h"
#include "app/describe/describe_dialog.h"
#include "app/jog_strip.h"
#include "app/keys_list.h"
#include "app/notice_bar.h"
#include "app/pad/jog_pad.h"
#include "app/pad/keys_dialog.h"
#include "app/pad/own_keys.h"
#include "app/positions_page.h"
#include "app/rail.h"
#include "app/session/book_editor.h"
#include "app/session/book_store.h"
#include "app/session/job_session.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/session/text_file.h"
#include "app/sheets/program_sheet.h"
#include "app/staff.h"
#include "app/theme/large.h"
#include "app/theme/theme.h"
#include "app/to_q.h"
#include "app/tray.h"
#include "app/widgets/sheet_area.h"
#include "core/book/book_json.h"
#include "core/tasks/limits.h"
#include "core/tasks/overview.h"
#include "core/tasks/stock_program.h"
#include "link/lines/line_link.h"

namespace ypsi::app {
namespace {
constexpr int room_for_words_px = 1000;
}

MainWindow::MainWindow(Session& session) : MainWindow(session, task_views()) {}

MainWindow::MainWindow(Session& session, const TaskViews& views) : session_(session), views_(views) {
  qApp->setStyleSheet(style_sheet());
  setObjectName(QStringLiteral("main-window"));
  setWindowTitle(QStringLiteral("Ypsilograph"));
  resize(1280, 800);
  setMinimumSize(560, 360);
  auto* centre = new QWidget(this);
  auto* column = new QVBoxLayout(centre);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(0);
  auto* upper = new QHBoxLayout;
  upper->setContentsMargins(10, 10, 12, 10);
  upper->setSpacing(6);
  staff_ = new Staff(session, centre);
  upper->addWidget(staff_);
  auto* middle = new QVBoxLayout;
  middle->setSpacing(8);
  notice_ = new NoticeBar(centre);
  middle->addWidget(notice_);
  area_ = new SheetArea(centre);
  stack_ = area_->sheets();
  middle->addWidget(area_, 1);
  positions_ = new PositionsPage(session, centre);
  middle->addWidget(positions_, 1);
  hand_strip_ = new HandStrip(session, stack_, area_->board());
  area_->set_strip(hand_strip_);
  upper->addLayout(middle, 1);
  column->addLayout(upper, 1);
  tray_ = new Tray(session, centre);
  tray_->hide();
  column->addWidget(tray_);
  jog_strip_ = new JogStrip(session, centre);
  column->addWidget(jog_strip_);
  jog_pad_ = new JogPad(session, this, jog_strip_);
  connect(jog_pad_, &JogPad::came_or_went, this, [this] { jog_strip_->show_pad(jog_pad_->reading().name); });
  rail_ = new Rail(session, centre);
  connect(&session_.notices(), &Notices::jog_wanted, this, &MainWindow::toggle_jog_strip);
  column->addWidget(rail_);
  setCentralWidget(centre);
  make_menus();

  connect(staff_, &Staff::chosen, this, &MainWindow::open_sheet);
  connect(&session_.editor(), &BookEditor::book_changed, this, &MainWindow::refresh);
  connect(&session_.job(), &JobSession::program_changed, this, &MainWindow::refresh);
  connect(&session_.job(), &JobSession::run_ended, this, &MainWindow::refresh);
  connect(&session_.machine(), &MachineSession::status_changed, this, &MainWindow::refresh_status);
  connect(&session_.notices(), &Notices::noticed, notice_, &NoticeBar::show_notice);
  connect(&session_.machine(), &MachineSession::connection_changed, this, &MainWindow::refresh);
  connect(&session_.notices(), &Notices::sheet_wanted, this, &MainWindow::open_sheet);
  connect(&session_.machine(), &MachineSession::procedure_ended, this, [this] {
    if (std::exchange(closing_, false)) close();
  });
  connect(positions_, &PositionsPage::left, this, [this] { show_positions_only(false); });
  qApp->installEventFilter(this);
  open_sheet(overview_id);
  refresh();
}

/// A field that is being typed into gives up what it has when it goes from the screen: while all is there to take it.
MainWindow::~MainWindow() {
  hide();
}

void MainWindow::make_menus() {
  auto* bar = new QWidget(this);
  bar->setMinimumHeight(28);
  auto* row = new QHBoxLayout(bar);
  row->setContentsMargins(4, 0, 14, 0);
  auto* menus = new QMenuBar(bar);
  menus->setNativeMenuBar(false);
  menus->setSizePolicy(QSizePolicy::Maximum, QSizePolicy::Preferred);
  title_ = make_label("book-title", "caption", "", bar);
  title_->setAlignment(Qt::AlignCenter);
  title_->setWordWrap(false);
  title_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
  link_label_ = make_label("link", "small", "", bar);
  link_label_->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
  link_label_->setWordWrap(false);
  simulated_ = make_button("simulated", tr("◐ Simulated machine"),
                           tr("Nothing real moves. Opens the tray with its instruments and switches (Ctrl+T)"), bar);
  simulated_->setProperty("chip", true);
  simulated_->setCheckable(true);
  simulated_->setFixedSize(170, 24);
  simulated_->setFocusPolicy(Qt::NoFocus);
  connect(simulated_, &QPushButton::toggled, this, [this](bool on) {
    tray_->setVisible(on);
    tray_->refresh();
  });
  row->addWidget(menus);
  row->addWidget(title_, 1);
  row->addWidget(link_label_);
  row->addWidget(simulated_);
  setMenuWidget(bar);

  const auto add = [this](QMenu* menu, const char* name, const QString& text, const QKeySequence& key, auto act) {
    auto* action = menu->addAction(text);
    action->setObjectName(name);
    action->setShortcut(key);
    connect(action, &QAction::triggered, this, act);
    addAction(action);
    return action;
  };

  auto* book = menus->addMenu(tr("Book"));
  add(book, "open-program", tr("Open a program…"), QKeySequence("Ctrl+O"), [this] {
    open_sheet(stock_program_id);
    static_cast<ProgramSheet*>(sheet(stock_program_id))->choose_file();
  });
  add(book, "save-book", tr("Save the book now"), QKeySequence("Ctrl+S"), [this] {
    if (session_.editor().save())
      session_.notices().notify({NoticeLevel::good, tr("Saved. It also saves itself after each finding."), {}});
  });
  add(book, "save-copy", tr("Save a copy…"), {}, [this] { save_a_copy(); });
  book->addSeparator();
  add(book, "open-book", tr("Open a book…"), QKeySequence("Ctrl+Shift+B"), [this] { open_another_book(); });
  add(book, "another-machine", tr("Another machine…"), QKeySequence("Ctrl+Shift+O"),
      [this] { emit another_machine_wanted(); });
  auto* recent = book->addMenu(tr("Recent"));
  recent->setObjectName("recent");
  connect(recent, &QMenu::aboutToShow, this, [this, recent] {
    recent->clear();
    for (const auto& [name, path] : recent_ ? recent_() : RecentMachines{})
      recent->addAction(name, this, [this, to = path] { emit book_wanted(to); })->setToolTip(path);
    if (recent->isEmpty()) recent->addAction(tr("None but this one"))->setEnabled(false);
  });
  add(book, "bring-back", tr("Bring back the save before"), {}, [this] { session_.editor().bring_back_previous(); });
  book->addSeparator();
  add(book, "quit", tr("Quit"), QKeySequence("Ctrl+Q"), [this] { close(); });

  auto* edit = menus->addMenu(tr("Edit"));
  auto* undo = session_.editor().undo_stack().createUndoAction(this, tr("Undo"));
  auto* redo = session_.editor().undo_stack().createRedoAction(this, tr("Redo"));
  undo->setObjectName("undo");
  redo->setObjectName("redo");
  undo->setShortcut(QKeySequence("Ctrl+Z"));
  redo->setShortcut(QKeySequence("Ctrl+Shift+Z"));
  // A machine that moves keeps its settings, and the book must not say otherwise: both act only while it stands.
  edit->addActions({undo, redo});
  addActions({undo, redo});
  edit->addSeparator();
  add(edit, "keys-and-pad", tr("Keys and pad…"), {},
      [this] { (new KeysDialog(acts_with_keys(actions()), *jog_pad_, this))->show(); });

  auto* machine = menus->addMenu(tr("Machine"));
  add(machine, "home", tr("Home"), QKeySequence("Ctrl+H"), [this] { session_.machine().home(); });
  add(machine, "hold", tr("Hold"), QKeySequence("Ctrl+Space"), [this] { session_.machine().hold(); });
  add(machine, "continue", tr("Continue"), QKeySequence("F10"), [this] {
    session_.machine().go_on();
  })->setShortcut({});
  add(machine, "jog", tr("The jog strip"), QKeySequence("Ctrl+J"), [this] { toggle_jog_strip(); });
  machine->addSeparator();
  add(machine, "connect", tr("Connect…"), QKeySequence("Ctrl+L"),
      [this] { (new ConnectDialog(session_, this))->show(); });
  add(machine, "describe", tr("Describe a controller…"), QKeySequence(),
      [this] { (new DescribeDialog(session_, this))->show(); });
  add(machine, "connect-again", tr("Connect again"), QKeySequence(), [this] { session_.machine().connect_again(); });
  add(machine, "tray", tr("The simulated machine's tray"), QKeySequence("Ctrl+T"), [this] {
    if (session_.machine().bench()) simulated_->toggle();
  });

  auto* view = menus->addMenu(tr("View"));
  auto* units = new QActionGroup(this);
  for (const auto& [name, text, unit] :
       {std::tuple{"unit-mm", tr("Millimetres"), "mm"}, {"unit-in", tr("Inches"), "in"}}) {
    auto* action = add(view, name, text, {}, [this, u = std::string(unit)] {
      session_.editor().note_in_book([&](Book& b) { b.length_unit = u; });
    });
    action->setCheckable(true);
    units->addAction(action);
  }
  view->addSeparator();
  auto* night = add(view, "night", tr("Night theme"), QKeySequence("Ctrl+N"), [this] {
    set_night(!is_night());
    retheme();
  });
  night->setCheckable(true);
  view->addSeparator();
  auto* sizes = view->addMenu(tr("Large"));
  sizes->setObjectName("large");
  auto* factors = new QActionGroup(this);
  for (const double factor : large_factors) {
    auto* action =
        add(sizes, QByteArray("large-").append(QByteArray::number(factor)).constData(),
            factor == 1 ? tr("As usual") : tr("%1 times as large").arg(factor), {}, [factor] { set_large(factor); });
    action->setCheckable(true);
    action->setData(factor);
    factors->addAction(action);
  }
  connect(sizes, &QMenu::aboutToShow, this, [factors] {
    for (QAction* action : factors->actions()) action->setChecked(action->data().toDouble() == large());
  });
  sizes->addSeparator();
  add(sizes, "larger", tr("Larger"), {}, [] {
    step_large(1);
  })->setShortcuts({QKeySequence("Ctrl++"), QKeySequence("Ctrl+=")});  // with and without Shift
  add(sizes, "smaller", tr("Smaller"), QKeySequence("Ctrl+-"), [] { step_large(-1); });
  auto* positions = add(view, "positions-only", tr("Positions only"), QKeySequence("F11"),
                        [this] { show_positions_only(!positions_->isVisible()); });
  positions->setCheckable(true);
  connect(view, &QMenu::aboutToShow, this, [this, positions] { positions->setChecked(positions_->isVisible()); });

  auto* help = menus->addMenu(tr("Help"));
  add(help, "keys", tr("Keys"), QKeySequence("F1"), [this] { show_keys(acts_with_keys(actions()), this); });
  add(help, "about", tr("About Ypsilograph"), {}, [this] {
    QMessageBox::about(this, tr("About Ypsilograph"),
                       tr("<b>Ypsilograph %1</b><p>Commissions and calibrates routers, engravers and cutting "
                          "tables.</p><p>Free software under the GNU General Public License, version 3 or later. "
                          "Fonts: B612 and B612 Mono, SIL Open Font Licence.</p>")
                           .arg(YPSI_VERSION));
  });
  take_own_keys(acts_with_keys(actions()));
}

void MainWindow::toggle_jog_strip() {
  jog_strip_->setVisible(!jog_strip_->isVisible());
  jog_strip_->refresh();
  if (jog_strip_->isVisible()) jog_strip_->setFocus();
}

void MainWindow::open_another_book() {
  const QString path = QFileDialog::getOpenFileName(this, tr("A machine's book"), {}, book_filter());
  if (path.isEmpty()) return;
  if (const auto read = BookStore::load(path))
    emit book_wanted(path);
  else
    session_.notices().notify({NoticeLevel::attention, to_q(read.error().message), {}});
}

void MainWindow::save_a_copy() {
  const QString path = QFileDialog::getSaveFileName(this, tr("A copy of the book"), {}, book_filter());
  if (path.isEmpty()) return;
  if (QFileInfo(path).absoluteFilePath() == QFileInfo(session_.editor().book_path()).absoluteFilePath()) {
    session_.notices().notify(
        {NoticeLevel::attention, tr("That is the book itself; give the copy another name or folder."), {}});
    return;
  }
  if (const auto written = write_file(path, write_book(session_.editor().book())); !written)
    session_.notices().notify({NoticeLevel::danger, to_q(written.error().message), {}});
  else
    session_.notices().notify(
        {NoticeLevel::good, tr("A copy is in %1. What you do next goes into the book.").arg(path), {}});
}

Sheet* MainWindow::sheet(const QString& id) {
  if (const auto found = sheets_.find(id); found != sheets_.end()) return found->second;
  for (const TaskView& view : views_)
    if (id == view.task->id()) {
      Sheet* made = view.make(session_);
      stack_->addWidget(made);
      return sheets_[id] = made;
    }
  return nullptr;
}

void MainWindow::open_sheet(const QString& place) {
  const QString id = place.section('#', 0, 0), part = place.section('#', 1);
  Sheet* wanted = sheet(id);
  if (!wanted) return;
  if (id != current_) {
    if (const auto shown = sheets_.find(current_); shown != sheets_.end()) shown->second->leave();
    current_ = id;
    stack_->setCurrentWidget(wanted);
    area_->verticalScrollBar()->setValue(0);
    staff_->select(id);
    hand_strip_->show_far_switches(id == limits_id);
    hand_strip_->refresh();
    wanted->show_title();
    wanted->refresh();
  }
  if (!part.isEmpty()) wanted->show_part(part);
}

void MainWindow::refresh() {
  const Book& book = session_.editor().book();
  name_ = to_q(book.machine.name);
  if (!book.machine.description.empty()) name_ += " — " + to_q(book.machine.description);
  if (!book.machine.workshop.empty()) name_ += " · " + to_q(book.machine.workshop);
  if (session_.editor().read_only()) name_ += tr(" · for reading only");
  show_name();
  title_->setStyleSheet(QStringLiteral("color: %1; font-size: 12px;").arg(theme().ink.name()));
  Connection* connection = session_.machine().connection();
  const bool up = connection && connection->up(), simulated = up && connection->simulated();
  link_label_->setText(tr("%1 · %2").arg(to_q(unit_name(book.unit())),
                                         !up                            ? tr("offline")
                                         : connection->lines()          ? to_q(connection->lines()->description().name)
                                         : connection->in_this_window() ? tr("connected")
                                                                        : connection->name()));
  if (up) link_label_->setToolTip(connection->description());
  simulated_->setVisible(simulated);
  tray_->setVisible(simulated && simulated_->isChecked());
  tray_->refresh();
  for (auto* action : actions()) {
    if (action->objectName() == "unit-mm") action->setChecked(book.unit() == LengthUnit::millimetre);
    if (action->objectName() == "unit-in") action->setChecked(book.unit() == LengthUnit::inch);
  }
  staff_->refresh();
  rail_->refresh();
  hand_strip_->refresh();
  jog_strip_->refresh();
  if (Sheet* shown = current_.isEmpty() ? nullptr : sheet(current_)) {
    shown->show_title();
    shown->refresh();
  }
}

void MainWindow::refresh_status() {
  const MachineStatus& s = session_.machine().status();
  rail_->refresh();
  positions_->refresh();
  hand_strip_->refresh();
  jog_strip_->refresh();
  const bool stands =
      s.state == MachineState::ready || s.state == MachineState::not_homed || s.state == MachineState::offline;
  for (auto* action : actions()) {
    if (action->objectName() == "undo") action->setEnabled(stands && session_.editor().undo_stack().canUndo());
    if (action->objectName() == "redo") action->setEnabled(stands && session_.editor().undo_stack().canRedo());
  }
  if (s.all_homed() != homed_shown_) {
    homed_shown_ = s.all_homed();
    refresh();
  } else if (Sheet* shown = sheet(current_)) {
    shown->refresh_status();
  }
}

void MainWindow::show_name() {
  title_->setText(title_->fontMetrics().elidedText(name_, Qt::ElideRight, title_->width()));
  title_->setToolTip(name_);
}

void MainWindow::resizeEvent(QResizeEvent* event) {
  QMainWindow::resizeEvent(event);
  staff_->set_narrow(width() < room_for_words_px);
  show_name();
}

/// What is said and the jog strip stay: both can be needed two metres away.
void MainWindow::show_positions_only(bool only) {
  if (only) usual_state_ = windowState();
  for (QWidget* each :
       {static_cast<QWidget*>(staff_), static_cast<QWidget*>(area_), static_cast<QWidget*>(rail_), menuWidget()})
    each->setVisible(!only);
  positions_->setVisible(only);
  positions_->refresh();
  if (only) positions_->setFocus();
  setWindowState(only ? usual_state_ | Qt::WindowFullScreen : usual_state_);
}

void MainWindow::retheme() {
  qApp->setStyleSheet(style_sheet());
  for (auto* widget : findChildren<QWidget*>()) widget->update();
  refresh();
}

bool MainWindow::eventFilter(QObject* object, QEvent* event) {
  if (event->type() == QEvent::KeyPress || event->type() == QEvent::ShortcutOverride) {
    auto* key = static_cast<QKeyEvent*>(event);
    // Hold works from anywhere: in a field, in a dialog, in a menu.
    const bool hold =
        key->key() == Qt::Key_Pause || (key->key() == Qt::Key_Space && key->modifiers() & Qt::ControlModifier);
    if (hold) {
      session_.machine().hold();
      event->accept();
      return true;
    }
    if (event->type() == QEvent::KeyPress && key->modifiers() & Qt::ControlModifier &&
        (key->key() == Qt::Key_PageDown || key->key() == Qt::Key_PageUp) && isActiveWindow()) {
      const Tasks& all = session_.editor().tasks();
      for (std::size_t i = 0; i < all.size(); ++i)
        if (current_ == all[i]->id()) {
          const std::size_t next = key->key() == Qt::Key_PageDown ? std::min(i + 1, all.size() - 1) : i - (i > 0);
          open_sheet(all[next]->id());
          return true;
        }
    }
  }
  return QMainWindow::eventFilter(object, event);
}

void MainWindow::closeEvent(QCloseEvent* event) {
  if (session_.job().cutting()) {
    event->ignore();
    session_.notices().notify(
        {NoticeLevel::danger,
         tr("A program is being cut. Hold or abandon it first; closing the window would leave the machine "
            "without its owner."),
         {}});
    return;
  }
  session_.machine().end_procedure();
  // A machine that is worked by hand stands when its owner says so, which can be another day.
  if (session_.machine().runner().running() &&
      !session_.machine().hands()) {  // until it stands and has back what it lent
    event->ignore();
    closing_ = true;
    return;
  }
  QMainWindow::closeEvent(event);
}

}  // namespace ypsi::app
