// Speeds as ratios in one run: scripts/bench prints them as a table.
#include <benchmark/benchmark.h>
#include <fmt/format.h>

#include <charconv>
#include <cmath>
#include <cstring>

#include "core/calibration/scale.h"
#include "core/motion/planner.h"
#include "core/program/interpreter.h"

namespace {

using namespace ypsi;

/// A million lines, about 30 MB: a relief in short moves with a full circle now and then.
const std::string& program_text() {
  static const std::string text = [] {
    std::string out = "G21 G90 G17 F1500\nT1 M6\nS18000 M3\nG0 Z5\n";
    out.reserve(34'000'000);
    for (int i = 4; i < 1'000'000; ++i) {
      const double a = i * 0.0007, x = 250 + 200 * std::cos(a) * std::cos(a * 0.013), y = 250 + 200 * std::sin(a);
      if (i % 50 == 49)
        out += "G3 I2.0000 J0.0000 F1500.0000\n";
      else
        out += fmt::format("G1 X{:.4f} Y{:.4f} Z{:.4f}\n", x, y, -1 - std::sin(a * 3));
    }
    return out;
  }();
  return text;
}

void split_lines_and_numbers(benchmark::State& state) {
  const std::string& text = program_text();
  for (auto _ : state) {
    double sum = 0;
    std::size_t lines = 0;
    for (std::size_t at = 0; at < text.size(); ++lines) {
      const void* found = std::memchr(text.data() + at, '\n', text.size() - at);
      const char* end = found ? static_cast<const char*>(found) : text.data() + text.size();
      for (const char* p = text.data() + at; p < end;) {
        double value = 0;
        const auto r = std::from_chars(p, end, value);
        if (r.ec == std::errc{})
          sum += value, p = r.ptr;
        else
          ++p;
      }
      at = static_cast<std::size_t>(end - text.data()) + 1;
    }
    benchmark::DoNotOptimize(sum);
    state.counters["lines"] = static_cast<double>(lines);
  }
}
BENCHMARK(split_lines_and_numbers)->Unit(benchmark::kMillisecond);

void read_interpret_and_measure(benchmark::State& state) {
  const std::string& text = program_text();
  for (auto _ : state) {
    const auto program = read_program(text);
    if (!program) return state.SkipWithError(program.error().message.c_str());
    const double bytes =
        static_cast<double>(program->motions.capacity() * sizeof(Motion) + program->arcs.capacity() * sizeof(Arc) +
                            program->events.capacity() * sizeof(Event));
    state.counters["lines"] = program->lines;
    state.counters["bytes_a_motion"] = bytes / static_cast<double>(program->motions.size());
    state.counters["megabytes"] = static_cast<double>(text.size()) / 1e6;
    benchmark::DoNotOptimize(program->cut);
  }
}
BENCHMARK(read_interpret_and_measure)->Unit(benchmark::kMillisecond);

void estimate_the_time(benchmark::State& state) {
  static const Program program = read_program(program_text()).value();
  const Kinematics k{{{100, 400}, {100, 400}, {25, 200}}};
  for (auto _ : state) benchmark::DoNotOptimize(estimate_time(program, k).total_s);
}
BENCHMARK(estimate_the_time)->Unit(benchmark::kMillisecond);

void fit_five_readings(benchmark::State& state) {
  ScaleInput in;
  in.current_steps = 80;
  in.instrument = {"ruler", 0.5, 2, 0.15, 0.0, 0.00005};
  in.readings = {{700, 696.5}, {500, 497.5}, {300, 299}, {700, 697}, {600, 597, true}};
  for (auto _ : state) benchmark::DoNotOptimize(fit_scale(in));
}
BENCHMARK(fit_five_readings)->Unit(benchmark::kMicrosecond);

}  // namespace

BENCHMARK_MAIN();
