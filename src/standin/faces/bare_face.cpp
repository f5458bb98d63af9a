// `bare`: answers a block once it is done, "so", or "not so" with a reason; tells nothing else, and takes nothing that
// interrupts. Asked who, it says so.
#include <deque>
#include <optional>

#include "standin/faces/block_runner.h"
#include "standin/faces/face.h"

namespace ypsi::standin {
namespace bare {
namespace {

constexpr std::size_t longest = 120, holds = 4;
constexpr const char* who = "bare bench, ready to work\n";
constexpr std::string_view home_word = "M860";

class BareFace final : public Face {
 public:
  explicit BareFace(Controller& controller) : runner_(controller) { out_ = who; }

  void receive(std::string_view bytes) override {
    for (const char c : bytes) {
      if (c != '\n') {
        if (line_.size() < longest) line_ += c;
        continue;
      }
      if (line_ == "who")
        out_ += who;
      else if (!is_full() && lines_.size() < holds)
        lines_.push_back(line_);
      line_.clear();
    }
  }
  std::string take_output() override { return std::exchange(out_, {}); }
  bool is_answer(std::string_view line) const override { return line.starts_with("so") || line.starts_with("not so"); }
  void started_again() override {
    lines_.clear();
    under_way_ = false;
    runner_.started_again();
    out_ += who;
  }

  void work() override {
    if (under_way_) {
      if (!runner_.idle()) return;
      under_way_ = false;
      if (auto refusal = runner_.take_refusal())
        answer_not(refusal->message);
      else
        out_ += "so\n";
    }
    if (lines_.empty()) return;
    const auto taken = lines_.front() == home_word ? runner_.home() : runner_.take(lines_.front());
    if (!taken && taken.error().code == "full") return;
    lines_.pop_front();
    if (taken)
      under_way_ = true;
    else
      answer_not(taken.error().message);
  }

 private:
  void answer_not(const std::string& why) { out_ += "not so, " + why + "\n"; }

  BlockRunner runner_;
  std::string line_, out_;
  std::deque<std::string> lines_;
  bool under_way_ = false;
};

}  // namespace
}  // namespace bare

std::unique_ptr<Face> bare_face(Controller& controller) {
  return std::make_unique<bare::BareFace>(controller);
}

}  // namespace ypsi::standin
