// A beam: never on after any way out, never above its owner's cap, and its least power for a dot told from flashes.
#include "core/book/worksheets/trials.h"
#include "core/procedures/beam_flash.h"

#include <functional>
#include <random>

#include "beam_scenario.h"
#include "core/tasks/trials.h"
#include "standin/host_process.h"
#include "standin/standin_fixture.h"
#include "standin/truth.h"

namespace ypsi::standin {
namespace {

const std::string beam_on = "M178 P20", beam_off = "M179";

/// The demo's router with a beam beside its spindle.
nlohmann::json with_beam() {
  std::ifstream file(std::string(YPSI_DEMO_DATA) + "/oriel.scenario.json");
  auto s = nlohmann::json::parse(file);
  s["heads"] = beam_heads();
  return s;
}

class Beam : public StandInTest {
 protected:
  void SetUp() override {
    start(read_scenario(with_beam().dump()).value());
    home();
  }
  bool on() { return machine_->plant().beam_on(); }
  /// Begins a long line with the beam on, and waits until it shines.
  void shine(const std::vector<std::string>& then = {}) {
    ASSERT_TRUE(link().begin_program());
    std::uint32_t line = 0;
    std::vector<std::string> blocks{"G21 G90", beam_on, "G91 G1 X100 F600"};
    blocks.insert(blocks.end(), then.begin(), then.end());
    for (const auto& b : blocks) ASSERT_TRUE(link().send(b, ++line));
    link().end_program();
    machine_->advance(0.5);
    ASSERT_TRUE(on());
  }
  void expect_dark(const std::string& after) {
    for (int i = 0; i < 200; ++i) {
      machine_->advance(0.05);
      if (i > 4) {
        ASSERT_FALSE(on()) << after << ", " << i * 0.05 << " s later";
      }
    }
    EXPECT_FALSE(link().status().beam_on) << after;
  }
};

TEST_F(Beam, IsDarkAfterEachWayOut) {
  const std::vector<std::pair<std::string, std::function<void()>>> ways{
      {"hold", [this] { link().hold(); }},
      {"abandon", [this] { link().abandon(); }},
      {"stop", [this] { link().stop(); }},
      {"emergency stop", [this] { bench().press_emergency_stop(true); }},
      {"host lost", [this] { machine_->controller().link_lost(); }},
      {"the supply fails", [this] { machine_->break_down({.kind = FaultKind::brownout}); }},
      {"a switch comes on", [this] { bench().hold_switch(Axis::x, true); }},
  };
  for (const auto& [name, way] : ways) {
    SetUp();
    shine();
    way();
    expect_dark(name);
  }
  const std::vector<std::pair<std::string, std::vector<std::string>>> programs{
      {"the program's end without a block for it", {}}, {"a pause", {"M0", "X50"}}, {"a tool change", {"T2 M6"}}};
  for (const auto& [name, then] : programs) {
    SetUp();
    shine(then);
    for (int i = 0; i < 300; ++i) machine_->advance(0.05);
    expect_dark(name);
  }
}

/// A host that is too slow must not let it burn a hole where the machine waits.
TEST_F(Beam, IsDarkWhileTheMachineWaitsForBlocks) {
  ASSERT_TRUE(link().begin_program());
  std::uint32_t line = 0;
  for (const std::string b : {"G21 G90", "M178 P20", "G91 G1 X5 F600"}) ASSERT_TRUE(link().send(b, ++line));
  machine_->advance(0.2);
  EXPECT_TRUE(on());
  machine_->advance(1);
  expect_dark("the queue ran dry");
  ASSERT_TRUE(link().send("G1 X20", ++line));
  machine_->advance(0.2);
  EXPECT_TRUE(on()) << "it goes on as it was";
  link().abandon();
  expect_dark("abandoned");
}

TEST_F(Beam, ComesBackOnlyWhenTheHeldProgramGoesOn) {
  shine();
  link().hold();
  expect_dark("hold");
  ASSERT_EQ(link().status().state, MachineState::held);
  link().go_on();
  machine_->advance(0.2);
  EXPECT_TRUE(on());
  link().hold();
  link().abandon();
  expect_dark("abandoned while held");
  ASSERT_TRUE(link().begin_program());
  ASSERT_TRUE(link().send("G91 G1 X5 F600", 1));
  link().end_program();
  expect_dark("another program");
}

/// A refused block in the middle, and one above the cap that must not even be sent.
TEST_F(Beam, IsDarkWhereARunFails) {
  for (const std::string bad : {"G1 X-9000 F600", "M178 P31", "G999"}) {
    SetUp();
    const std::string text = "G21 G90\n" + beam_on + "\nG91 G1 X20 F600\n" + bad + "\nG1 X20\n" + beam_off + "\nM2\n";
    ProgramRun cut;
    cut.watch_beams({book_beam(30)});
    ASSERT_TRUE(cut.start(link(), text));
    double highest = 0;
    for (int i = 0; i < 400 && cut.state() == RunState::running; ++i) {
      cut.tick();
      machine_->advance(0.02);
    }
    EXPECT_EQ(cut.state(), RunState::failed) << bad;
    for (const auto& flash : machine_->plant().flashes_of(1)) highest = std::max(highest, flash.level);
    EXPECT_LE(highest, 30) << bad;
    expect_dark(bad);
  }
}

TEST_F(Beam, IsSwitchedOffBeforeTheFirstBlock) {
  const std::string text = "G21 G90\nG91 G1 X5 F600\nM2\n";
  machine_->plant().act_on_head(1, HeadAct::on, 20);  // left on by somebody's hand at its own panel
  ProgramRun cut;
  cut.watch_beams({book_beam(30)});
  ASSERT_TRUE(cut.start(link(), text));
  cut.tick();
  machine_->advance(0.02);
  EXPECT_FALSE(on());
}

TEST_F(Beam, AFlashEndsByItselfThoughNobodyAsksAnyMore) {
  BeamFlash flash;
  ASSERT_TRUE(flash.start(link(), book_beam(30), 12, 0.1, 0));
  machine_->advance(0.05);
  EXPECT_TRUE(on());
  machine_->advance(0.1);  // nobody ticks it
  expect_dark("a flash");
  ASSERT_EQ(machine_->plant().flashes_of(1).size(), 1U);
  EXPECT_NEAR(machine_->plant().flashes_of(1)[0].seconds, 0.1, 1e-6);
  EXPECT_DOUBLE_EQ(machine_->plant().flashes_of(1)[0].level, 12);
}

TEST_F(Beam, AFlashIsRefusedBeforeAnythingShines) {
  const auto refused = [&](const Head& beam, double level, double seconds, double aside) {
    BeamFlash flash;
    const auto ok = flash.start(link(), beam, level, seconds, aside);
    EXPECT_FALSE(flash.running());
    machine_->advance(0.2);
    EXPECT_FALSE(on());
    EXPECT_TRUE(machine_->plant().flashes_of(1).empty());
    return ok ? std::string() : ok.error().code;
  };
  EXPECT_EQ(refused(book_beam(30), 30.5, 0.1, 0), "over_cap");
  EXPECT_EQ(refused(book_beam(0), 5, 0.1, 0), "no_cap");
  EXPECT_EQ(refused(book_beam(30), -1, 0.1, 0), "out_of_range");
  EXPECT_EQ(refused(book_beam(30), NAN, 0.1, 0), "out_of_range");
  EXPECT_EQ(refused(book_beam(30), 5, 2, 0), "out_of_range");
  EXPECT_EQ(refused(book_beam(30), 5, 0.1, 9000), "limit");
  Head silent = book_beam(30);
  silent.on = "M178";
  EXPECT_EQ(refused(silent, 5, 0.1, 0), "no_level");
  silent.off.clear();
  EXPECT_EQ(refused(silent, 5, 0.1, 0), "no_blocks");
}

TEST_F(Beam, AFlashThatIsCancelledIsDarkAndDoesNotGoAside) {
  BeamFlash flash;
  const double x = link().status().position.x;
  ASSERT_TRUE(flash.start(link(), book_beam(30), 12, 0.5, 2));
  machine_->advance(0.1);
  ASSERT_TRUE(on());
  flash.cancel();
  for (int i = 0; i < 40; ++i) {
    machine_->advance(0.02);
    flash.tick();
    ASSERT_FALSE(on());
  }
  EXPECT_EQ(flash.phase(), Procedure::Phase::failed);
  EXPECT_DOUBLE_EQ(link().status().position.x, x);
}

/// The host is killed with SIGKILL while the beam shines: the controller misses its host and puts it out.
TEST(BeamAndHost, IsDarkAfterTheHostWasKilled) {
  auto machine = ServedMachine::from_scenario(with_beam().dump()).value();
  StandIn& truth = truth_of(*machine);
  const int ended = run_host_process(
      *machine,
      [](int socket) {
        link::Client client(std::make_unique<SocketLine>(socket));
        if (!client.open()) return 10;
        if (!home_over(client)) return 11;
        const std::string text = "G21 G90\n" + beam_on + "\nG91 G1 X200 F300\n" + beam_off + "\nM2\n";
        ProgramRun run;
        if (!run.start(client, text)) return 15;
        settle(client, [&] {
          run.tick();
          return run.state() != RunState::running;
        });
        return 0;
      },
      [&] { return truth.plant().beam_on(); });
  EXPECT_EQ(ended, 99) << "it was killed while the beam shone";
  EXPECT_EQ(truth.plant().flashes_of(1).size(), 1U);
  EXPECT_FALSE(truth.plant().beam_on());
}

/// Flashes from nothing upwards: how often the told U holds, and that no flash was much above what shows a dot before
/// one was seen.
TEST(BeamThreshold, IsToldFromFlashesFromNothingUpwards) {
#ifdef YPSI_SANITIZE
  constexpr int beams = 80, flashes = 30;
#else
  constexpr int beams = 400, flashes = 30;
#endif
  std::mt19937_64 random(20261128);
  std::size_t held = 0, told = 0;
  for (int n = 0; n < beams; ++n) {
    auto s = with_beam();
    const double threshold = std::uniform_real_distribution<double>(3, 25)(random);
    const double sigma = threshold * std::uniform_real_distribution<double>(0.03, 0.08)(random);
    s["seed"] = random() % 1'000'000;
    s["heads"][1]["pressure_through"] = {{"sigma", sigma}};
    s["heads"][1]["dot_threshold_percent"] = threshold;
    StandIn machine(read_scenario(s.dump()).value());
    ASSERT_TRUE(machine.link().home());
    for (int i = 0; i < 4000 && machine.link().status().state != MachineState::ready; ++i) machine.advance(0.05);
    Book book;
    book.machine.heads = {Head(), book_beam(40)};
    book.worksheets[trials_worksheet].head = "beam";
    double first_yes = 0;
    for (int i = 0; i < flashes; ++i) {
      const auto found = evaluate_trials(book);
      ASSERT_TRUE(found);
      const double level = found->next.level;
      ASSERT_LE(level, 40);
      BeamFlash flash;
      const auto ok = flash.start(machine.link(), book.machine.heads[1], level, 0.1, i % 2 == 0 ? 2 : -2);
      ASSERT_TRUE(ok) << ok.error().message;
      for (int k = 0; k < 400 && flash.running(); ++k) {
        machine.advance(0.02);
        flash.tick();
      }
      ASSERT_EQ(flash.phase(), Procedure::Phase::done) << flash.error().message;
      const auto seen = machine.bench().try_cut("beam", level);
      ASSERT_TRUE(seen);
      if (seen->through && first_yes == 0) first_yes = level;
      if (first_yes == 0) {
        ASSERT_LT(level, threshold + 4 * sigma);
      }
      book.worksheets[trials_worksheet].looks.push_back({level, seen->through, Backing::not_looked});
    }
    const auto found = evaluate_trials(book);
    ASSERT_TRUE(found && found->through && found->through->threshold);
    EXPECT_LT(first_yes, threshold + 4 * sigma + 40 * 0.05) << "a step too far before the first dot";
    const double U = found->through->U_threshold.value();
    held += std::fabs(*found->through->threshold - threshold) <= U ? 1 : 0;
    told += U <= 0.1 * threshold ? 1 : 0;
  }
  std::printf("    beam: held %.1f %%, told to a tenth %.1f %%\n", 100.0 * static_cast<double>(held) / beams,
              100.0 * static_cast<double>(told) / beams);
  EXPECT_GE(held, beams * 0.92);
  EXPECT_GE(told, beams * 0.9);
}

}  // namespace
}  // namespace ypsi::standin
