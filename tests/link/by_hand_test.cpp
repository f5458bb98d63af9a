// A machine that is reached by its owner's hands: every procedure goes through cards that a simulated owner carries to
// a stand-in with no line to the program; and every wrong answer is understood.
#include <gtest/gtest.h>

#include <random>

#include "core/book/first_book.h"
#include "core/calibration/scale.h"
#include "core/procedures/direction_check.h"
#include "core/procedures/homing_repeat.h"
#include "core/procedures/measured_move.h"
#include "core/procedures/touch.h"
#include "core/procedures/travel.h"
#include "core/procedures/two_approaches.h"
#include "link/by_hand/hand_link.h"
#include "link/carrier.h"
#include "standin/standin_fixture.h"

namespace ypsi {
namespace {

using link::HandAnswer;
using link::HandCard;
using link::HandLink;
using Kind = HandCard::Kind;
using Word = HandAnswer::Word;

Book demo_book() {
  Book book = first_book({"moving_gantry", "Oriel", {"ruler", "indicator"}, {800, 600, 110}}).value();
  for (const Axis axis : all_axes) book.machine.axis(axis).home_coordinate = 0;
  return book;
}

class ByHand : public ::testing::Test {
 protected:
  void SetUp() override {
    start([](standin::Scenario&) {});
  }
  void start(const std::function<void(standin::Scenario&)>& edit) {
    standin::Scenario scenario = standin::demo();
    edit(scenario);
    machine_ = std::make_unique<standin::StandIn>(std::move(scenario));
    owner_ = std::make_unique<Carrier>(*machine_);
    link_ = std::make_unique<HandLink>(link::first_memory(demo_book()));
    link_->ask_what_it_has();
    carry_all();
  }
  const HandCard& card() {
    EXPECT_NE(link_->card(), nullptr);
    static const HandCard none;
    return link_->card() ? *link_->card() : none;
  }
  void carry() {
    const HandCard in_hand = card();
    const auto told = link_->answer(in_hand.number, owner_->carry(in_hand));
    ASSERT_TRUE(told) << told.error().message;
  }
  void carry_all() {
    for (int i = 0; i < 1000 && link_->card(); ++i) carry();
  }
  Result<void> say(const HandAnswer& answer) { return link_->answer(card().number, answer); }
  void home() {
    ASSERT_TRUE(link_->home());
    carry_all();
    ASSERT_TRUE(link_->status().all_homed());
  }
  /// Ticks and carries until it ends or waits for somebody.
  void drive(Procedure& procedure) {
    for (int i = 0; i < 5000 && procedure.running(); ++i) {
      procedure.tick();
      const auto waits = procedure.waits_for();
      if (link_->card())
        carry();
      else if (waits == WaitsFor::act || waits == WaitsFor::reading)
        return;
    }
  }
  double setting(const char* name) { return link_->setting(name).value_or(-1e9); }
  standin::Person& bench() { return machine_->bench(); }
  std::unique_ptr<standin::StandIn> machine_;
  std::unique_ptr<Carrier> owner_;
  std::unique_ptr<HandLink> link_;
};

TEST_F(ByHand, WhatTheControllerHasIsLookedUpOnceAndBelieved) {
  EXPECT_EQ(setting("axis.x.steps_per_mm"), 80) << "the first book of a gantry has another figure";
  EXPECT_EQ(setting("axis.x.soft_max_mm"), 808);
  link_->ask_what_it_has();
  EXPECT_EQ(link_->card(), nullptr) << "once is enough";
  EXPECT_EQ(link_->setting("axis.x.home_seek_mm_min").error().code, "unknown_setting");
  EXPECT_EQ(link_->status().state, MachineState::not_homed);
}

TEST_F(ByHand, WhereWorkZeroIsThereIsNeverGuessed) {
  link_ = std::make_unique<HandLink>(link::first_memory(demo_book()));
  link_->ask_what_it_has();
  HandAnswer told;
  told.values["work.g54.x_mm"] = 123.5;
  ASSERT_TRUE(say(told));
  EXPECT_EQ(link_->status().work_zero.x, 123.5);
  EXPECT_EQ(link_->card(), nullptr);

  link_ = std::make_unique<HandLink>(link::first_memory(demo_book()));
  link_->ask_what_it_has();
  ASSERT_TRUE(say({Word::refused})) << "its screen does not show them";
  ASSERT_EQ(card().kind, Kind::settings) << "so they are set";
  EXPECT_EQ(card().block, "G21 G10 L2 P1 X0.0000 Y0.0000 Z0.0000");
}

TEST_F(ByHand, ScaleIsMeasuredAsFromAWireWithinItsU) {
  home();
  ScaleInput readings;
  readings.instrument = *demo_book().instrument("ruler");
  readings.current_steps = setting("axis.x.steps_per_mm");
  for (const double told : {700.0, 500.0, -600.0, 400.0}) {
    MeasuredMove move;
    ASSERT_TRUE(move.start(*link_, nullptr, Axis::x, told, 3000));
    drive(move);
    ASSERT_EQ(move.waits_for(), WaitsFor::act) << "it waits where the slack is taken up";
    bench().mark(Axis::x);
    move.go_on();
    drive(move);
    ASSERT_EQ(move.phase(), Procedure::Phase::done) << move.error().message;
    EXPECT_NEAR(move.told(), told, 0.02);
    readings.readings.push_back({move.told(), bench().read_distance(Axis::x, "ruler").value(), false});
  }
  const auto scale = fit_scale(readings);
  ASSERT_TRUE(scale && scale->fit);
  EXPECT_NEAR(scale->fit->new_steps, machine_->scenario().axes[0].true_steps_per_mm, scale->fit->U_new_steps);
}

TEST_F(ByHand, AnAxisThatGoesTheOtherWayIsTurnedRoundByACard) {
  start([](standin::Scenario& s) { s.axes[0].inverted = true; });
  DirectionCheck check;
  const double before = machine_->true_place(Axis::x);
  ASSERT_TRUE(check.nudge(*link_, Axis::x));
  EXPECT_EQ(card().block, "G21 G91 G1 X4.000 F200\nG90");
  carry_all();
  EXPECT_LT(machine_->true_place(Axis::x), before);
  ASSERT_TRUE(check.answer(*link_, true, false));
  ASSERT_EQ(card().kind, Kind::settings);
  ASSERT_EQ(card().settings.size(), 1u);
  EXPECT_EQ(card().settings.front().name, "axis.x.reversed");
  ASSERT_TRUE(check.nudge(*link_, Axis::x)) << "asked for behind what is to be set first";
  const double here = machine_->true_place(Axis::x);
  carry_all();
  EXPECT_GT(machine_->true_place(Axis::x), here);
}

TEST_F(ByHand, LostMotionIsReadFromBothSides) {
  start([](standin::Scenario& s) { s.axes[1].lost_motion = 0.2; });
  home();
  TwoApproaches approaches;
  ASSERT_TRUE(approaches.start(*link_, Axis::y, 200, 1000));
  drive(approaches);
  bench().mark(Axis::y);
  const double plus = bench().read_distance(Axis::y, "indicator").value();
  approaches.go_on();
  drive(approaches);
  const double minus = bench().read_distance(Axis::y, "indicator").value();
  approaches.go_on();
  EXPECT_EQ(approaches.phase(), Procedure::Phase::done);
  EXPECT_NEAR(minus - plus, 0.2, 0.02);
}

TEST_F(ByHand, LimitsAreProvedByTheMachinesOwnRefusal) {
  home();
  LimitProof proof;
  ASSERT_TRUE(proof.start(*link_, Axis::x, 10, 700));
  ASSERT_EQ(card().kind, Kind::settings) << "lent for the proof";
  carry();
  proof.tick();
  ASSERT_EQ(card().kind, Kind::move);
  EXPECT_TRUE(card().beyond);
  drive(proof);
  EXPECT_EQ(proof.phase(), Procedure::Phase::done) << proof.error().message;
  carry_all();
  EXPECT_EQ(machine_->link().setting("axis.x.soft_max_mm"), 808) << "and put back";

  // One whose limits do not hold: the owner sees it move, and stops it.
  ASSERT_TRUE(proof.start(*link_, Axis::x, 10, 700));
  carry();
  proof.tick();
  ASSERT_TRUE(say({Word::stopped, MachinePosition{9, 0, 0}}));
  for (int i = 0; i < 5; ++i) proof.tick();
  EXPECT_EQ(proof.error().code, "stopped");
  carry_all();
  proof.tick();
  EXPECT_EQ(proof.phase(), Procedure::Phase::failed);
  EXPECT_EQ(machine_->link().setting("axis.x.soft_min_mm"), 4);
  EXPECT_EQ(link_->jog(Axis::x, 5000, 600).error().code, "limit") << "far beyond, nobody is asked to try";
}

TEST_F(ByHand, AFarSwitchEndsTheSearch) {
  start([](standin::Scenario& s) {
    s.axes[0].far = standin::SwitchTruth{false, 780, 0.004, 0.6, standin::Wiring::ok};
    s.axes[0].far->at_max = true;
  });
  home();
  FarSwitchSearch search;
  ASSERT_TRUE(search.start(*link_, Axis::x, 820));
  MachineInputs lamps;
  lamps.far_switch[0] = true;
  link_->show_inputs(lamps);
  search.tick();
  link_->show_inputs({});
  drive(search);
  ASSERT_EQ(search.phase(), Procedure::Phase::done) << search.error().message;
  EXPECT_NEAR(search.far_end(), 780 * 80.37 / 80, 0.15);
  EXPECT_TRUE(link_->status().all_homed());
}

TEST_F(ByHand, HomingRepeatNeedsAnIndicatorSinceNobodySaysWhereASwitchWasMet) {
  home();
  HomingRepeat repeat;
  HomingRepeatWay way;
  way.trials = 5;
  EXPECT_EQ(repeat.start(*link_, way).error().code, "untold");
  way.indicator_axis = Axis::x;
  way.indicator_at = 40;
  ASSERT_TRUE(repeat.start(*link_, way));
  int read = 0;
  for (; repeat.running(); ++read) {
    drive(repeat);
    repeat.go_on();
  }
  EXPECT_EQ(read, 5);
  EXPECT_EQ(repeat.phase(), Procedure::Phase::done) << repeat.error().message;
}

TEST_F(ByHand, APlateIsTouchedWhereTheScreenSaysItWas) {
  home();
  bench().lay_plate(PlatePlace::at_cutter);
  bench().lay_plate(PlatePlace::on_stock);
  const auto& stock = machine_->scenario().stock;
  for (const auto& [axis, place] : {std::pair{Axis::x, stock.x + 30}, {Axis::y, stock.y + 30}, {Axis::z, -60.0}}) {
    ASSERT_TRUE(link_->jog(axis, place - link_->status().position[axis], 3000));
    carry_all();
  }
  bench().set_clip(true);
  Touch touch;
  TouchWay way;
  way.search = 45;
  way.touches = 3;
  ASSERT_TRUE(touch.start(*link_, way));
  touch.tick();
  ASSERT_EQ(card().kind, Kind::program);
  EXPECT_TRUE(card().touches);
  EXPECT_EQ(card().block, "G54 G21 G91 G38.2 Z-45.0000 F200.0");
  drive(touch);
  ASSERT_EQ(touch.phase(), Procedure::Phase::done) << touch.error().message;
  ASSERT_EQ(touch.triggers().size(), 3u);
  EXPECT_NEAR(touch.mean_trigger(), machine_->link().status().probe.at.z, 0.02);

  way.search = 5;
  ASSERT_TRUE(touch.start(*link_, way));
  touch.tick();
  ASSERT_TRUE(say({Word::met_nothing}));
  touch.tick();
  EXPECT_EQ(touch.error().code, "no_contact");
}

TEST_F(ByHand, AProgramGoesOnOneCardAndEndsWhereItsBlocksEnd) {
  home();
  ASSERT_TRUE(link_->set_setting("work.g54.x_mm", 100));
  ASSERT_TRUE(link_->set_setting("work.g54.y_mm", 50));
  EXPECT_EQ(card().block, "G21 G10 L2 P1 X100.0000 Y50.0000");
  ASSERT_TRUE(link_->set_setting("work.g54.z_mm", -40));
  carry_all();
  const std::string text = "G21 G90\nS9000 M3\nG0 Z5\nG0 X20 Y20\nG1 Z1 F300\nG1 X60\nG0 Z5\nM5\n";
  ProgramRun run;
  ASSERT_TRUE(run.start(*link_, text));
  run.tick();
  EXPECT_EQ(card().block + "\n", "G54 " + text) << "line by line, and the frame said";
  EXPECT_EQ(card().lines, 8u);
  EXPECT_EQ(link_->status().state, MachineState::moving);
  ASSERT_TRUE(say({Word::started}));
  EXPECT_EQ(link_->status().state, MachineState::cutting);
  link_->hold();
  EXPECT_TRUE(card().hold_wanted) << "only its owner can";
  EXPECT_EQ(link_->status().state, MachineState::cutting);
  HandAnswer held{Word::held};
  held.line = 6;
  ASSERT_TRUE(say(held));
  EXPECT_EQ(link_->status().state, MachineState::held);
  EXPECT_EQ(link_->status().block_in_hand, 6u);
  ASSERT_TRUE(say({Word::went_on}));
  run.tick();
  EXPECT_EQ(run.state(), RunState::running);
  ASSERT_TRUE(say({Word::done}));
  run.tick();
  EXPECT_EQ(run.state(), RunState::finished);
  const MachinePosition end{160, 70, -35};
  for (const Axis axis : all_axes) EXPECT_NEAR(link_->status().position[axis], end[axis], 1e-9);

  ASSERT_TRUE(run.start(*link_, text));
  run.tick();
  ASSERT_TRUE(say({Word::started}));
  HandAnswer stopped{Word::stopped, MachinePosition{130, 70, -39}};
  stopped.line = 6;
  ASSERT_TRUE(say(stopped));
  run.tick();
  EXPECT_EQ(run.state(), RunState::failed);
  EXPECT_NE(run.why().find("in line 6"), std::string::npos) << run.why();
  EXPECT_EQ(run.line_in_hand(), 6u);
  EXPECT_EQ(link_->status().position.x, 130);
}

/// Every wrong answer to a move, and what it is taken for.
TEST_F(ByHand, WrongAnswersAreUnderstoodAsFromAWire) {
  home();
  const auto begin = [&](MeasuredMove& move) {
    ASSERT_TRUE(link_->stands_at({100, 100, -10}));
    ASSERT_TRUE(move.start(*link_, nullptr, Axis::x, 300, 3000));
    ASSERT_EQ(card().kind, Kind::move);
  };
  const auto ended = [&](MeasuredMove& move) {
    for (int i = 0; i < 5; ++i) move.tick();
    return move.error();
  };
  {
    MeasuredMove move;
    begin(move);
    ASSERT_TRUE(say({Word::did_not_move}));
    EXPECT_EQ(ended(move).code, "did_not_move");
    EXPECT_EQ(link_->status().position.x, 100);
    EXPECT_EQ(link_->status().state, MachineState::ready);
  }
  {
    MeasuredMove move;
    begin(move);
    ASSERT_TRUE(say({Word::done, MachinePosition{97, 100, -10}})) << "it went the other way";
    EXPECT_EQ(ended(move).code, "stopped");
    EXPECT_EQ(link_->status().position.x, 97);
  }
  {
    MeasuredMove move;
    begin(move);
    EXPECT_EQ(say({Word::stopped}).error().code, "missing");
    EXPECT_EQ(say({Word::stopped, MachinePosition{std::nan(""), 0, 0}}).error().code, "out_of_range");
    EXPECT_EQ(say({Word::done, MachinePosition{1e9, 0, 0}}).error().code, "out_of_range");
    EXPECT_EQ(link_->answer(card().number + 1, {Word::done}).error().code, "gone");
    ASSERT_NE(link_->card(), nullptr) << "a card stays until it is answered";
    ASSERT_TRUE(say({Word::refused}));
    EXPECT_EQ(ended(move).code, "refused");
  }
  {
    MeasuredMove move;
    begin(move);
    ASSERT_TRUE(say({Word::switched_off}));
    EXPECT_FALSE(link_->status().all_homed());
    EXPECT_NE(ended(move).code, "");
    home();
  }
  {
    // Said of its own accord, it is no stop: it only lost its place.
    link_->was_switched_off();
    EXPECT_EQ(link_->status().state, MachineState::not_homed);
    EXPECT_NE(link_->status().message.find("home it"), std::string::npos) << link_->status().message;
    home();
  }
  {
    MeasuredMove move;
    begin(move);
    MachineInputs lamps;
    lamps.emergency_stop = true;
    link_->show_inputs(lamps);
    EXPECT_EQ(ended(move).code, "stopped");
    EXPECT_EQ(link_->card(), nullptr);
    EXPECT_EQ(link_->home().error().code, "stopped");
    link_->show_inputs({});
    EXPECT_EQ(link_->status().state, MachineState::not_homed);
    home();
  }
  {
    MeasuredMove move;
    begin(move);
    move.cancel();
    EXPECT_EQ(move.phase(), Procedure::Phase::ending) << "until somebody says where it came to stand";
    ASSERT_EQ(card().kind, Kind::whereabouts);
    EXPECT_EQ(link_->jog(Axis::x, 1, 100).error().code, "busy");
    EXPECT_EQ(say({Word::done}).error().code, "missing");
    ASSERT_TRUE(say({Word::done, MachinePosition{102.5, 100, -10}}));
    move.tick();
    EXPECT_EQ(move.phase(), Procedure::Phase::failed);
    EXPECT_EQ(link_->status().position.x, 102.5);
  }
}

TEST_F(ByHand, ASettingThatIsNotTakenStaysAsItWasAndIsTold) {
  ASSERT_TRUE(link_->set_setting("axis.x.steps_per_mm", 81));
  ASSERT_TRUE(link_->set_setting("axis.y.steps_per_mm", 82));
  EXPECT_EQ(link_->cards_left(), 1u) << "one card for what is set at once";
  HandAnswer answer;
  answer.not_taken = {"axis.y.steps_per_mm"};
  ASSERT_TRUE(say(answer));
  EXPECT_EQ(setting("axis.x.steps_per_mm"), 81);
  EXPECT_EQ(setting("axis.y.steps_per_mm"), 80);
  const auto refusals = link_->refusals();
  ASSERT_EQ(refusals.size(), 1u);
  EXPECT_EQ(refusals.front().setting, "axis.y.steps_per_mm");
  EXPECT_EQ(link_->set_setting("axis.x.steps_per_mm", -3).error().code, "out_of_range");
  EXPECT_EQ(link_->set_setting("axis.q.colour", 3).error().code, "unknown_setting");
  // What is put back before anybody has typed it is no card at all.
  ASSERT_TRUE(link_->set_setting("axis.x.soft_max_mm", 900));
  ASSERT_TRUE(link_->set_setting("axis.x.soft_max_mm", 808));
  EXPECT_EQ(link_->card(), nullptr);
}

/// Killed between any two steps, what was said and what is owed is there again.
TEST_F(ByHand, WhatIsKnownOutlivesTheWindow) {
  home();
  ASSERT_TRUE(link_->set_setting("axis.x.steps_per_mm", 80.4));
  const auto again = [&] {
    link_ = std::make_unique<HandLink>(link::HandMemory::from_text(link_->memory().to_text()).value());
  };
  again();
  ASSERT_EQ(card().kind, Kind::settings);
  EXPECT_EQ(card().settings.front().before, 80);
  EXPECT_EQ(setting("axis.x.steps_per_mm"), 80.4);
  carry_all();
  EXPECT_EQ(machine_->link().setting("axis.x.steps_per_mm"), 80.4);
  again();
  EXPECT_EQ(link_->card(), nullptr);
  home();
  again();
  EXPECT_TRUE(link_->status().all_homed());
  ASSERT_TRUE(link_->jog(Axis::x, 50, 1000));
  again();
  ASSERT_EQ(card().kind, Kind::whereabouts) << "whether it moved, only its owner knows";
  EXPECT_EQ(link_->status().state, MachineState::moving);
  carry_all();
  EXPECT_EQ(link_->status().position, owner_->shown());

  for (const char* damaged : {"", "{}", "[1]", R"({"format":"ypsilograph-by-hand","version":1,"settings":{"a":null}})"})
    EXPECT_EQ(link::HandMemory::from_text(damaged).error().code, "damaged") << damaged;
  std::string text = link_->memory().to_text();
  for (std::size_t cut = 0; cut < text.size(); cut += 7) (void)link::HandMemory::from_text(text.substr(0, cut));
}

/// Asks and answers at random: no state is reached from which an owner cannot get on, and the place is always what was
/// said last.
TEST_F(ByHand, NothingThatIsAskedOrAnsweredLeavesItStuck) {
  std::mt19937 random(17);
  const auto roll = [&](int n) { return std::uniform_int_distribution<int>(0, n - 1)(random); };
  for (int round = 0; round < 4000; ++round) {
    switch (roll(9)) {
      case 0:
        (void)link_->home();
        break;
      case 1:
        (void)link_->jog(all_axes[static_cast<std::size_t>(roll(3))], roll(40) - 20, 500);
        break;
      case 2:
        (void)link_->set_setting("axis.x.soft_max_mm", 700 + roll(3));
        break;
      case 3:
        if (link_->begin_program()) {
          (void)link_->send("G21 G90 G1 X10 Y10 F500", 1);
          if (roll(2)) (void)link_->send("G38.2 Z-3 F50", 2);
          link_->end_program();
        }
        break;
      case 4:
        roll(2) ? link_->abandon() : link_->hold();
        break;
      case 5:
        if (roll(4) == 0) link_->stop();
        break;
      default:
        if (const HandCard* in_hand = link_->card()) {
          HandAnswer answer{static_cast<Word>(roll(11))};
          if (roll(2)) answer.at = MachinePosition{double(roll(700)), double(roll(500)), -double(roll(90))};
          const Kind kind = in_hand->kind;
          const bool told = link_->answer(in_hand->number, answer).has_value();
          if (told && answer.at && answer.word == Word::done && kind != Kind::settings && kind != Kind::look_up) {
            EXPECT_EQ(link_->status().position, *answer.at);
          }
        }
    }
    EXPECT_EQ(link::HandMemory::from_text(link_->memory().to_text()).value(), link_->memory());
  }
  for (int i = 0; i < 50 && link_->card(); ++i) (void)say({Word::done, MachinePosition{1, 2, -3}});
  EXPECT_EQ(link_->card(), nullptr);
  ASSERT_TRUE(link_->home());
  ASSERT_TRUE(say({Word::done}));
  EXPECT_EQ(link_->status().state, MachineState::ready);
}

}  // namespace
}  // namespace ypsi
