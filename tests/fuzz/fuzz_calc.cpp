// Feeds mutated JSON to every calculation. Usage: fuzz_calc SECONDS [SEED]. A finding is a crash, a sanitizer's report,
// an answer that is not JSON or holds a number that is not finite, or an error without a code of the contract.
#include <chrono>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <random>
#include <set>
#include <sstream>

#include "cli/calc.h"

namespace {

using namespace ypsi;
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

class Mutator {
 public:
  explicit Mutator(std::uint64_t seed) : random_(seed) {}
  std::size_t below(std::size_t n) { return static_cast<std::size_t>(random_() % n); }

  /// Changes one value somewhere in the document: to an edge number, another type, nothing, twice itself.
  void change(json& value) {
    json* at = &value;
    while (at->is_structured() && !at->empty() && below(8) != 0) {
      auto it = at->begin();
      std::advance(it, static_cast<std::ptrdiff_t>(below(at->size())));
      if (below(24) == 0) {
        at->erase(it);
        return;
      }
      if (at->is_array() && below(12) == 0) {
        const json copy = *it;
        at->push_back(copy);
        return;
      }
      at = &*it;
    }
    static const json edges[] = {0,
                                 -1,
                                 1e-9,
                                 1e9,
                                 1e308,
                                 -1e308,
                                 5e-324,
                                 1e-300,
                                 1e300,
                                 0.1,
                                 3,
                                 json(),
                                 true,
                                 "X",
                                 "min",
                                 json::array(),
                                 json::object(),
                                 "outer",
                                 1e16,
                                 -0.0,
                                 2.5,
                                 90,
                                 180,
                                 "reversed",
                                 1e-17,
                                 "",
                                 json::array({1}),
                                 100};
    if (at->is_number() && below(2) == 0) {
      *at = at->get<double>() * std::pow(10, static_cast<double>(below(40)) - 20);
    } else {
      *at = edges[below(std::size(edges))];
    }
  }
  void corrupt(std::string& text) {
    for (std::size_t n = 1 + below(4); n > 0 && !text.empty(); --n) {
      const std::size_t at = below(text.size());
      switch (below(3)) {
        case 0:
          text[at] = static_cast<char>(random_());
          break;
        case 1:
          text.erase(at, 1 + below(5));
          break;
        default:
          text.insert(at, text.substr(below(text.size()), below(9)));
      }
    }
  }

 private:
  std::mt19937_64 random_;
};

bool sound(const cli::Calculation& calculation, const std::string& text) {
  const auto out = cli::calculate(calculation, text);
  if (!out) return codes.contains(out.error().code) && !out.error().message.empty();
  return all_finite(*out) && out->is_object();
}

}  // namespace

int main(int argc, char** argv) {
  const double seconds = argc > 1 ? std::atof(argv[1]) : 1;
  const std::uint64_t seed = argc > 2 ? std::strtoull(argv[2], nullptr, 10) : 1;
  std::vector<std::pair<const cli::Calculation*, json>> seeds;
  for (const auto& c : cli::calculations()) seeds.emplace_back(&c, json::parse(c.example));
  for (const auto& entry : std::filesystem::directory_iterator(std::string(YPSI_TEST_DATA) + "/examples")) {
    const std::string stem = entry.path().stem().string(), name = stem.substr(0, stem.rfind('-'));
    std::ifstream file(entry.path());
    const json example = json::parse(file);
    for (const auto& c : cli::calculations())
      if (name == c.name) seeds.emplace_back(&c, example["in"]);
  }
  Mutator mutate(seed);
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
