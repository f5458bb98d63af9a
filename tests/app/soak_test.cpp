// Random acts in the real window on the simulated machine, and laws that hold whatever is done. YPSI_SOAK_S says for
// how long (scripts/soak: half an hour under the sanitizers), YPSI_SOAK_SEED with which dice.
#include <QDialog>
#include <QElapsedTimer>
#include <QMenu>
#include <QTimer>
#include <deque>
#include <random>

#include "app/sheets/sheet.h"
#include "core/tasks/all_tasks.h"
#include "window_fixture.h"

namespace ypsi::app {
namespace {

constexpr double usual_soak_s = 15, begins_within_s = 2;

bool moves(MachineState s) {
  return s == MachineState::moving || s == MachineState::cutting;
}

class Soak : public WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    if (const QByteArray seed = qgetenv("YPSI_SOAK_SEED"); !seed.isEmpty()) dice_.seed(seed.toULongLong());
    clock_.start();
    send_dialogs_away();
    zero_over_the_stock();
    write("part.ngc", good_part);
    load("part.ngc");
    follow();
  }
  /// Whoever opens a dialog here thinks better of it.
  void send_dialogs_away() {
    QObject::connect(&away_, &QTimer::timeout, [] {
      if (auto* dialog = qobject_cast<QDialog*>(QApplication::activeModalWidget())) dialog->reject();
      if (QWidget* popup = QApplication::activePopupWidget()) popup->close();
    });
    away_.start(10);
  }
  void follow() {
    auto& machine = session_->machine();
    last_state_ = machine.status().state;
    differences_ = words_of_differences();
    QObject::connect(&machine, &MachineSession::acted, window_.get(), [this] { acted_at_ = now(); });
    QObject::connect(&machine, &MachineSession::status_changed, window_.get(), [this] {
      watch_motion();
      watch_the_cut();
    });
    QObject::connect(&machine, &MachineSession::connection_changed, window_.get(), [this] {
      last_state_ = session_->machine().status().state;
      settle_differences_ = true;
    });
  }
  double now() const { return static_cast<double>(clock_.elapsed()) / 1000; }
  std::size_t any(std::size_t n) { return std::uniform_int_distribution<std::size_t>(0, n - 1)(dice_); }
  double between(double low, double high) { return std::uniform_real_distribution<double>(low, high)(dice_); }

  /// Every motion belongs to a run, or to an act of the owner's of just now.
  void watch_motion() {
    const MachineState state = session_->machine().status().state;
    const bool begins = moves(state) && !moves(last_state_);
    last_state_ = state;
    if (!begins || session_->machine().runner().running() || session_->job().run().state() == RunState::running) return;
    EXPECT_LT(now() - acted_at_, begins_within_s) << "it moves and nobody asked for it; " << story();
  }
  void watch_the_cut() {
    if (!std::exchange(cuts_, session_->job().cutting()) && cuts_) cut_began_ = true;
  }
  /// No block is cut that the check does not pass as book and machine are now, but for what the owner answered for.
  void expect_the_cut_was_judged() {
    watch_the_cut();
    if (!std::exchange(cut_began_, false)) return;
    const JobSession& job = session_->job();
    ++cuts_begun_;
    (void)wait_for([&] { return job.checked(); });  // anew: the start itself has gone into the record
    EXPECT_TRUE(job.checked()) << story();
    EXPECT_EQ(job.stops(), 0u) << "it cuts what stops a start; " << story();
  }
  std::set<QString> words_of_differences() {
    std::set<QString> all;
    for (const auto& d : session_->machine().setting_differences()) all.insert(QString::fromStdString(d.in_book.name));
    return all;
  }
  /// Book and controller agree, but for what was said when they were connected.
  void expect_agreement() {
    if (!session_->machine().up() || session_->machine().runner().running() ||
        moves(session_->machine().status().state))
      return;
    const auto found = words_of_differences();
    if (std::exchange(settle_differences_, false)) {
      differences_ = found;
      return;
    }
    for (const QString& name : found)
      EXPECT_TRUE(differences_.contains(name)) << name.toStdString() << " differs, unsaid; " << story();
    differences_ = found;
  }
  void expect_the_record_only_grows() {
    const std::size_t size = session_->editor().book().history.size();
    EXPECT_GE(size, entries_) << story();
    entries_ = size;
  }
  std::string story() const {
    std::string all = "done before:";
    for (const auto& s : done_) all += " " + s + ";";
    return all;
  }
  void did(std::string what) {
    done_.push_back(std::move(what));
    if (done_.size() > 25) done_.pop_front();
  }

  void open_a_sheet() {
    const auto& tasks = all_tasks();
    const char* id = tasks[any(tasks.size())]->id();
    did(std::string("open ") + id);
    window_->open_sheet(id);
  }
  void press_a_button() {
    QVector<QPushButton*> all;
    for (auto* b : window_->findChildren<QPushButton*>())
      if (b->isVisible() && b->isEnabled() && !b->menu()) all << b;
    if (all.isEmpty()) return;
    QPushButton* b = all[static_cast<qsizetype>(any(static_cast<std::size_t>(all.size())))];
    did("press " + b->objectName().toStdString());
    acted_at_ = now();
    QTest::mouseClick(b, Qt::LeftButton);
  }
  void type_something() {
    QVector<LengthField*> all;
    for (auto* f : window_->findChildren<LengthField*>())
      if (f->isVisible() && f->isEnabled() && !f->isReadOnly()) all << f;
    if (all.isEmpty()) return;
    LengthField* f = all[static_cast<qsizetype>(any(static_cast<std::size_t>(all.size())))];
    const char* texts[] = {"12", "0", "-3", "1e9", "nonsense", "300", "0.01", "", "600.5"};
    const char* text = texts[any(std::size(texts))];
    did("type " + f->objectName().toStdString() + " " + text);
    f->setFocus();
    f->selectAll();
    QTest::keyClicks(f, text);
    QTest::keyClick(f, Qt::Key_Return);
  }
  void start_the_cut() {
    did("start");
    answer_for_all();
    acted_at_ = now();
    session_->job().start_cut(true);
  }
  /// As an owner does who means to cut; other acts come in between often enough.
  void get_ready_and_start() {
    did("ready and start");
    const auto stands = [this] { return session_->machine().standing_ready(); };
    if (session_->job().in_job()) return;
    session_->machine().end_procedure();
    if (auto* bench = session_->machine().bench()) {
      session_->machine().connection()->set_speed(0);
      bench->press_emergency_stop(false);
      bench->lay_plate(PlatePlace::away);
    }
    session_->machine().home(true);
    if (!wait_for([&] { return stands() && session_->machine().status().all_homed(); }, 3000)) return;
    for (const auto& [axis, at] : {std::pair{Axis::x, 182.0}, {Axis::y, 122.0}, {Axis::z, -88.0}}) {
      session_->machine().jog(axis, at - session_->machine().status().position[axis]);
      if (!wait_for(stands, 3000)) return;
    }
    session_->machine().set_work_zero({Axis::x, Axis::y, Axis::z});
    session_->editor().note_in_book([](Book& b) {
      b.job.stock_size = {320, 320, 18};
      b.job.clamps.clear();
    });
    session_->job().load_program(folder_.filePath("part.ngc"));
    (void)wait_for([this] { return !session_->job().loader().busy() && session_->job().checked(); }, 3000);
    start_the_cut();
    for (int i = 0; i < 3 && !session_->job().cutting(); ++i)  // the dial is set, the points are ticked
      if (auto* act = window_->findChild<QPushButton*>("notice-action-0"); act && act->isVisible()) {
        acted_at_ = now();
        QTest::mouseClick(act, Qt::LeftButton);
      }
  }
  void hold_it() {
    did("hold");
    session_->machine().hold();
    if (!session_->machine().up()) return;
    EXPECT_TRUE(wait_for([this] { return !moves(session_->machine().status().state); }))
        << "Hold did not stop it; " << story();
  }
  void lose_the_line() {
    did("line lost");
    machine().break_down({0, standin::FaultKind::link_drop, Axis::x, 0});
    (void)wait_for([this] { return !session_->machine().up(); }, 3000);
    if (any(2) == 0) open_a_sheet();
    if (any(2) == 0) undo();
    (void)connect_again(6000);
  }
  void connect_elsewhere() {
    did("another machine");
    if (session_->machine().use_connection(Connection::to_stand_in({demo_.scenario, demo_.settings}).value())) {
      session_->machine().connection()->set_speed(0);
      settle_differences_ = true;
      session_->machine().compare_settings();
    }
  }
  void start_the_window_again() {
    did("window closed and opened");
    close();
    open();
    entries_ = 0;
    follow();
  }
  void something() {
    const std::size_t dice = any(100);
    if (dice < 22) return open_a_sheet();
    if (dice < 52) return press_a_button();
    if (dice < 62) return type_something();
    if (dice < 66) return did("undo"), undo();
    if (dice < 69) return did("redo"), redo();
    if (dice < 76) {
      did("jog");
      return session_->machine().jog(all_axes[any(3)], between(-20, 20));
    }
    if (dice < 80) return hold_it();
    if (dice < 83) return did("continue"), session_->machine().go_on();
    if (dice < 87) return did("home"), session_->machine().home(true);
    if (dice < 89) return start_the_cut();
    if (dice < 91) return get_ready_and_start();
    if (dice < 92) return did("abandon"), session_->job().abandon_cut();
    if (dice < 95) {
      did("plate");
      if (auto* bench = session_->machine().bench())
        bench->lay_plate(any(2) == 0 ? PlatePlace::away : PlatePlace::at_cutter);
      return;
    }
    if (dice < 96) return lose_the_line();
    if (dice < 97) return connect_elsewhere();
    if (dice < 98) return start_the_window_again();
    did("resume");
    session_->job().resume_cut(std::max(1U, session_->job().resume_line()), any(2) == 0);
  }

  std::mt19937_64 dice_{7};
  QElapsedTimer clock_;
  QTimer away_;
  MachineState last_state_ = MachineState::offline;
  double acted_at_ = -100;
  bool cuts_ = false, cut_began_ = false;
  int cuts_begun_ = 0;
  bool settle_differences_ = false;
  std::set<QString> differences_;
  std::size_t entries_ = 0;
  std::deque<std::string> done_;
};

TEST_F(Soak, WhateverIsDoneTheLawsHold) {
  const QByteArray asked = qgetenv("YPSI_SOAK_S");
  const double seconds = asked.isEmpty() ? usual_soak_s : asked.toDouble();
  long acts = 0;
  for (; now() < seconds && !HasFailure(); ++acts) {
    something();
    QTest::qWait(static_cast<int>(any(30)));
    expect_the_cut_was_judged();
    expect_agreement();
    expect_the_record_only_grows();
  }
  std::printf("%ld acts, %d cuts begun\n", acts, cuts_begun_);
  EXPECT_GT(acts, static_cast<long>(seconds));
}

}  // namespace
}  // namespace ypsi::app
