// Procedures at a machine whose answers come late: what is asked for is taken on trust, and nothing goes by what was
// true before it.
#include <gtest/gtest.h>

#include <deque>

#include "bad_line.h"
#include "core/procedures/homing_repeat.h"
#include "core/procedures/probe_grid.h"
#include "core/procedures/touch.h"
#include "core/procedures/travel.h"
#include "core/procedures/two_approaches.h"
#include "link/client.h"

namespace ypsi::link {
namespace {

/// Every byte is so long on its way.
Mangle late_by(const Transport& line, double seconds) {
  return [&line, seconds, on_the_way = std::deque<std::pair<double, std::string>>()](const std::string& bytes) mutable {
    on_the_way.emplace_back(line.now_s() + seconds, bytes);
    std::string arrived;
    while (!on_the_way.empty() && on_the_way.front().first <= line.now_s()) {
      arrived += on_the_way.front().second;
      on_the_way.pop_front();
    }
    return arrived;
  };
}

class SlowLine : public ::testing::TestWithParam<double> {
 protected:
  void SetUp() override {
    machine_ = standin::ServedMachine::from_scenario(demo_scenario()).value();
    auto line = std::make_unique<BadLine>(*machine_);
    line_ = line.get();
    client_ = std::make_unique<Client>(std::move(line));
    ASSERT_TRUE(client_->open());
    line_->up = late_by(*line_, GetParam());
    line_->machine_speed = 5;
    ASSERT_TRUE(client_->home());
    until([this] { return client_->status().state == MachineState::ready && client_->status().all_homed(); });
    ASSERT_TRUE(client_->status().all_homed()) << client_->status().message;
  }
  void until(const std::function<bool()>& done) {
    for (int i = 0; i < 60'000 && !done(); ++i) {
      line_->pass(0.01);
      client_->poll();
    }
  }
  void run(Procedure& procedure) {
    until([&] {
      procedure.tick();
      return !procedure.running();
    });
    EXPECT_EQ(procedure.phase(), Procedure::Phase::done) << procedure.error().message;
    EXPECT_TRUE(client_->refusals().empty());
  }
  void go(Axis axis, double place) {
    ASSERT_TRUE(client_->jog(axis, place - client_->status().position[axis], 6000));
    until([this] { return client_->status().state == MachineState::ready; });
    ASSERT_NEAR(client_->status().position[axis], place, 0.02);
  }

  std::unique_ptr<standin::ServedMachine> machine_;
  BadLine* line_ = nullptr;
  std::unique_ptr<Client> client_;
};

TEST_P(SlowLine, HomingRepeats) {
  HomingRepeat repeat;
  HomingRepeatWay way;
  way.trials = 5;
  ASSERT_TRUE(repeat.start(*client_, way));
  run(repeat);
  EXPECT_EQ(repeat.met().size(), 5u);
}

TEST_P(SlowLine, LimitsAreProvedAndAreAsTheyWere) {
  const double low = client_->setting("axis.x.soft_min_mm").value();
  LimitProof proof;
  ASSERT_TRUE(proof.start(*client_, Axis::x, 20, 300));
  EXPECT_EQ(client_->setting("axis.x.soft_min_mm").value(), 20);
  run(proof);
  until([this] { return !client_->status().asked; });
  EXPECT_EQ(client_->setting("axis.x.soft_min_mm").value(), low);
  until([&] { return standin::truth_of(*machine_).controller().setting("axis.x.soft_min_mm").value() == low; });
  EXPECT_EQ(standin::truth_of(*machine_).controller().setting("axis.x.soft_min_mm").value(), low);
}

TEST_P(SlowLine, APlaceIsArrivedAtFromBothSides) {
  TwoApproaches both;
  ASSERT_TRUE(both.start(*client_, Axis::x, 200, 3000));
  until([&] {
    both.tick();
    if (both.waits_for() == WaitsFor::reading) both.go_on();
    return !both.running();
  });
  EXPECT_EQ(both.phase(), Procedure::Phase::done) << both.error().message;
  EXPECT_NEAR(client_->status().position.x, 200, 0.02);
}

TEST_P(SlowLine, ThePlateIsTouchedWhereItIs) {
  go(Axis::x, 250);
  go(Axis::y, 200);
  client_->lay_plate(PlatePlace::on_stock);
  until([this] { return client_->gap_seen() > 0 && client_->gap_seen() < 200; });
  go(Axis::z, client_->status().position.z - (client_->gap_seen() - 18));  // the plate is 12 thick
  TouchWay way;
  way.axis = Axis::z;
  way.towards_plus = false;
  way.search = 10;
  way.touches = 3;
  Touch touch;
  const auto begun = touch.start(*client_, way);
  ASSERT_TRUE(begun) << begun.error().message;
  run(touch);
  EXPECT_EQ(touch.triggers().size(), 3u);
  EXPECT_NEAR(client_->status().position.z, touch.mean_trigger() + way.back_off, 0.05);
}

TEST_P(SlowLine, WhatIsCancelledStandsAndGetsBackWhatItLent) {
  const double high = client_->setting("axis.x.soft_max_mm").value();
  TwoApproaches both;
  ASSERT_TRUE(both.start(*client_, Axis::x, 400, 3000));
  line_->pass(0.3);
  client_->poll();
  both.cancel();
  until([&] {
    both.tick();
    return !both.running();
  });
  const MachinePosition at = standin::truth_of(*machine_).controller().status().position;
  line_->pass(1);
  client_->poll();
  EXPECT_EQ(standin::truth_of(*machine_).controller().status().position, at);
  LiftedLimit lifted;
  ASSERT_TRUE(lifted.start(*client_, Axis::x, 900));
  lifted.cancel();
  until([&] {
    lifted.tick();
    return !lifted.running() && standin::truth_of(*machine_).controller().setting("axis.x.soft_max_mm").value() == high;
  });
  EXPECT_EQ(standin::truth_of(*machine_).controller().setting("axis.x.soft_max_mm").value(), high);
}

INSTANTIATE_TEST_SUITE_P(Late, SlowLine, ::testing::Values(0.0, 0.06, 0.3));

}  // namespace
}  // namespace ypsi::link
