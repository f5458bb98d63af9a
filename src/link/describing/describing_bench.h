#pragma once
// Where a description is written at the machine itself: the line is talked to by hand, what it says is given a meaning,
// each part is tried. Nothing is sent but what its owner sends or tries.
#include <memory>
#include <optional>
#include <string>

#include "link/describing/example.h"
#include "link/describing/part_try.h"
#include "link/lines/line_log.h"

namespace ypsi::link {

class DescribingBench {
 public:
  /// `known`: what the machine's book says of it, for tries that move. `draft`: what is written, which is its owner's
  /// and is there without a line as well.
  DescribingBench(std::unique_ptr<Transport> transport, HandMemory known, std::shared_ptr<ControllerDescription> draft);

  Result<void> begin() { return line_.open(); }
  /// True once the line is open, false while it may yet be. Error: `offline` with why not.
  Result<bool> opened() { return line_.opened(); }
  void poll();
  const LineLog& log() const { return line_.log(); }
  const Transport& line() const { return line_; }

  ControllerDescription& draft() { return *draft_; }
  const ControllerDescription& draft() const { return *draft_; }

  /// A line with its end. Error: `offline`, `busy` while something is tried.
  Result<void> say(const std::string& text);
  /// "1b 5a". Errors: also `out_of_range`.
  Result<void> say_bytes(const std::string& hexadecimal);

  /// What a line of the log means: the pattern of `part` is made from it. Error: `out_of_range` for a part that has
  /// none.
  Result<void> learn(Part part, const std::string& line, const std::vector<Mark>& marks);
  /// The answer to a setting's `get`, from what came back: its last number is the value, with the digits it has there.
  /// Error: `missing` where there is no number.
  Result<void> learn_setting(const std::string& name, const std::string& line);
  /// What came since it was last said something, without reports and answers that are described; the newest last.
  std::vector<std::string> came_since_said() const;

  /// Errors: `busy`, `offline`, `out_of_range` for what cannot be tried.
  Result<void> begin_try(Part part);
  bool trying() const { return try_ && !try_->found(); }
  /// Of the try before; none while one goes on.
  std::optional<TryFound> found() const { return try_ ? try_->found() : std::nullopt; }
  void give_up_try();

 private:
  Result<void> may_speak() const;

  LoggedTransport line_;
  HandMemory known_;
  std::shared_ptr<ControllerDescription> draft_;
  std::unique_ptr<PartTry> try_;
};

}  // namespace ypsi::link
