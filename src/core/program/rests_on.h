#pragma once
// What a program that was made of a drawing rests on: said in a remark of it, so that whoever checks it later knows
// whether it is still that.
#include <optional>
#include <string>
#include <string_view>

#include "core/program/program.h"

namespace ypsi {

struct RestsOn {
  std::string drawing;      ///< its file's name, without brackets
  std::string drawing_sum;  ///< checksum of its bytes; empty: not known
  std::string acts_sum;     ///< of what is done with each layer, and of the heads and tools that do it
};

/// "rests on cbf43926 of gnomon-case.dxf and 0a1b2c3d of what is done".
std::string remark_of(const RestsOn& basis);
/// What such a remark says; none where it is another.
std::optional<RestsOn> rests_on(std::string_view remark);
/// The first such remark of a program; none where there is none.
std::optional<RestsOn> rests_on(const Program& program);

/// A remark must not end in its middle: without brackets and line ends.
std::string plain_words(std::string words);

}  // namespace ypsi
