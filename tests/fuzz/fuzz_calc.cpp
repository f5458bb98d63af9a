// Feeds mutated JSON to every calculation. A finding is a crash, a sanitizer's report,
// an answer that is not JSON or holds a number that is not finite, or an error without a code of the contract.
#include <chrono>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <set>
#include <sstream>

#include "cli/calc.h"
#include "fuzz/door.h"
#include "json_mutator.h"

namespace ypsi {
namespace fuzz_calc {
namespace {

using nlohmann::json;

const std::set<std::string> codes{"not_json",     "missing", "wrong_type", "not_finite",
                                  "out_of_range", "too_few", "degenerate"};

bool all_finite(const json& value) {
  if (value.is_number_float()) return std::isfinite(value.get<double>());
  if (value.is_structured())
    for (const auto& item : value)
      if (!all_finite(item)) return false;
  return true;
}

bool sound(const cli::Calculation& calculation, const std::string& text) {
  const auto out = cli::calculate(calculation, text);
  if (!out) return codes.contains(out.error().code) && !out.error().message.empty();
  return all_finite(*out) && out->is_object();
}

int run(double seconds, std::uint64_t seed) {
  std::vector<std::pair<const cli::Calculation*, json>> seeds;
  for (const auto& c : cli::calculations()) seeds.emplace_back(&c, json::parse(c.example));
  for (const auto& entry : std::filesystem::directory_iterator(std::string(YPSI_TEST_DATA) + "/examples")) {
    const std::string stem = entry.path().stem().string(), name = stem.substr(0, stem.rfind('-'));
    std::ifstream file(entry.path());
    const json example = json::parse(file);
    for (const auto& c : cli::calculations())
      if (name == c.name) seeds.emplace_back(&c, example["in"]);
  }
  fuzz::Mutator mutate(seed);
  long tried = 0;
  const auto end = std::chrono::steady_clock::now() + std::chrono::duration<double>(seconds);
  while (std::chrono::steady_clock::now() < end)
    for (int i = 0; i < 200; ++i, ++tried) {
      const auto& [calculation, start] = seeds[mutate.below(seeds.size())];
      json document = start;
      for (std::size_t n = 1 + mutate.below(4); n > 0; --n) mutate.change(document);
      std::string text = document.dump();
      if (mutate.below(6) == 0) mutate.corrupt(text);
      if (!sound(*calculation, text)) {
        std::printf("finding in %s:\n%s\n", calculation->name, text.c_str());
        return 1;
      }
    }
  std::printf("%ld inputs to %zu calculations, no finding\n", tried, cli::calculations().size());
  return 0;
}

const fuzz::Door door("calc", run);

}  // namespace
}  // namespace fuzz_calc
}  // namespace ypsi
