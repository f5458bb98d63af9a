#pragma once
// Changes texts at random for the fuzzers: pieces put in, bytes turned, stretches cut out or said twice.
#include <random>
#include <string>
#include <string_view>
#include <vector>

class TextMutator {
 public:
  struct Setting {
    std::vector<std::string_view> pieces;
    std::string_view behind{};  ///< a piece
    std::size_t most_changes = 6, longest_cut = 8, longest_twice = 40;
  };
  TextMutator(std::mt19937_64& random, Setting setting) : random_(random), s_(std::move(setting)) {}

  std::size_t below(std::size_t n) { return n == 0 ? 0 : static_cast<std::size_t>(random_() % n); }
  void change(std::string& text) {
    for (auto n = 1 + below(s_.most_changes); n-- > 0;) {
      const std::size_t at = below(text.size() + 1);
      switch (below(4)) {
        case 0:
          text.insert(at, std::string(s_.pieces[below(s_.pieces.size())]) + std::string(s_.behind));
          break;
        case 1:
          if (at < text.size()) text[at] = static_cast<char>(random_());
          break;
        case 2:
          text.erase(at, below(s_.longest_cut));
          break;
        default:
          text.insert(at, text.substr(below(text.size() + 1), below(s_.longest_twice)));
      }
    }
  }

 private:
  std::mt19937_64& random_;
  Setting s_;
};
