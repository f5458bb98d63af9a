#pragma once
// Changes good JSON here and there, the same way for the same seed.
#include <cmath>
#include <nlohmann/json.hpp>
#include <random>
#include <string>

namespace ypsi::fuzz {

class Mutator {
 public:
  explicit Mutator(std::uint64_t seed) : random_(seed) {}
  std::size_t below(std::size_t n) { return static_cast<std::size_t>(random_() % n); }

  /// Changes one value somewhere in the document: to an edge number, another type, nothing, twice itself.
  void change(nlohmann::json& value) {
    nlohmann::json* at = &value;
    while (at->is_structured() && !at->empty() && below(8) != 0) {
      auto it = at->begin();
      std::advance(it, static_cast<std::ptrdiff_t>(below(at->size())));
      if (below(24) == 0) {
        at->erase(it);
        return;
      }
      if (at->is_array() && below(12) == 0) {
        const nlohmann::json copy = *it;
        at->push_back(copy);
        return;
      }
      at = &*it;
    }
    static const nlohmann::json edges[] = {0,
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
                                           nlohmann::json(),
                                           true,
                                           "X",
                                           "min",
                                           nlohmann::json::array(),
                                           nlohmann::json::object(),
                                           "outer",
                                           1e16,
                                           -0.0,
                                           2.5,
                                           90,
                                           180,
                                           "reversed",
                                           1e-17,
                                           "",
                                           nlohmann::json::array({1}),
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

}  // namespace ypsi::fuzz
