#include "core/program/rests_on.h"

namespace ypsi {
namespace {

constexpr std::string_view remark_begins = "rests on ", before_name = " of ", after_name = " and ",
                           remark_ends = " of what is done";
constexpr std::size_t sum_digits = 8;

std::optional<std::string> sum_at(std::string_view text) {
  const std::string_view sum = text.substr(0, sum_digits);
  if (sum.size() != sum_digits || sum.find_first_not_of("0123456789abcdef") != std::string_view::npos)
    return std::nullopt;
  return std::string(sum);
}

}  // namespace

std::optional<RestsOn> rests_on(std::string_view text) {
  if (!text.starts_with(remark_begins) || !text.ends_with(remark_ends)) return std::nullopt;
  text.remove_prefix(remark_begins.size());
  text.remove_suffix(remark_ends.size());
  const auto drawing = sum_at(text);
  if (!drawing || !text.substr(sum_digits).starts_with(before_name)) return std::nullopt;
  text.remove_prefix(sum_digits + before_name.size());
  if (text.size() < after_name.size() + sum_digits) return std::nullopt;
  const std::string_view tail = text.substr(text.size() - after_name.size() - sum_digits);
  const auto acts = sum_at(tail.substr(after_name.size()));
  if (!tail.starts_with(after_name) || !acts) return std::nullopt;
  return RestsOn{std::string(text.substr(0, text.size() - tail.size())), *drawing, *acts};
}

std::string remark_of(const RestsOn& basis) {
  std::string remark(remark_begins);
  remark.append(basis.drawing_sum).append(before_name).append(plain_words(basis.drawing));
  return remark.append(after_name).append(basis.acts_sum).append(remark_ends);
}

std::optional<RestsOn> rests_on(const Program& program) {
  for (const Comment& c : program.comments)
    if (auto basis = rests_on(c.text)) return basis;
  return std::nullopt;
}

std::string plain_words(std::string words) {
  std::erase_if(words, [](char c) { return c == '(' || c == ')' || c == '\n'; });
  return words;
}

}  // namespace ypsi
