// The owner's door: which machine, a book for one that has none, another machine, and what is not let in.
#include <gtest/gtest.h>

#include <QComboBox>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <QTemporaryDir>
#include <QTest>
#include <functional>

#include "app/demo.h"
#include "app/session/book_editor.h"
#include "app/session/machine_session.h"
#include "app/session/text_file.h"
#include "app/start/desk.h"
#include "app/to_q.h"
#include "core/book/book_json.h"
#include "core/book/first_book.h"
#include "core/book/machine_kinds.h"
#include "layout_faults.h"

namespace ypsi::app {
namespace {

class Start : public ::testing::Test {
 protected:
  Start() : machines_(folder_.filePath("books")), desk_(machines_, folder_.filePath("demo")) {}
  template <class Widget>
  Widget* in_page(const char* name) {
    auto* found = desk_.start_page()->findChild<Widget*>(name);
    EXPECT_NE(found, nullptr) << name;
    return found;
  }
  void click(const char* name) { QTest::mouseClick(in_page<QPushButton>(name), Qt::LeftButton); }
  void type(const char* name, const char* text) {
    auto* field = in_page<QLineEdit>(name);
    field->setFocus();
    field->selectAll();
    QTest::keyClicks(field, text);
    QTest::keyClick(field, Qt::Key_Return);
  }
  QString text(const char* name) { return in_page<QLabel>(name)->text(); }
  QStringList listed(const char* what) {
    QStringList all;
    for (const auto* label : desk_.start_page()->findChildren<QLabel*>(what)) all << label->text();
    return all;
  }
  void begin(const char* name, const char* kind) {
    type("new-name", name);
    auto* kinds = in_page<QComboBox>("new-kind");
    kinds->setCurrentIndex(kinds->findData(QString(kind)));
    click("begin-book");
  }
  void wait(const std::function<bool()>& until) { ASSERT_TRUE(QTest::qWaitFor(until, 5000)); }
  void trigger(const char* action) {
    for (auto* a : desk_.window()->actions())
      if (a->objectName() == action) return a->trigger();
    FAIL() << action;
  }
  const Book& book() { return desk_.session()->editor().book(); }

  QTemporaryDir folder_;
  MyMachines machines_;
  Desk desk_;
};

TEST_F(Start, AMachineThatHasNoBookGetsOneAndIsInTheList) {
  desk_.show_start();
  EXPECT_TRUE(in_page<QLabel>("no-machines")->isVisible());
  EXPECT_TRUE(text("start-foot").contains(machines_.folder()));
  click("begin-book");
  EXPECT_TRUE(text("begin-problem").contains("name")) << text("begin-problem").toStdString();
  EXPECT_FALSE(desk_.window());
  type("new-name", "Tansy");
  auto* kinds = in_page<QComboBox>("new-kind");
  kinds->setCurrentIndex(kinds->findData(QString("engraver")));
  EXPECT_TRUE(in_page<QLineEdit>("new-reach-x")->text().startsWith("160")) << "as is usual for the kind";
  EXPECT_TRUE(text("new-drives").contains("steps per mm"));
  type("new-reach-x", "150");
  in_page<QCheckBox>("new-indicator")->setChecked(true);
  in_page<QCheckBox>("new-tape")->setChecked(false);
  click("begin-book");
  ASSERT_TRUE(desk_.window());
  EXPECT_FALSE(desk_.start_page()->isVisible());
  wait([this] { return book().machine.name == "Tansy"; });
  EXPECT_EQ(book().machine.kind, "engraver");
  EXPECT_EQ(book().machine.axis(Axis::x).travel, 150);
  EXPECT_EQ(book().instruments.size(), 3u);
  EXPECT_TRUE(book().instrument("indicator"));
  EXPECT_FALSE(book().instrument("tape"));
  EXPECT_LE(book().job.part_width, 150) << "a usual part that the machine can cut";
  EXPECT_FALSE(desk_.session()->machine().connection()) << "nothing was connected to by itself";
  trigger("another-machine");
  wait([this] { return !desk_.window() && desk_.start_page()->isVisible(); });
  EXPECT_EQ(listed("machine-is"), QStringList{"Tansy"});
  EXPECT_EQ(listed("machine-kind").size(), 1);
  EXPECT_TRUE(listed("machine-state").front().contains("never cut")) << listed("machine-state").front().toStdString();
  EXPECT_FALSE(in_page<QLabel>("no-machines")->isVisible());
  // Another of the same name gets a file of its own.
  begin("Tansy", "moving_bed");
  wait([this] { return desk_.window() != nullptr; });
  EXPECT_EQ(machines_.books().size(), 2);
}

/// Two minutes are 120 keys for one who looks for each.
TEST_F(Start, ABookForEachKindIsBegunByKeysAlone) {
  for (const MachineKind& kind : machine_kinds()) {
    desk_.show_start();
    QWidget* page = desk_.start_page();
    QApplication::setActiveWindow(page);
    int keys = 0;
    const auto press = [&](int key, Qt::KeyboardModifiers with = {}) {
      QWidget* to = QApplication::focusWidget() ? QApplication::focusWidget() : page;
      QTest::keyClick(to, static_cast<Qt::Key>(key), with);
      ++keys;
    };
    const auto tab_to = [&](const char* name) {
      for (int i = 0; i < 30; ++i) {
        if (QApplication::focusWidget() && QApplication::focusWidget()->objectName() == name) return true;
        press(Qt::Key_Tab);
      }
      return false;
    };
    ASSERT_TRUE(tab_to("new-name")) << kind.id;
    for (const int letter : {Qt::Key_T, Qt::Key_A, Qt::Key_N, Qt::Key_S, Qt::Key_Y}) press(letter);
    ASSERT_TRUE(tab_to("new-kind"));
    auto* kinds = in_page<QComboBox>("new-kind");
    while (kinds->currentData().toString() != kind.id) press(kinds->currentIndex() < 4 ? Qt::Key_Down : Qt::Key_Home);
    ASSERT_TRUE(tab_to("new-reach-x"));
    QTest::keyClicks(QApplication::focusWidget(), "321");
    keys += 3;
    ASSERT_TRUE(tab_to("new-drive-z"));
    for (int i = 0; i < 4; ++i) press(Qt::Key_Down);  // a screw of 5
    ASSERT_TRUE(tab_to("new-indicator"));
    press(Qt::Key_Space);
    ASSERT_TRUE(tab_to("new-way"));
    press(Qt::Key_Down);
    press(Qt::Key_Down);
    press(Qt::Key_Return, Qt::ControlModifier);
    wait([&] { return desk_.window() && book().machine.kind == kind.id; });
    EXPECT_LE(keys, 120) << kind.id;
    EXPECT_EQ(book().machine.axis(Axis::x).travel, 321);
    EXPECT_EQ(std::get<Screw>(book().machine.axis(Axis::z).drive.transmission).lead_mm, 5);
    EXPECT_NEAR(book().machine.axis(Axis::z).steps_per_mm,
                steps_per_unit(book().machine.axis(Axis::z).drive)->steps_per_unit, 1e-9)
        << "one drive, one figure";
    EXPECT_TRUE(book().instrument("indicator"));
    ASSERT_TRUE(desk_.session()->machine().connection());
    EXPECT_TRUE(desk_.session()->machine().connection()->hands()) << "and it is worked by hand at once";
    trigger("another-machine");
    wait([this] { return !desk_.window() && desk_.start_page()->isVisible(); });
  }
}

TEST_F(Start, EachOfTheWorkshopsMachinesIsThereToLearnOn) {
  for (const DemoMachine& machine : demo_machines()) {
    desk_.show_start();
    click(("learn-" + machine.id).toUtf8().constData());
    ASSERT_TRUE(desk_.window()) << machine.id.toStdString() << text("start-said").toStdString();
    wait([&] { return book().machine.name == machine.name.toStdString(); });
    EXPECT_EQ(book().machine.workshop, "Quillfeather Dials");
    ASSERT_TRUE(desk_.session()->machine().connection());
    EXPECT_TRUE(desk_.session()->machine().connection()->simulated());
    for (const SettingDifference& each : desk_.session()->machine().setting_differences())
      ADD_FAILURE() << machine.id.toStdString() << ": " << each.in_book.name << " " << each.in_book.value << " "
                    << each.in_controller;
    trigger("another-machine");
    wait([this] { return !desk_.window() && desk_.start_page()->isVisible(); });
  }
}

TEST_F(Start, RecentMachinesAndTheSaveBeforeAreInTheMenu) {
  desk_.show_start();
  begin("Oriel", "moving_gantry");
  wait([this] { return desk_.window() != nullptr; });
  trigger("another-machine");
  wait([this] { return !desk_.window(); });
  begin("Tansy", "engraver");
  wait([this] { return desk_.window() && book().machine.name == "Tansy"; });
  desk_.session()->editor().change_book("try", [](Book& b) { b.machine.workshop = "one"; });
  desk_.session()->editor().change_book("try", [](Book& b) { b.machine.workshop = "two"; });
  trigger("bring-back");
  EXPECT_EQ(book().machine.workshop, "one");
  EXPECT_EQ(BookStore::load(desk_.session()->editor().book_path())->book.machine.workshop, "one");
  bool kept = false;
  for (const QString& name : QDir(machines_.folder()).entryList(QDir::Files))
    if (name.contains("set-aside"))
      kept = kept || BookStore::load(machines_.folder() + "/" + name)->book.machine.workshop == "two";
  EXPECT_TRUE(kept) << "what was here stays beside it";
  auto* recent = desk_.window()->findChild<QMenu*>("recent");
  emit recent->aboutToShow();
  ASSERT_EQ(recent->actions().size(), 1);
  EXPECT_EQ(recent->actions().front()->text(), "Oriel");
  recent->actions().front()->trigger();
  wait([this] { return desk_.window() && book().machine.name == "Oriel"; });
}

/// No probe: what is about it is not asked for, and stands at the list's foot.
TEST_F(Start, WhatAMachineHasNotStandsUnderAlso) {
  desk_.show_start();
  begin("Oriel", "moving_gantry");
  wait([this] { return desk_.window() != nullptr; });
  desk_.window()->resize(1280, 800);
  auto* staff = desk_.window()->findChild<QListWidget*>("staff");
  const auto titles = [staff] {
    QStringList all;
    for (int i = 0; i < staff->count(); ++i) all << staff->item(i)->text();
    return all;
  };
  EXPECT_TRUE(titles().contains("Touch plate"));
  EXPECT_FALSE(titles().contains("Heads")) << "a router carries its spindle alone";
  desk_.session()->editor().change_book("try", [](Book& b) { b.machine.no_probe = true; });
  EXPECT_FALSE(titles().contains("Touch plate"));
  ASSERT_TRUE(titles().last().startsWith("Also")) << titles().last().toStdString();
  staff->scrollToBottom();
  QTest::mouseClick(staff->viewport(), Qt::LeftButton, {},
                    staff->visualItemRect(staff->item(staff->count() - 1)).center());
  EXPECT_EQ(titles().mid(titles().size() - 5),
            (QStringList{"Touch plate", "Tool setter", "Heads", "Trials", "Fences and stops"}));
  desk_.window()->open_sheet("touch_plate");
  EXPECT_EQ(desk_.window()->current_sheet(), "touch_plate") << "nothing is locked";
}

TEST_F(Start, WhatIsOpenedLastStandsFirstAndWhatIsGoneDoesNotStand) {
  Book other;
  other.machine.name = "Fathom";
  other.machine.kind = "cutting_table";
  const QString elsewhere = folder_.filePath("elsewhere.ypsi");
  ASSERT_TRUE(write_file(elsewhere, write_book(other)));
  desk_.show_start();
  begin("Oriel", "moving_gantry");
  wait([this] { return desk_.window() != nullptr; });
  desk_.open_book(elsewhere);
  wait([this] { return book().machine.name == "Fathom"; });
  EXPECT_EQ(machines_.books().front(), elsewhere);
  EXPECT_EQ(machines_.books().size(), 2);
  trigger("another-machine");
  wait([this] { return !desk_.window(); });
  EXPECT_EQ(listed("machine-is"), (QStringList{"Fathom", "Oriel"}));
  QFile::remove(elsewhere);
  desk_.start_page()->refresh();
  EXPECT_EQ(listed("machine-is"), QStringList{"Oriel"});
  // The list itself may be anything.
  ASSERT_TRUE(write_file(machines_.folder() + "/opened.json", "[1, {\"a\":"));
  EXPECT_EQ(machines_.books().size(), 1);
}

TEST_F(Start, ABookThatCannotBeReadSaysWhyAndIsNotOpened) {
  desk_.show_start();
  begin("Oriel", "moving_gantry");
  wait([this] { return desk_.window() != nullptr; });
  const QString path = machines_.books().front();
  trigger("another-machine");
  wait([this] { return !desk_.window(); });
  ASSERT_TRUE(write_file(path, "{\"format\": \"ypsilograph-book\", \"version\": 1, \"machine\": 7}"));
  desk_.start_page()->refresh();
  EXPECT_FALSE(in_page<QPushButton>("open-machine")->isEnabled());
  EXPECT_FALSE(listed("machine-state").front().isEmpty());
  desk_.show_start("There is no book at /nowhere yet.");
  EXPECT_TRUE(text("start-said").contains("/nowhere"));
}

TEST_F(Start, LearningOnASimulatedOneIsOnePressAwayAndLeavesNothingBehind) {
  desk_.show_start();
  click("learn-oriel");
  ASSERT_TRUE(desk_.window());
  ASSERT_TRUE(desk_.session()->machine().connection());
  wait([this] { return !book().machine.name.empty(); });
  EXPECT_TRUE(desk_.session()->machine().connection()->simulated());
  trigger("another-machine");
  wait([this] { return !desk_.window() && desk_.start_page()->isVisible(); });
  EXPECT_TRUE(machines_.books().isEmpty()) << "the demo is not among the owner's machines";
}

TEST_F(Start, ThePageFitsASmallScreen) {
  desk_.show_start();
  for (const QSize size : {QSize(1024, 700), QSize(1280, 800)}) {
    desk_.start_page()->resize(size);
    QTest::qWait(50);
    EXPECT_EQ(faults_of(desk_.start_page()).join("\n").toStdString(), "") << size.width();
    // What is asked stands below what was asked before, with all of it seen.
    const auto bottom_of = [this](const char* name) {
      const auto* w = in_page<QWidget>(name);
      return w->mapTo(desk_.start_page(), QPoint(0, w->height())).y();
    };
    const auto* last = in_page<QWidget>("question-5");
    EXPECT_LE(bottom_of("new-magnifier"), last->mapTo(desk_.start_page(), QPoint()).y()) << size.width();
    const auto* drives = in_page<QLabel>("new-drives");
    EXPECT_GE(drives->height(), drives->heightForWidth(drives->width())) << size.width();
  }
}

TEST_F(Start, PicturesOfThePage) {
  const QString folder = qEnvironmentVariable("YPSI_PICTURES");
  if (folder.isEmpty()) GTEST_SKIP() << "YPSI_PICTURES names no folder";
  for (const auto& [kind, name] : {std::pair{"engraver", "Tansy"}, {"cutting_table", "Fathom"}})
    ASSERT_TRUE(machines_.keep_new(first_book({kind, name, {"ruler"}, {}}).value()));
  const auto oriel = read_file(QString(YPSI_DEMO_DATA) + "/oriel.ypsi");
  ASSERT_TRUE(write_file(machines_.folder() + "/oriel.ypsi", oriel.value()));
  machines_.remember(machines_.folder() + "/oriel.ypsi");
  desk_.show_start();
  in_page<QLabel>("start-foot")->setText("Books are files in the open, in millimetres.");
  desk_.start_page()->resize(1280, 800);
  QTest::qWait(50);
  EXPECT_TRUE(desk_.start_page()->grab().save(folder + "/start.png"));
}

}  // namespace
}  // namespace ypsi::app
