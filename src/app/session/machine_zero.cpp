// Work zero: set, sent, taken over to another frame.
#include "app/session/book_editor.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "core/book/tool_change.h"
#include "core/tasks/work_zero.h"

namespace ypsi::app {

void MachineSession::look_by(const std::string& head) {
  looks_by_ = head;
}

const Head* MachineSession::looking() const {
  if (looks_by_.empty()) return nullptr;
  const MachineSetup& machine = editor_.book().machine;
  const Head* head = machine.head(looks_by_);
  return head && head != &machine.heads.front() && head->place ? head : nullptr;
}

double MachineSession::looks_beside(Axis axis) const {
  const Head* head = looking();
  if (!head || axis == Axis::z) return 0;
  return axis == Axis::x ? head->place->x_mm : head->place->y_mm;
}

void MachineSession::set_work_zero(const std::vector<Axis>& axes, double z_offset) {
  if (!must_be_there()) return;
  const MachineStatus now_at = link()->status();
  if (!now_at.all_homed()) {
    notices_.notify(
        {NoticeLevel::attention,
         tr("Home the machine first: before homing its positions mean nothing, and a zero set now would be lost."),
         {}});
    return;
  }
  std::vector<std::pair<Axis, double>> places;
  places.reserve(axes.size());
  const Head* by = looking();
  for (const Axis a : axes)
    if (!by || a != Axis::z)  // its height is not the first's
      places.emplace_back(a, now_at.position[a] + looks_beside(a) - (a == Axis::z ? z_offset : 0));
  if (!places.empty()) set_work_zero_at(places, RecordJson::from_text("[]"), by ? by->name : "");
}

bool MachineSession::set_work_zero_at(const std::vector<std::pair<Axis, double>>& places, const RecordJson& readings,
                                      const std::string& instrument, std::optional<bool> on_bed) {
  if (!may_set()) return false;
  const int frame = editor_.book().job.frame, tool = status_.tool;
  for (const auto& [a, place] : places)
    if (!ask(link()->set_setting(work_zero_setting(frame, a), place))) {
      send_work_zero();  // all of it or nothing
      return false;
    }
  const std::string of = frame == 0 ? std::string("work_zero.") : "work_zero." + frame_name(frame) + ".";
  editor_.change_book(tr("Set zero"), [&](Book& b) {
    Entry entry;
    entry.time = editor_.now().toStdString();
    entry.sheet = work_zero_id;
    entry.instrument = instrument;
    entry.readings = readings;
    for (const auto& [a, place] : places) {
      entry.subject += letter(a);
      auto& zero = b.job.zero(a);
      const std::string key = of + axis_key(a);
      if (zero) entry.as_found[key] = *zero;
      zero = place;
      entry.as_left[key] = place;
    }
    entry.result = entry.as_left;
    if (b.job.zero(Axis::z) && entry.subject.find('Z') != std::string::npos) {
      b.job.used().z_tool = tool;
      if (on_bed) b.job.used().on_bed = *on_bed;
      entry.result["on_bed"] = b.job.used().on_bed;
      entry.result["tool"] = tool;
    }
    b.history.push_back(std::move(entry));
  });
  return true;
}

bool MachineSession::set_zero_by_length() {
  const int tool = status_.tool;
  return zero_after_change(editor_.book(), tool) == ZeroAfterChange::by_length &&
         set_work_zero_at({{Axis::z, zero_by_length(editor_.book(), tool)}}, RecordJson::from_text("[]"),
                          "tool lengths");
}

void MachineSession::use_frame(int frame) {
  if (frame == editor_.book().job.frame || frame < 0 || frame >= static_cast<int>(work_frame_count)) return;
  if (!standing_ready() && status_.state != MachineState::not_homed && status_.state != MachineState::offline) {
    notices_.notify({NoticeLevel::attention, tr("The machine is not standing; choose the frame when it does."), {}});
    return;
  }
  editor_.change_book(tr("Use %1").arg(to_q(frame_name(frame))), [&](Book& b) { b.job.frame = frame; });
  send_work_zero();
}

/// The controller may be another than the one at which work zero was set.
bool MachineSession::send_work_zero() {
  if (!link()) return false;
  const auto agree = [this](const std::string& name, double value) {
    return link()->setting(name) == value || (may_set() && ask(link()->set_setting(name, value)));
  };
  const Job& job = editor_.book().job;
  for (std::size_t frame = 0; frame < work_frame_count; ++frame)
    for (const Axis a : all_axes)
      if (const auto& zero = job.frames[frame].zero(a);
          zero && !agree(work_zero_setting(static_cast<int>(frame), a), zero->mm))
        return false;
  // A controller without the setting starts in G54.
  return (!link()->setting("work.frame") && job.frame == 0) || agree("work.frame", job.frame);
}

}  // namespace ypsi::app
