// A host that is killed while it cuts, in truth: a process of its own gets SIGKILL at a chance moment; another one
// homes, reads what the first has left of its progress, and resumes. The part must be the one of an uninterrupted job.
#include <fcntl.h>

#include <filesystem>
#include <random>

#include "core/program/progress.h"
#include "core/program/resume.h"
#include "standin/host_process.h"
#include "standin/standin_fixture.h"
#include "standin/truth.h"

namespace ypsi::standin {
namespace {

#ifdef YPSI_SANITIZE
constexpr int kills = 10;
#else
constexpr int kills = 50;
#endif
constexpr double safe_machine_z = -60, close_mm = 0.02;
const WorkZero stock_zero{200, 140, -92};  // two millimetres down in the stock's top

/// Pockets with a ramp, arcs, increments and a cycle: modes that a resume must bring back.
const std::string job =
    "#1=4\nG21 G90 G17\nS12000 M3\nG0 Z8\nG0 X20 Y20\nG1 Z-1 F400\nG1 X60 F1500\nG1 Y50\nG1 X20\nG1 Y20\nG1 X40 Y35 "
    "Z-2\n"
    "G0 Z5\nG0 X90 Y30\nG1 Z-1.5 F400\nG2 X90 Y30 I10 J0 F1200\nG91\nG1 X5\nG3 X10 Y10 I0 J10\nG1 X-3 Y4\nG90\nG0 Z5\n"
    "G99 G81 X30 Y70 Z-[#1/2] R2 F300\nX45\nX60\nG80\nG0 Z6\nG20\nG0 X3.2 Y2.8\nG1 Z-.04 F20\nX4 Y3.2\nG21\nG0 Z8\n"
    "G0 X20 Y90\nG1 Z-1 F400\nG1 X100 F1500\nG1 Y100\nG1 X20\nG0 Z10\nM5\nM30\n";

ReadSetting setting() {
  ReadSetting s;
  s.frames.zeros[0] = stock_zero;
  return s;
}

/// What a host does in its process: connects, homes, begins or resumes, and writes down how far it is.
int be_the_host(int socket, const std::string& progress_file) {
  link::Client client(std::make_unique<SocketLine>(socket));
  if (!client.open()) return 10;
  if (!home_over(client)) return 11;
  for (const Axis a : all_axes)
    if (!client.set_work_zero(a, stock_zero[a])) return 12;
  std::ifstream left(progress_file, std::ios::binary);
  std::stringstream bytes;
  bytes << left.rdbuf();
  const auto progress = read_progress(bytes.str());
  std::uint32_t first = 1;
  std::vector<std::string> lead_in;
  if (progress && progress->line > 0) {
    const auto plan = plan_resume(job, progress->line, safe_machine_z - stock_zero.z, setting(), client.status().tool);
    if (!plan) return 13;
    first = plan->line;
    lead_in = plan->lead_in;
  }
  const int file = ::open(progress_file.c_str(), O_WRONLY | O_CREAT | O_APPEND, 0600);
  const auto write_down = [&](const std::string& line) { return ::write(file, line.data(), line.size()) > 0; };
  if (!progress && !write_down(progress_begins("job.ngc", job))) return 14;
  ProgramRun run;
  if (!run.start(client, job, first, lead_in)) return 15;
  std::uint32_t told = 0;
  while (run.state() == RunState::running) {
    client.poll();
    run.tick();
    if (run.line_in_hand() != told && run.line_in_hand() >= first)
      (void)write_down(progress_line(told = run.line_in_hand()));
    ::usleep(100);
  }
  if (run.state() != RunState::finished) std::fprintf(stderr, "line %u: %s\n", run.line_in_hand(), run.why().c_str());
  return run.state() == RunState::finished ? 0 : 16;
}

int run_host(ServedMachine& machine, const std::string& progress_file, double kill_after_s) {
  double cutting = 0;
  return run_host_process(
      machine, [&](int socket) { return be_the_host(socket, progress_file); },
      [&] {
        if (truth_of(machine).link().status().state == MachineState::cutting) cutting += host_tick_s;
        return kill_after_s > 0 && cutting >= kill_after_s;
      });
}

std::unique_ptr<ServedMachine> machine_of(std::uint64_t seed) {
  std::ifstream file(std::string(YPSI_DEMO_DATA) + "/oriel.scenario.json");
  auto s = nlohmann::json::parse(file);
  s["seed"] = seed;
  for (const char* axis : {"X", "Y"}) s["axes"][axis]["lost_motion_mm"] = 0.08;
  for (const char* axis : {"X", "Y", "Z"}) s["axes"][axis]["switch"]["s_mm"] = 0.001;
  return ServedMachine::from_scenario(s.dump()).value();
}

/// How deep it is all over the part, and where the edges are along lines across it.
struct Part {
  std::vector<double> floors;
  std::vector<std::vector<Interval>> gaps;
};
Part part_of(ServedMachine& machine, double aside = 0) {
  Part part;
  const auto sweeps = truth_of(machine).plant().cut().sweeps();
  const double level = truth_of(machine).plant().stock_top(50, 50) - 0.7;
  for (double u = 10; u < 190; u += 2.5)
    for (double v = 10; v < 160; v += 2.5) part.floors.push_back(floor_at(sweeps, u, v, 0));
  for (double v = 30.3; v < 150; v += 5) part.gaps.push_back(gaps_along(sweeps, {0, v + aside}, {1, 0}, level));
  for (double u = 30.3; u < 180; u += 5) part.gaps.push_back(gaps_along(sweeps, {u + aside, 0}, {0, 1}, level));
  return part;
}

TEST(KilledHost, LeavesAPartThatAResumeMakesWhole) {
  const std::string folder = std::filesystem::temp_directory_path() / ("ypsi-killed-" + std::to_string(::getpid()));
  std::filesystem::create_directory(folder);
  // A computer that is busy may leave a host without its line: then the whole is cut once more.
  auto whole = machine_of(1);
  for (int i = 0; run_host(*whole, folder + "/whole" + std::to_string(i), 0) != 0; ++i) {
    ASSERT_LT(i, 5);
    whole = machine_of(1);
  }
  // An edge that runs almost along a line moves far on it when it moves a little: so each is looked at on the lines
  // beside it too.
  const Part wanted = part_of(*whole), before = part_of(*whole, -close_mm), after_it = part_of(*whole, close_mm);
  std::size_t edges = 0;
  for (const auto& g : wanted.gaps) edges += g.size();
  ASSERT_GT(edges, 40u);
  std::mt19937 random(17);
  std::uniform_real_distribution<double> moment(0.3, 24);
  int ended = 0;
  std::size_t compared = 0;
  for (int i = 0; i < kills; ++i) {
    auto machine = machine_of(1);
    const std::string file = folder + "/" + std::to_string(i);
    const double after = moment(random);
    const int first = run_host(*machine, file, after);
    ended += first == 0 ? 1 : 0;
    // The same for a host that lost its line: what it left is gone on with like what a killed one left.
    int left = first;
    for (int again = 0; left != 0 && again < 5; ++again) left = run_host(*machine, file, 0);
    ASSERT_EQ(left, 0) << "killed after " << after << ": " << first;
    const Part part = part_of(*machine);
    ASSERT_EQ(part.floors.size(), wanted.floors.size());
    for (std::size_t k = 0; k < part.floors.size(); ++k)
      // Where a place is cut at all may hang on less than the edges' tolerance.
      if ((part.floors[k] == 0) == (wanted.floors[k] == 0)) {
        ASSERT_NEAR(part.floors[k], wanted.floors[k], close_mm) << "killed after " << after << ", place " << k;
      }
    for (std::size_t k = 0; k < part.gaps.size(); ++k) {
      ASSERT_EQ(part.gaps[k].size(), wanted.gaps[k].size()) << "killed after " << after << ", line " << k;
      if (before.gaps[k].size() != wanted.gaps[k].size() || after_it.gaps[k].size() != wanted.gaps[k].size()) continue;
      for (std::size_t g = 0; g < part.gaps[k].size(); ++g)
        for (double Interval::*edge : {&Interval::low, &Interval::high}) {
          const auto [low, high] =
              std::minmax({wanted.gaps[k][g].*edge, before.gaps[k][g].*edge, after_it.gaps[k][g].*edge});
          ASSERT_GE(part.gaps[k][g].*edge, low - close_mm) << "killed after " << after << ", line " << k;
          ASSERT_LE(part.gaps[k][g].*edge, high + close_mm) << "killed after " << after << ", line " << k;
          ++compared;
        }
    }
  }
  EXPECT_GT(compared, kills * 60u);
  EXPECT_LE(ended, kills / 10) << "the moments lie within the job";
  std::filesystem::remove_all(folder);
}

}  // namespace
}  // namespace ypsi::standin
