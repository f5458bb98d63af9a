#pragma once
// The real window on a demo folder of its own, driven with mouse and keys by objectName.
#include <gtest/gtest.h>

#include <QApplication>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTemporaryDir>
#include <QTest>
#include <cmath>
#include <memory>

#include "app/demo.h"
#include "app/main_window.h"
#include "app/session/book_editor.h"
#include "app/session/job_session.h"
#include "app/session/machine_session.h"
#include "app/session/session.h"
#include "core/book/record.h"
#include "standin/truth.h"

namespace ypsi::app {

/// A program that nothing stands against.
inline const char* const good_part =
    "G21 G90\nS12000 M3\nG0 Z8\nG0 X20 Y20\nG1 Z-1 F300\nG1 X60 F1500\nG0 Z8\nM5\nM30\n";

class WindowTest : public ::testing::Test {
 protected:
  void SetUp() override {
    demo_ = prepare_demo(YPSI_DEMO_DATA, folder_.path(), true).value();
    open();
  }
  void TearDown() override {
    expect_undo_takes_back_what_was_kept();
    close();
  }

  /// Another demo machine, in a window of the usual size.
  void open_machine(const char* name) {
    demo_ = prepare_demo(YPSI_DEMO_DATA, folder_.path(), true, name).value();
    open();
    window_->resize(1280, 800);
  }
  /// A picture to look at, where a folder for them is named; what only told of the way there is put away.
  void shoot(const QString& name, QWidget* dialog = nullptr) {
    find<QWidget>("notice")->hide();
    EXPECT_TRUE(told(6));
    const QString folder = qEnvironmentVariable("YPSI_PICTURES", folder_.path());
    ASSERT_TRUE((dialog != nullptr ? dialog : window_.get())->grab().save(folder + "/" + name + ".png"))
        << folder.toStdString();
  }

  void open(double speed = 0) {
    auto connection = Connection::to_stand_in({demo_.scenario, demo_.settings}).value();
    connection->set_speed(speed);
    session_ = std::make_unique<Session>(BookStore(demo_.book), std::move(connection));
    session_->machine().set_stand_in({demo_.scenario, demo_.settings});
    window_ = std::make_unique<MainWindow>(*session_);
    window_->show();
    (void)QTest::qWaitForWindowExposed(window_.get(), 2000);
    QApplication::setActiveWindow(window_.get());  // a bare X server has no window manager to do it
    QObject::connect(&session_->editor(), &BookEditor::book_opened, [this] { kept_.clear(); });
    session_->editor().open_book();
  }
  void close() {
    window_.reset();
    session_.reset();
  }

  /// Another truth for the machine; counts from the next open().
  void edit_scenario(const std::function<void(nlohmann::json&)>& edit) {
    auto json = nlohmann::json::parse(*read_file(demo_.scenario));
    edit(json);
    write("oriel.scenario.json", QByteArray::fromStdString(json.dump()));
  }
  void open_with(const std::function<void(nlohmann::json&)>& edit) {
    close();
    edit_scenario(edit);
    open();
  }

  template <class T = QWidget>
  T* find(const char* name) {
    QWidget* page = window_->findChild<QWidget*>("sheet-" + window_->current_sheet());
    // Parts of a sheet may have their own of a name, and a notice that goes has its buttons still: what is seen is
    // meant.
    T* found = nullptr;
    for (QWidget* room : {page, static_cast<QWidget*>(window_.get())}) {
      if (room && !found)
        for (T* each : room->findChildren<T*>(name))
          if (!found || (each->isVisible() && !found->isVisible())) found = each;
    }
    EXPECT_NE(found, nullptr) << name;
    return found;
  }
  void click(const char* name) {
    auto* button = find<QPushButton>(name);
    ASSERT_NE(button, nullptr);
    ASSERT_TRUE(button->isVisible()) << name << " is hidden";
    ASSERT_TRUE(button->isEnabled()) << name << " is disabled";
    const bool keeps = QString(name).startsWith("keep") || QString(name).startsWith("apply");
    const std::size_t entries = keeps ? session_->editor().book().history.size() : 0;
    const int step = session_->editor().undo_stack().index();
    QTest::mouseClick(button, Qt::LeftButton);
    if (!keeps || session_->editor().book().history.size() == entries) return;
    EXPECT_EQ(session_->editor().undo_stack().index(), step + 1) << name << ": a finding is kept in one step";
    kept_.push_back({name, step, entries, session_->editor().book().history.size()});
  }
  /// Whatever a test kept: the step that took it takes its entries back.
  void expect_undo_takes_back_what_was_kept() {
    if (!session_) return;
    auto& steps = session_->editor().undo_stack();
    for (auto kept = kept_.rbegin(); kept != kept_.rend(); ++kept) {
      while (steps.index() > kept->step) steps.undo();
      const auto holds = findings_that_hold(session_->editor().book());
      for (std::size_t i = kept->first; i < std::min(kept->last, holds.size()); ++i)
        EXPECT_FALSE(holds[i]) << kept->act << ": entry " << i << " is taken back";
    }
  }
  void type(const char* name, const QString& text, Qt::Key end = Qt::Key_Return) {
    auto* field = find<QLineEdit>(name);
    ASSERT_NE(field, nullptr);
    field->setFocus();
    field->selectAll();
    QTest::keyClicks(field, text);
    QTest::keyClick(field, end);
  }
  void choose(const char* name, const QString& item) {
    auto* box = find<QComboBox>(name);
    const int at = box->findText(item);
    ASSERT_GE(at, 0) << item.toStdString();
    box->setCurrentIndex(at);
    emit box->activated(at);
    emit box->textActivated(item);
  }
  QString text(const char* name) { return find<QLabel>(name)->text(); }
  bool wait_for(const std::function<bool()>& condition, int ms = 60000) { return QTest::qWaitFor(condition, ms); }
  /// As often as it takes: a line that was lost may be down for a while.
  bool connect_again(int ms = 60000) {
    return wait_for(
        [this] {
          if (session_->machine().status().state != MachineState::offline) return true;
          if (!session_->machine().connection()->opened()) session_->machine().connect_again();
          return false;
        },
        ms);
  }
  /// Waits until the line was looked at `times` more, and has the window told what it says: what it then shows is of
  /// now. False where there is no line.
  bool told(int times = 2) {
    if (!session_->machine().connection()) return false;
    int seen = 0;
    const auto count = QObject::connect(session_->machine().connection(), &Connection::ticked, [&seen] { ++seen; });
    const bool enough = wait_for([&] { return seen >= times; });
    QObject::disconnect(count);
    session_->machine().ask({});
    return enough;
  }
  bool wait_ready() {
    return wait_for([this] { return session_->machine().status().state == MachineState::ready; });
  }
  bool asks(const char* words) { return find<QWidget>("notice")->isVisible() && text("notice-text").startsWith(words); }
  /// What is switched on first, one after the other; then what lies in homing's way.
  void see_to_the_first_move() {
    for (int points = 0; points < 9 && asks("Before the first move"); ++points) click("notice-action-0");
    if (asks("Homing goes")) click("notice-action-0");
  }
  void home() {
    QApplication::setActiveWindow(window_.get());  // a dialog may have been on top
    QTest::keyClick(window_.get(), Qt::Key_H, Qt::ControlModifier);
    see_to_the_first_move();
    ASSERT_TRUE(
        wait_for([this] { return session_->machine().status().all_homed() && session_->machine().standing_ready(); }));
  }
  /// Presses Start on the sheet Cut; the demo's spindle is set by hand, and the notice asks for it once.
  void start() {
    click("start");
    answer_for_the_dial();
  }
  void answer_for_the_dial() {
    ASSERT_TRUE(wait_for([this] { return session_->job().checked(); })) << "the start waits for the ready check";
    if (find<QWidget>("notice")->isVisible() && text("notice-text").contains("dial to")) click("notice-action-0");
  }
  const Entry& last() { return session_->editor().book().history.back(); }
  void jog_to(Axis axis, double machine_mm) {
    const double by = machine_mm - session_->machine().status().position[axis];
    if (std::fabs(by) < 1e-6) return;
    session_->machine().jog(axis, by);
    ASSERT_TRUE(wait_ready());
  }
  /// Plate and tool touched by hand, as every sheet asks for it.
  void see_the_circuit(const char* button) {
    auto& bench = *session_->machine().bench();
    bench.lay_plate(PlatePlace::away);
    ASSERT_TRUE(wait_for([this] { return !session_->machine().status().inputs.probe; }));
    click(button);
    bench.lay_plate(PlatePlace::at_cutter);
    ASSERT_TRUE(wait_for([this] { return session_->machine().status().inputs.probe; }));
    EXPECT_TRUE(told());
    bench.lay_plate(PlatePlace::away);
    ASSERT_TRUE(wait_for([this] { return !session_->machine().status().inputs.probe; }));
    EXPECT_TRUE(told());
  }
  void zero_over_the_stock() {
    home();
    for (const auto& [axis, at] : {std::pair{Axis::x, 182.0}, {Axis::y, 122.0}, {Axis::z, -88.0}}) {
      session_->machine().jog(axis, at - session_->machine().status().position[axis]);
      ASSERT_TRUE(wait_ready());
    }
    session_->machine().set_work_zero({Axis::x, Axis::y, Axis::z});
  }
  /// Homed and zeroed, with a stock that is clear of everything.
  void ready_for_a_job() {
    zero_over_the_stock();
    session_->editor().note_in_book([](Book& b) {
      b.job.stock_size = {320, 320, 18};
      b.job.checklist.clear();
      b.job.clamps.clear();
      for (auto& t : b.tools) t.diameter = t.diameter > 0 ? t.diameter : 3;
    });
  }
  void sheet(const char* id) {
    window_->open_sheet(id);
    EXPECT_TRUE(told());
  }
  /// Clicks the undo entry of the menu, as the shortcut would.
  void undo() { QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier); }
  void redo() { QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier); }
  void write(const QString& name, const QByteArray& bytes) {
    QFile file(folder_.filePath(name));
    ASSERT_TRUE(file.open(QIODevice::WriteOnly));
    file.write(bytes);
  }
  void load(const QString& name) {
    session_->job().load_program(folder_.filePath(name));
    ASSERT_TRUE(wait_for([this] { return !session_->job().loader().busy(); }));
    ASSERT_TRUE(wait_for([this] { return !session_->job().program() || session_->job().checked(); }));
  }
  /// Goes on in spite of all that stops the start, as an owner may.
  void answer_for_all() {
    const auto findings = session_->job().findings();
    for (const Finding& f : findings)
      if (f.weight == Weight::stops) session_->job().override_finding(f, "tried on purpose");
  }
  /// On a stock and with a cutter that it fits, to its end; zero is set.
  void cut_the_good_part() {
    session_->editor().note_in_book([](Book& b) {
      b.job.stock_size = {320, 320, 18};
      b.job.checklist.clear();
      b.tools = {{}};
      b.tools.front().number = 1;
      b.tools.front().diameter = 3;
    });
    write("part.ngc", good_part);
    sheet("program");
    load("part.ngc");
    ASSERT_TRUE(session_->job().program());
    answer_for_all();
    sheet("cut");
    start();
    ASSERT_TRUE(wait_for([this] { return session_->job().run().state() == RunState::finished; }, 300000))
        << session_->job().run().why() << text("notice-text").toStdString();
    EXPECT_EQ(last().sheet, "cut");
    EXPECT_EQ(last().result.at("ended"), "finished");
  }
  /// What only a test may look at.
  standin::StandIn& machine() { return standin::truth_of(*session_->machine().connection()->machine()); }

  /// A finding that a press kept: the step of undo before it, its entries in the record.
  struct Kept {
    std::string act;
    int step;
    std::size_t first, last;
  };
  std::vector<Kept> kept_;
  QTemporaryDir folder_;
  DemoFiles demo_;
  std::unique_ptr<Session> session_;
  std::unique_ptr<MainWindow> window_;
};

}  // namespace ypsi::app
