// The order of work at a machine without a line, and what goes wrong there.
#include <QTableWidget>

#include "app/start/start_page.h"
#include "by_hand_window.h"
#include "core/book/book_json.h"
#include "core/book/record.h"
#include "core/book/worksheets/squareness.h"
#include "core/tasks/certificate.h"

namespace ypsi::app {

/// From an empty folder to a certificate.
void ByHandWindow::the_order_of_work(bool switches) {
  {
    MyMachines machines(folder_.filePath("books"));
    StartPage page(machines);
    page.show();
    QObject::connect(&page, &StartPage::book_begun, [this](const QString& path) { book_ = path; });
    auto* name = page.findChild<QLineEdit*>("new-name");
    QTest::keyClicks(name, "Oriel");
    page.findChild<QCheckBox*>("new-indicator")->setChecked(true);
    QTest::mouseClick(page.findChild<QPushButton*>("begin-book"), Qt::LeftButton);
    ASSERT_TRUE(QFile::exists(book_));
  }
  open_window();
  EXPECT_EQ(text("next-title"), "Build: never done") << "offline or not, what is next is what is really next";
  window_->open_sheet("build");
  click("build-x");
  type("travel", "812");
  if (!switches)
    for (const char* page : {"build-x", "build-y", "build-z"}) {
      click(page);
      choose("home-end", page == std::string("build-z") ? "none: by hand, + end" : "none: by hand, − end");
    }
  click("keep-build");
  window_->open_sheet("standing");
  EXPECT_EQ(text("next-title"), "Connect to the machine");
  carries_.start();
  connect_by_hand();
  carry_all();
  EXPECT_EQ(text("state"), "Not homed");
  // Where book and controller differ, the controller's figures hold: nobody has measured anything yet.
  for (const SettingDifference& each : session_->machine().setting_differences())
    session_->machine().settle(each, true);
  EXPECT_TRUE(session_->machine().setting_differences().empty());
  EXPECT_EQ(text("next-title"), "Inputs: never done");

  sheet("inputs");
  click("inputs-begin");
  if (switches)
    for (const char* each : {"hand-lamp-X", "hand-lamp-Y", "hand-lamp-Z"}) press_and_let_go(each);
  for (const char* each : {"hand-lamp-probe", "hand-lamp-stop"}) press_and_let_go(each);
  EXPECT_TRUE(text("inputs-asked").contains("Every input was seen")) << text("inputs-asked").toStdString();
  EXPECT_TRUE(last().told_by_hand);

  see_directions();
  home_by_hand();
  EXPECT_EQ(text("state"), "By hand");

  steps(Axis::x, "ruler", {"600", "400", "250", "500"});
  steps(Axis::y, "ruler", {"500", "400", "250", "450"});
  steps(Axis::z, "caliper", {"-80", "-60", "-40"});

  sheet("lost_motion");
  click("axis-y");
  choose("lost-instrument", "indicator");
  for (const char* place : {"100", "250", "400"}) {
    type("place", place);
    click("arrive");
    ASSERT_TRUE(wait_for([this] { return text("lost-hint").contains("towards +"); }));
    iron_->bench().mark(Axis::y);
    type("arriving-plus", QString::number(read(Axis::y, "indicator"), 'f', 3));
    ASSERT_TRUE(wait_for([this] { return text("lost-hint").contains("towards −"); }));
    type("arriving-minus", QString::number(read(Axis::y, "indicator"), 'f', 3));
  }
  click("keep");
  EXPECT_NEAR(last().result.at("lost_motion_mm").get<double>(), iron_->scenario().axes[1].lost_motion,
              last().result.at("U_lost_motion_mm").get<double>());

  zero_over_stock();
  own_keys(Axis::z, -20);
  sheet("squareness");
  type("rail-spacing", QString::number(iron_->scenario().rail_spacing));
  choose("square-instrument", "ruler");
  spotting_ = true;
  click("mark-points");
  ASSERT_TRUE(wait_for([this] { return text("square-hint").contains("The marks are down"); }, 60000))
      << text("square-hint").toStdString() << text("notice-text").toStdString();
  spotting_ = false;
  const auto worksheet = *session_->editor().book().worksheets[square_worksheet];
  for (std::size_t i = 0; i < worksheet.distances.size(); ++i) {
    const auto between = iron_->bench().read_between(worksheet.points[worksheet.distances[i].from].name,
                                                     worksheet.points[worksheet.distances[i].to].name, "ruler");
    ASSERT_TRUE(between) << between.error().message;
    type(QString("distance-%1").arg(i).toUtf8(), QString::number(*between, 'f', 2));
  }
  click("keep");
  EXPECT_EQ(last().sheet, "squareness");
  EXPECT_NEAR(last().result.at("skew_mrad").get<double>(), iron_->scenario().skew * 1000,
              last().result.at("U_skew_mrad").get<double>());

  sheet("limits");
  click("axis-z");
  click("let-further");
  carry_all();
  ASSERT_TRUE(iron_->link().jog(Axis::z, -108 - iron_->link().status().position.z, 600));
  owner_->run();
  tell_place();
  click("take-far-end");
  carry_all();
  type("clearance-far", "3");
  click("set-limits");
  EXPECT_TRUE(wait_for([this] { return text("notice-text").contains("both limits are proved"); }, 30000))
      << text("notice-text").toStdString();
  carry_all();
  EXPECT_EQ(standing_of(session_->editor().book(), "limits", Axis::z).standing, Standing::current);
  EXPECT_NEAR(iron_->link().setting("axis.z.soft_min_mm").value(),
              *session_->editor().book().machine.axis(Axis::z).soft_min, 1e-9);

  sheet("homing");
  choose("homing-way", "indicator");
  click("axis-x");
  type("homing-trials", "5");
  type("indicator-place", "70");
  own_keys(Axis::z, -5);
  click("homing-begin");
  for (int trial = 1; trial <= 5; ++trial) {
    ASSERT_TRUE(wait_for([&] { return text("homing-hint").contains("read the indicator"); }, 30000)) << trial;
    if (trial == 1) iron_->bench().mark(Axis::x);
    type("trial-reading", QString::number(read(Axis::x, "indicator"), 'f', 3));
  }
  ASSERT_TRUE(wait_for([this] { return find<QPushButton>("keep")->isEnabled(); }));
  click("keep");

  zero_over_stock();
  EXPECT_NEAR(iron_->link().setting("work.g54.x_mm").value(), 182, 0.02);
  click("go-to-zero");
  ASSERT_TRUE(wait_for([this] { return session_->job().run().state() == RunState::finished; }));
  EXPECT_NEAR(iron_->link().status().position.z, session_->machine().status().position.z, 0.01);

  ASSERT_NO_FATAL_FAILURE(cut_the_good_part());
  EXPECT_TRUE(last().told_by_hand);

  for (const Axis axis : all_axes) expect_steps_within_U(axis);
  const Certificate certificate = certificate_of(session_->editor().book());
  EXPECT_TRUE(told_by_hand(certificate));
  sheet("certificate");
  EXPECT_GT(carried_, 60) << "and nothing of it went over a line";
  sheet("standing");
  EXPECT_TRUE(find<QAbstractItemView>("history")->model()->index(0, 1).data().toString().contains("told by hand"));
}

namespace {

TEST_F(ByHandWindow, TheOrderOfWorkFromAnEmptyFolderToACertificate) {
  the_order_of_work(true);
}

TEST_F(ByHandWindow, TheOrderOfWorkWithoutASwitch) {
  the_order_of_work(false);
}

/// Wrong answers, typed and pressed.
TEST_F(ByHandWindow, WhatWentWrongThereIsSaidOnTheCard) {
  write_first_book();
  open_window();
  connect_by_hand();
  ASSERT_NE(card(), nullptr);
  EXPECT_EQ(card()->kind, HandCard::Kind::look_up);
  click("hand-put-off");
  EXPECT_FALSE(find<QWidget>("hand-card")->isVisible()) << "put off";
  EXPECT_TRUE(text("hand-summary").startsWith("Look up"));
  click("hand-open");
  type("hand-called-axis.x.steps_per_mm", "motor tuning, axis X, steps", Qt::Key_Tab);
  type("hand-value-axis.x.steps_per_mm", "81,5", Qt::Key_Tab);
  click("hand-done");
  EXPECT_EQ(session_->machine().link()->setting("axis.x.steps_per_mm"), 81.5);
  EXPECT_EQ(name_there(session_->editor().book(), "axis.x.steps_per_mm"), "motor tuning, axis X, steps");
  EXPECT_TRUE(text("notice-text").contains("otherwise than the book")) << text("notice-text").toStdString();

  QTest::keyClick(window_.get(), Qt::Key_H, Qt::ControlModifier);
  click("notice-action-1");  // home even so
  ASSERT_TRUE(told());
  ASSERT_NE(card(), nullptr);
  EXPECT_EQ(text("hand-title"), "Home the machine");
  click("hand-done");
  EXPECT_TRUE(session_->machine().status().all_homed());

  sheet("steps_per_unit");
  type("told", "300");
  click("move-and-mark");
  ASSERT_TRUE(told());
  EXPECT_EQ(text("hand-title"), "Send X to 3.000, from where it stands at 0.000");
  EXPECT_EQ(find<QPlainTextEdit>("hand-block")->toPlainText(), "G21 G90 G53 G1 X3.000 F1500");
  click("hand-elsewhere");
  EXPECT_TRUE(text("hand-said").contains("Type first")) << text("hand-said").toStdString();
  ASSERT_NE(card(), nullptr);
  type("hand-at-X", "far away", Qt::Key_Tab);
  EXPECT_NE(card(), nullptr) << "what is no length is no answer";
  type("hand-at-X", "1,2", Qt::Key_Tab);
  click("hand-elsewhere");
  ASSERT_TRUE(told());
  EXPECT_TRUE(text("notice-text").contains("ended before its mark")) << text("notice-text").toStdString();
  EXPECT_EQ(session_->machine().status().position.x, 1.2);

  click("move-and-mark");
  ASSERT_TRUE(told());
  click("hand-still");
  ASSERT_TRUE(told());
  EXPECT_TRUE(text("notice-text").contains("did not move")) << text("notice-text").toStdString();

  // The sheet is left: nobody knows how far it has come.
  click("move-and-mark");
  ASSERT_TRUE(told());
  sheet("standing");
  EXPECT_TRUE(text("hand-title").contains("where does it stand")) << text("hand-title").toStdString();
  type("hand-at-X", "2.5", Qt::Key_Tab);
  click("hand-done");
  EXPECT_EQ(session_->machine().status().position.x, 2.5);
  EXPECT_EQ(text("state"), "By hand");

  // Arrow keys are its own.
  session_->machine().jog(Axis::x, 1);
  EXPECT_EQ(card(), nullptr);
  EXPECT_TRUE(text("notice-text").contains("its own keys"));
  click("hand-tell");
  click("hand-off");
  EXPECT_FALSE(session_->machine().status().all_homed());
}

/// Closed and opened again between two cards, what was told and what is owed is there.
TEST_F(ByHandWindow, TheWindowCanBeClosedBetweenTwoCards) {
  write_first_book();
  open_window();
  connect_by_hand();
  click("hand-done");
  sheet("build");
  click("build-x");
  type("home-coordinate", "5");
  click("keep-build");
  ASSERT_TRUE(told());
  ASSERT_NE(card(), nullptr);
  EXPECT_EQ(card()->kind, HandCard::Kind::settings);
  EXPECT_TRUE(text("hand-change-axis.x.home_coordinate_mm").contains("5.0000"));
  close();
  open_window();
  connect_by_hand();
  ASSERT_NE(card(), nullptr);
  EXPECT_EQ(card()->kind, HandCard::Kind::settings) << "owed still, and what it has is not asked again";
  find<QCheckBox>("hand-taken-axis.x.home_coordinate_mm")->setChecked(false);
  click("hand-done");
  ASSERT_TRUE(told(4));
  EXPECT_TRUE(text("notice-text").contains("does not take") || text("notice-text").contains("otherwise than the book"))
      << text("notice-text").toStdString();
  EXPECT_EQ(session_->machine().link()->setting("axis.x.home_coordinate_mm"), 0);

  QTest::keyClick(window_.get(), Qt::Key_H, Qt::ControlModifier);
  click("notice-action-1");
  ASSERT_TRUE(told());
  ASSERT_NE(card(), nullptr);
  close();
  open_window();
  connect_by_hand();
  EXPECT_EQ(text("hand-title"), "Something was broken off: where does it stand?");
  click("hand-off");
  EXPECT_FALSE(session_->machine().status().all_homed());
  // Killed while something moves: what is on the disk is all there is.
  session_->machine().home(true);
  ASSERT_TRUE(told(4));
  click("hand-done");
  ASSERT_TRUE(session_->machine().link()->jog(Axis::x, 100, 500));
  ASSERT_TRUE(told(4));
  const auto left = read_file(book_ + ".by-hand");
  ASSERT_TRUE(left);
  close();
  ASSERT_TRUE(write_file(book_ + ".by-hand", *left));
  open_window();
  connect_by_hand();
  EXPECT_EQ(text("hand-title"), "Something was broken off: where does it stand?");
  click("hand-off");
  // A file that was damaged is said, and the book's figures are taken.
  close();
  ASSERT_TRUE(write_file(book_ + ".by-hand", "{\"format\":"));
  open_window();
  connect_by_hand();
  EXPECT_TRUE(text("notice-text").contains("cannot be read")) << text("notice-text").toStdString();
  ASSERT_NE(card(), nullptr);
  EXPECT_EQ(card()->kind, HandCard::Kind::look_up);
}

TEST_F(ByHandWindow, AMachineWithoutSwitchesIsSetAtItsMarks) {
  write_first_book([](Book& book) {
    for (const Axis axis : all_axes) book.machine.axis(axis).zero_by_hand = true;
    book.machine.no_probe = true;
    book.machine.emergency_stops = {"left of the bed", "at the door"};
  });
  open_window();
  carries_.start();
  connect_by_hand();
  carry_all();
  for (const char* lamp : {"hand-lamp-X", "hand-lamp-probe"})
    EXPECT_FALSE(find<QPushButton>(lamp)->isVisible()) << lamp;
  sheet("inputs");
  click("inputs-begin");
  EXPECT_TRUE(text("inputs-asked").contains("left of the bed")) << text("inputs-asked").toStdString();
  press_and_let_go("hand-lamp-stop");
  EXPECT_TRUE(text("inputs-asked").contains("at the door")) << "each by its place";
  press_and_let_go("hand-lamp-stop");
  EXPECT_TRUE(text("inputs-asked").contains("Every input was seen")) << text("inputs-asked").toStdString();
  EXPECT_EQ(last().result.at("inputs").at("probe"), "not_there");
  EXPECT_EQ(standing_of(session_->editor().book(), "inputs").standing, Standing::current);

  carries_.stop();
  carries_.start();
  see_directions();
  carries_.stop();
  session_->machine().home(true);
  ASSERT_TRUE(told());
  EXPECT_TRUE(text("hand-text").contains("has no switches")) << text("hand-text").toStdString();
  carries_.start();
  carry_all();
  EXPECT_TRUE(session_->machine().status().all_homed());
  steps(Axis::x, "ruler", {"600", "400", "250", "500"});
  expect_steps_within_U(Axis::x);
}

}  // namespace
}  // namespace ypsi::app
