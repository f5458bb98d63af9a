#pragma once
// How the stand-in looks from outside where it does not speak the project's own link: three made-up controllers that
// take G-code a line at a time, each in its own way. They were written apart from their descriptions in
// data/controllers.
#include <memory>
#include <string>
#include <string_view>

#include "standin/controller.h"

namespace ypsi::standin {

class Face {
 public:
  virtual ~Face() = default;
  virtual void receive(std::string_view bytes) = 0;
  virtual std::string take_output() = 0;
  void poll(double now_s) {
    now_s_ = now_s;
    work();
  }
  /// Whether a line that it says answers one that it heard.
  virtual bool is_answer(std::string_view line) const = 0;
  virtual void started_again() = 0;  ///< the controller was without power for a moment
  /// Whatever comes within the next second finds no room.
  void fill_up() { full_until_s_ = now_s_ + full_for_s; }

 protected:
  virtual void work() = 0;
  double now_s() const { return now_s_; }
  bool is_full() const { return now_s_ < full_until_s_; }

 private:
  static constexpr double full_for_s = 1;
  double now_s_ = 0, full_until_s_ = -1;
};

/// "bare", "asked", "telling"; null for any other name.
std::unique_ptr<Face> make_face(std::string_view name, Controller& controller);
std::unique_ptr<Face> bare_face(Controller& controller);
std::unique_ptr<Face> asked_face(Controller& controller);
std::unique_ptr<Face> telling_face(Controller& controller);

}  // namespace ypsi::standin
