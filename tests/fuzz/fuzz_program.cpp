// Feeds changed programs to their reader, their check's and their copy's doors. A finding is a crash, a sanitizer's
// report, a hang (a text of a few lines that takes a second), an error without code or sentence, or a place that is no
// number.
#include <chrono>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <random>
#include <sstream>

#include "core/motion/planner.h"
#include "core/program/checks.h"
#include "core/program/corrected_copy.h"
#include "core/program/resume.h"
#include "fuzz/door.h"
#include "fuzz/text_mutator.h"

namespace ypsi {
namespace fuzz_program {
namespace {

std::vector<std::string> seeds() {
  std::vector<std::string> all;
  for (const auto& entry : std::filesystem::directory_iterator(std::string(YPSI_TEST_DATA) + "/programs"))
    if (entry.path().extension() == ".ngc") {
      std::ifstream file(entry.path(), std::ios::binary);
      std::stringstream text;
      text << file.rdbuf();
      all.push_back(text.str());
    }
  std::sort(all.begin(), all.end());
  return all;
}

/// Something to meet everywhere: a stock, a clamp, tools of several shapes and lengths.
Book bench() {
  Book book;
  for (const Axis a : all_axes) {
    book.machine.axis(a).soft_min = a == Axis::z ? -100 : 0;
    book.machine.axis(a).soft_max = a == Axis::z ? 0 : 800;
  }
  for (int n = 1; n <= 3; ++n) {
    Tool t;
    t.number = n;
    t.kind = n == 1 ? "flat" : n == 2 ? "ball" : "engraver";
    t.diameter = 6;
    t.angle = n == 3 ? 60 : 0;
    t.length_out = 20;
    t.max_plunge = 100;
    t.offset = n;
    book.tools.push_back(t);
  }
  book.machine.spindle.nut_diameter = 30;
  book.job.stock_size = {60, 40, 10};
  book.job.frames[0] = {"", 100, 100, -50, false, 1};
  book.job.clamps = {{"left", 90, 110, 20, 20, 15}};
  return book;
}

int run(double seconds, std::uint64_t seed) {
  std::mt19937_64 random(seed);
  const auto programs = seeds();
  const auto now = [] { return std::chrono::steady_clock::now(); };
  const auto begin = now();
  const std::vector<std::string_view> pieces = {
      "G81",         "G83", "G2",  "G3",     "G18",       "G19", "G91",    "G20", "G92",    "G10 L20 P0",
      "G28",         "G53", "G93", "G90.1",  "X1",        "Y-2", "Z3",     "I4",  "J-5",    "K6",
      "R7",          "Q.1", "L99", "P2",     "#1",        "=",   "[",      "]",   "**",     "SIN[",
      "#<a>",        "M6",  "T2",  "F9",     "S1",        "(",   ")",      ";",   "\n",     "1e9",
      "-",           "%",   "/",   "999999", "0.0000001", "O1",  "M98 P1", "M99", "o1 sub", "o1 endsub",
      "o1 call [3]", "A0",  "G64", "G43 H2", "G49",       "\r",  "\x1a",   "M30", "T3 M6"};
  TextMutator mutator(random, {.pieces = pieces, .behind = " "});
  const auto below = [&](std::size_t n) { return mutator.below(n); };
  const Book book = bench();
  std::size_t read = 0, taken = 0;
  while (std::chrono::duration<double>(now() - begin).count() < seconds) {
    std::string text = programs[below(programs.size())] + programs[below(programs.size())];
    mutator.change(text);
    const auto start = now();
    const auto program = read_program(text);
    ++read;
    if (!program) {
      if (program.error().code.empty() || program.error().message.empty())
        return std::fprintf(stderr, "refused without words: %s\n", text.c_str()), 1;
    } else {
      ++taken;
      for (const Motion& m : program->motions)
        for (const Axis a : all_axes)
          if (!std::isfinite(m.end[a])) return std::fprintf(stderr, "no number: %s\n", text.c_str()), 1;
      Kinematics kinematics;
      if (const auto time = estimate_time(*program, kinematics); !(time.total_s >= 0))
        return std::fprintf(stderr, "no time: %s\n", text.c_str()), 1;
      CheckSetting setting;
      setting.tool = 1;
      for (const Finding& f : check_program(*program, book, setting))
        if (f.code.empty() || f.message.empty() || (f.at && !std::isfinite(f.at->z)))
          return std::fprintf(stderr, "a finding without words or place: %s\n", text.c_str()), 1;
      if (const auto copy = turned_copy(text, 0.01, 0.01); copy && copy->program.cut.empty() != program->cut.empty())
        return std::fwrite(text.data(), 1, text.size(), stderr), std::fprintf(stderr, "\na copy without its cuts\n"), 1;
      (void)plan_resume(text, 1 + static_cast<std::uint32_t>(below(6)), 20);
    }
    if (std::chrono::duration<double>(now() - start).count() > 5)
      return std::fprintf(stderr, "took too long: %s\n", text.c_str()), 1;
  }
  std::printf("%zu programs, %zu taken\n", read, taken);
  return taken > 0 ? 0 : 1;
}

const fuzz::Door door("program", run);

}  // namespace
}  // namespace fuzz_program
}  // namespace ypsi
