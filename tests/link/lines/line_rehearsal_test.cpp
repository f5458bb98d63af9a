// The whole order of work over a described line: every procedure, every reading, ending with a part that has its sizes.
// What the line cannot do is done by the owner's hands, who reads the cards.
#include "core/rehearsal/parts.h"
#include "core/rehearsal/rehearsal.h"
#include "core/tasks/all_tasks.h"
#include "lines_fixture.h"
#include "standin/true_part.h"

namespace ypsi::link {
namespace {

class OrderOfWork : public LinesTest, public ::testing::WithParamInterface<const char*> {
 protected:
  /// The owner: does at the machine what a card says, and tells what came of it.
  void do_cards() {
    while (const HandCard* card = link_->hands().card()) {
      HandAnswer answer;
      if (card->kind == HandCard::Kind::settings)
        for (const SettingChange& each : card->settings)
          if (!truth().controller().set_setting(each.name, each.value)) answer.not_taken.push_back(each.name);
      ++cards_;
      ASSERT_TRUE(link_->hands().answer(card->number, answer));
    }
  }
  void let_pass(double seconds) {
    for (double t = 0; t < seconds - 1e-9; t += 0.01 * line_->machine_speed) {
      line_->pass(0.01);
      link_->poll();
      if (link_->status().state == MachineState::ready) {
        for (const Axis a : all_axes)
          ASSERT_NEAR(link_->status().position[a], counted()[a], 0.001)
              << letter(a) << " at " << line_->now_s() << link_->talk().log().lines().back().readable();
      }
      if (truth().controller().status().state == MachineState::ready ||
          truth().controller().status().state == MachineState::not_homed)
        do_cards();
    }
  }
  int cards_ = 0;
};
#ifdef YPSI_SANITIZE
INSTANTIATE_TEST_SUITE_P(Lines, OrderOfWork, ::testing::Values("asked"), face_name);
#else
INSTANTIATE_TEST_SUITE_P(Lines, OrderOfWork, ::testing::Values("asked", "telling"), face_name);
#endif

TEST_P(OrderOfWork, IsDoneOverTheLine) {
  start(GetParam());
  line_->machine_speed = 1;
  Workshop workshop(
      *link_, machine_->bench(), [this](double seconds) { let_pass(seconds); },
      starting_book(*link_, nullptr, machine_->known()));
  const Rehearsal done = rehearse(workshop, rehearsal_steps());
  if (!done.completed) {
    std::string said;
    for (const LoggedLine& line : link_->talk().log().lines())
      if (line.at_s > line_->now_s() - 20) said += (line.from_controller ? "  > " : "< ") + line.readable() + "\n";
    for (const std::string& problem : done.problems) said += problem + "\n";
    ADD_FAILURE() << truth().controller().status().message << "\n"
                  << said.substr(said.size() > 3000 ? said.size() - 3000 : 0);
  }
  ASSERT_TRUE(done.completed) << (done.sheets.empty() ? ""
                                                      : done.sheets.back().sheet + ": " + done.sheets.back().verdict);
  const standin::Scenario& truly = truth().scenario();
  for (const Axis a : all_axes) {
    const RehearsedAxis& axis = done.axes[index(a)];
    ASSERT_TRUE(axis.steps_per_mm && axis.U_steps) << letter(a);
    EXPECT_NEAR(*axis.steps_per_mm, truly.axes[index(a)].true_steps_per_mm, 1.5 * *axis.U_steps) << letter(a);
  }
  line_->machine_speed = 1;
  const Tool* cutter = workshop.book.tool(link_->status().tool);
  const auto part = standin::true_part(workshop, *machine_, cutter ? cutter->diameter : 0);
  ASSERT_TRUE(part) << part.error().message;
  EXPECT_LT(part->worst_size, 0.15);
  EXPECT_LT(part->worst_square, 0.2);
}

}  // namespace
}  // namespace ypsi::link
