// A program, block after block: read here as well, so that places, limits and the line in hand are known.
#include <fmt/format.h>

#include <algorithm>
#include <utility>

#include "core/program/arc.h"
#include "core/program/own_blocks.h"
#include "link/known_machine.h"
#include "link/lines/line_link.h"

namespace ypsi::link {
namespace {

constexpr std::size_t most_waiting = 16;  // blocks that are not sent yet
constexpr double chord_mm = 0.02, chord_of_way_mm = 0.1;
constexpr std::size_t sure_reports = 3;  // that it stands, and not where it should

/// "G2", "M6" as they are written in a description, of every G and M word of a block.
std::vector<std::string> words_of(std::string_view block, std::uint32_t tag) {
  LineReader reader;
  std::vector<std::string> words;
  const auto read = reader.read(block, tag);
  if (!read) return words;
  for (const Word& each : *read)
    if (each.letter == 'G' || each.letter == 'M') words.push_back(fmt::format("{}{:g}", each.letter, each.value));
  return words;
}

bool is_motion_word(const std::string& word) {
  static const std::set<std::string> all{"G2", "G3", "G73", "G81", "G82", "G83", "G85", "G89"};
  return all.contains(word);
}

}  // namespace

Result<void> LineLink::begin_program() {
  if (auto ok = may_start("start when it is"); !ok) return ok;
  if (!homed_[0] || !homed_[1] || !homed_[2])
    return fail("not_homed", "The machine does not know where it is; home it before a program runs.");
  start_afresh(Act::program);
  Frames frames = frames_of(hands_.known(), own_blocks_);
  base_ = frames.zeros[0];
  const int frame = static_cast<int>(known_value(hands_.known(), "work.frame"));
  interpreter_ = Interpreter(to_work(position_, base_), std::move(frames), frame);
  interpreter_.state().tool = tool_;
  all_sent_ = spindle_used_ = false;
  wanted_tool_ = off_way_reports_ = 0;
  answers_lost_ = 0;
  way_seen_at_ = talk_.now_s();
  tag_in_hand_ = last_tag_ = 0;
  before_next_.clear();
  way_.clear();
  // What the program takes for granted is said: another may have left it otherwise.
  send_line("G21 G90 " + frame_name(frame));
  return {};
}

std::uint32_t LineLink::send_line(std::string line) {
  const std::uint32_t id = talk_.queue(std::move(line));
  lines_sent_[id] = {{}, spindle_rpm_};
  return id;
}

Result<void> LineLink::send(std::string_view block, std::uint32_t tag) {
  if (act_ != Act::program || ending_) return fail("not_running", "No program is running; start it first.");
  if (held_ || probing_ || wanted_tool_ != 0 || shifts_ != 0 || talk_.waiting() >= most_waiting)
    return fail("full", "What was sent before is not all taken; send the block again in a moment.");
  const ModalState before = interpreter_.state();
  Program read;
  read.start = before.at;
  if (auto ok = interpreter_.line(block, tag, read); !ok) return ok;
  const auto refuse = [&](Result<void> why) {
    interpreter_.state() = before;
    return why;
  };
  if (auto ok = stays_inside(hands_.known(), read, base_, tag); !ok) return refuse(std::move(ok));
  // Told by the work's places alone, it is where it says only while it is known which those are.
  const bool shifts = description_.tells_work_alone() && !(interpreter_.state().shift == before.shift);
  if (shifts && (!talk_.quiet() || standing_reports_ < 1))
    return refuse(fail("full", "The machine is to stand where its places come to mean others; send it again."));
  const bool probes =
      std::any_of(read.events.begin(), read.events.end(), [](const Event& e) { return e.kind == EventKind::probe; });
  if (probes && description_.probe.block.empty())
    return refuse(fail("not_taken", fmt::format("Line {}: nobody described how this controller probes. Say in Build "
                                                "that it has no probe, or describe it.",
                                                tag)));
  if (probes && inputs_.probe)
    return refuse(fail("probe_on", fmt::format("Line {}: the probe's input is on before the search, so nothing moved. "
                                               "Take the tool off the plate, and look at the clip and the wire.",
                                               tag)));
  auto words = in_words_it_takes(block, read, before, tag);
  if (!words) return refuse(tl::make_unexpected(words.error()));
  last_tag_ = tag;
  if (tag_in_hand_ == 0) tag_in_hand_ = tag;
  std::uint32_t id = 0;
  for (std::string& line : lines_of(*words)) id = send_line(std::move(line));
  if (shifts) shifts_ = id;
  // Of a controller that tells nothing else its answer is all that says that it is alive.
  const double takes_s = estimate_time(read, kinematics_of(hands_.known())).total_s;
  owed_s_ = std::max(owed_s_, patience_s + patience_factor * takes_s);
  if (probes) {
    const bool must = std::any_of(read.events.begin(), read.events.end(),
                                  [](const Event& e) { return e.kind == EventKind::probe && e.value != 0; });
    probing_ = Probing{id, must, to_machine(before.at, base_), to_machine(interpreter_.state().at, base_), {}, {}};
  }
  if (id != 0) {
    const ModalState& after = interpreter_.state();
    spindle_used_ = spindle_used_ || after.spindle_on;
    if (way_.empty()) {
      way_seen_at_ = talk_.now_s();
      way_along_ = 0;
    }
    remember_way(read, before.at, tag);
    lines_sent_[id].spindle_rpm = after.spindle_on ? after.speed : 0;
    if (!read.motions.empty()) lines_sent_[id].last = way_.back();
  }
  return {};
}

/// The block as this controller takes it: without comments; a cycle or an arc that it does not know as moves; a tool
/// change as a pause here.
Result<std::string> LineLink::in_words_it_takes(std::string_view block, const Program& read, const ModalState& before,
                                                std::uint32_t tag) {
  std::string plain = plain_block(block), lines = std::exchange(before_next_, {});
  bool expand = false, searches = false;
  for (const std::string& word : words_of(block, tag)) {
    if ((word == "M0" || word == "M1") && !description_.acts.go_on.said()) {
      held_ = hold_by_waiting_ = true;  // it could not be told to go on
      return lines;
    }
    if (word.starts_with("G92") && description_.tells_work_alone())
      return fail("not_taken", fmt::format("Line {}: this controller tells places of the work alone, and nobody knows "
                                           "whether they follow G92. Have the program written with G54 to G59.",
                                           tag));
    searches = searches || word == "G38.2";
    if (description_.takes(word)) continue;
    if (word == "M6") {
      const auto change = std::find_if(read.events.begin(), read.events.end(),
                                       [](const Event& e) { return e.kind == EventKind::tool_change; });
      if (change != read.events.end() && static_cast<int>(change->value) != tool_)
        wanted_tool_ = static_cast<int>(change->value);
      return lines + "M5";
    }
    if (!is_motion_word(word))
      return fail("not_taken", fmt::format("Line {}: this controller does not take {}. Have the program written "
                                           "without it.",
                                           tag, word));
    expand = true;
  }
  const std::string search = searches ? search_described(read, before.at) : std::string();
  if (!expand && search.empty()) return lines + plain;
  const ModalState& after = interpreter_.state();
  lines += fmt::format("G21 G90 {}\n", frame_name(after.frame));
  if (after.inches || after.incremental)
    before_next_ = fmt::format("{}{}\n", after.inches ? "G20 " : "", after.incremental ? "G91" : "");
  if (!search.empty()) return lines + search;
  WorkPosition from = before.at;
  const auto go = [&](const WorkPosition& to, bool rapid, double feed) {
    lines += fmt::format("{} X{:.4f} Y{:.4f} Z{:.4f}{}\n", rapid ? "G0" : "G1", to.x - after.shift.x,
                         to.y - after.shift.y, to.z - after.shift.z, rapid ? "" : fmt::format(" F{:g}", feed));
  };
  for (const Motion& m : read.motions) {
    if (is_arc(m)) {
      const ArcWay way = arc_way(from, m, read.arc_of(m));
      const int n = way.chords(chord_mm);
      for (int i = 1; i < n; ++i) go(way.at(static_cast<double>(i) / n), false, read.feed_of(m));
    }
    go(m.end, m.kind == MotionKind::rapid, m.kind == MotionKind::rapid ? 0 : read.feed_of(m));
    from = m.end;
  }
  return lines;
}

/// A search as the description has it; empty where it is along no one axis, and then goes as it is written.
std::string LineLink::search_described(const Program& read, const WorkPosition& from) const {
  if (read.motions.size() != 1) return {};
  const Motion& search = read.motions.front();
  std::optional<Axis> along;
  for (const Axis a : all_axes) {
    if (search.end[a] == from[a]) continue;
    if (along) return {};
    along = a;
  }
  if (!along) return {};
  return filled(description_.probe.block,
                {{"axis", std::string(1, letter(*along))},
                 {"place", fmt::format("{:.4f}", search.end[*along] - interpreter_.state().shift[*along])},
                 {"rate", fmt::format("{:g}", read.feed_of(search))}});
}

void LineLink::remember_way(const Program& read, const WorkPosition& start, std::uint32_t tag) {
  WorkPosition from = start;
  const auto add = [&](const WorkPosition& to, bool cuts) {
    way_.push_back({tag, to_machine(from, base_), to_machine(to, base_), cuts});
    from = to;
  };
  for (const Motion& m : read.motions) {
    if (is_arc(m)) {
      const ArcWay way = arc_way(from, m, read.arc_of(m));
      const int n = way.chords(chord_of_way_mm);
      for (int i = 1; i < n; ++i) add(way.at(static_cast<double>(i) / n), true);
    }
    add(m.end, is_cut(m));
  }
}

void LineLink::end_program() {
  if (act_ == Act::program) all_sent_ = true;
}

void LineLink::end_probing() {
  Probing done = *probing_;
  if (!done.touched && !description_.probe.answer.empty())
    return fail_act({"no_answer",
                     "The controller stands and has not said what its probing met. See that the plate and "
                     "the clip are where they should be, then search again.",
                     ""});
  probing_.reset();
  if (!done.touched) {  // it says nothing of it: where it stands tells
    done.touched = !stands_at(done.target) && !stands_at(done.from);
    done.at = position_;
  }
  if (!description_.reports()) position_ = done.at;
  probe_ = {probe_.count + 1, *done.touched, *done.touched ? done.at : position_};
  interpreter_.state().at = to_work(position_, base_);
  way_.clear();
  if (done.must_touch && !*done.touched)
    fail_act({"no_contact",
              fmt::format("Line {}: the probe searched to the end of its way and touched nothing. Nothing was changed; "
                          "see that the clip is on and the plate is under the tool.",
                          last_tag_),
              ""});
}

void LineLink::go_on_with_program() {
  if (held_ && told_state_ != MachineState::held && !hold_by_waiting_ && description_.reports()) return;
  const bool quiet = talk_.quiet();
  if (probing_) {
    const std::size_t reports = probing_->touched ? 1 : enough_reports;
    if (quiet && (!description_.reports() || standing_reports_ >= reports)) end_probing();
    return;
  }
  if (held_ || wanted_tool_ != 0 || !(all_sent_ || ending_) || !quiet) return;
  if (description_.reports()) {
    const bool there = stands_at(to_machine(interpreter_.state().at, base_));
    if (standing_reports_ < (there && !ending_ ? 1U : sure_reports)) return;
    if (!there && !ending_) return fail_act(line_lost());
  } else if (description_.block.answered == Answered::taken && !std::exchange(settle_sent_, true)) {
    talk_.queue(description_.block.settle);
    return;
  }
  const ModalState& state = interpreter_.state();
  tool_ = state.tool != 0 && description_.takes("M6") ? state.tool : tool_;
  for (int frame = 0; frame < static_cast<int>(work_frame_count); ++frame)
    for (const Axis a : all_axes)
      hands_.know(work_zero_setting(frame, a), interpreter_.frames().zeros[static_cast<std::size_t>(frame)][a]);
  if (ending_) {
    message_ = fmt::format("The program was abandoned at line {}.", tag_in_hand_);
  } else {
    tag_in_hand_ = last_tag_;
  }
  if (answers_lost_ > 0)
    message_ = fmt::format(
        "{} answer(s) of the controller did not come. If it was lines that were lost, something is not "
        "cut: look at the part, and at the cable.",
        answers_lost_);
  if (!state.spindle_on && !ending_) spindle_used_ = false;  // it did itself
  stop_spindle();
  end_act();
}

}  // namespace ypsi::link
