// Homing repeat in the real window, by the switches and by an indicator.
#include <QComboBox>

#include "app/session/book_editor.h"
#include "app/session/machine_session.h"
#include "core/book/record.h"
#include "core/book/worksheets/homing.h"
#include "window_fixture.h"

namespace ypsi::app {
namespace {

class HomingWindow : public WindowTest {
 protected:
  void start(double switch_s) {
    open_with([&](nlohmann::json& s) {
      for (const char* axis : {"X", "Y", "Z"}) s["axes"][axis]["switch"]["s_mm"] = switch_s;
    });
    home();
    sheet("homing");
  }
  const Entry* newest_of(const char* axis) {
    const auto i = newest(session_->editor().book(), "homing", axis);
    return i ? &session_->editor().book().history[*i] : nullptr;
  }
  std::size_t read(Axis axis) {
    return session_->editor().book().worksheets[homing_worksheet].readings_mm[index(axis)].size();
  }
};

TEST_F(HomingWindow, TheSwitchesTellAllAxesAtOnceAndTheFindingIsKept) {
  start(0.004);
  type("homing-trials", "12");
  click("homing-begin");
  ASSERT_TRUE(wait_for([this] { return read(Axis::z) == 12; }, 60000)) << text("homing-hint").toStdString();
  EXPECT_TRUE(text("homing-verdict").contains("It repeats")) << text("homing-verdict").toStdString();
  click("keep");
  for (const char* axis : {"X", "Y", "Z"}) {
    const Entry* e = newest_of(axis);
    ASSERT_NE(e, nullptr);
    EXPECT_EQ(e->readings.size(), 12u);
    EXPECT_LT(e->result.at("s_mm").get<double>(), 0.02);
    EXPECT_EQ(e->result.at("verdict"), "repeatable");
  }
  EXPECT_EQ(standing_of(session_->editor().book(), "homing").standing, Standing::current);
  EXPECT_EQ(read(Axis::x), 0u) << "settled";
}

TEST_F(HomingWindow, WhatScattersIsAFailureWithWhatToTry) {
  start(0.08);
  click("homing-begin");
  ASSERT_TRUE(wait_for([this] { return read(Axis::x) == 10; }, 60000));
  EXPECT_TRUE(text("homing-verdict").contains("scatters too much")) << text("homing-verdict").toStdString();
  EXPECT_TRUE(text("homing-text").contains("slower second touch"));
  click("keep");
  EXPECT_EQ(standing_of(session_->editor().book(), "homing").standing, Standing::failed);
  type("homing-tolerance", "1");
  type("homing-trials", "3");
  EXPECT_TRUE(text("notice-text").contains("Between 5 and 100"));
  EXPECT_EQ(session_->editor().book().worksheets[homing_worksheet].trials, 10);
}

TEST_F(HomingWindow, ByIndicatorEachTrialIsTypedUnderItsDot) {
  start(0.004);
  auto* way = find<QComboBox>("homing-way");
  const int indicator = way->findText("indicator");
  ASSERT_GT(indicator, 0);
  way->setCurrentIndex(indicator);
  emit way->activated(indicator);
  type("homing-trials", "5");
  type("indicator-place", "70");
  click("homing-begin");
  for (int trial = 1; trial <= 5; ++trial) {
    ASSERT_TRUE(wait_for([this] { return find<QPushButton>("homing-read")->isEnabled(); }, 30000)) << trial;
    EXPECT_NEAR(session_->machine().status().position.x, 70, 0.01);
    if (trial == 3)
      type("trial-reading", "0,012");
    else
      click("homing-read");
  }
  ASSERT_TRUE(wait_for([this] { return find<QPushButton>("keep")->isEnabled(); }));
  EXPECT_EQ(session_->editor().book().worksheets[homing_worksheet].readings_mm[0][2], 0.012);
  click("keep");
  EXPECT_EQ(newest_of("X")->instrument, "indicator");
  EXPECT_EQ(newest_of("X")->readings.size(), 5u);
}

TEST_F(HomingWindow, HoldEndsTheTrialsAndSaysSo) {
  start(0.004);
  session_->machine().connection()->set_speed(20);
  click("homing-begin");
  ASSERT_TRUE(wait_for([this] { return text("homing-hint").contains("Trial 2"); }));
  QTest::keyClick(window_.get(), Qt::Key_Space, Qt::ControlModifier);
  ASSERT_TRUE(wait_for([this] { return text("homing-hint").contains("Home the machine first"); }));
  EXPECT_FALSE(text("notice-text").isEmpty());
}

}  // namespace
}  // namespace ypsi::app
