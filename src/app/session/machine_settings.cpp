// Book and controller: compared, settled, set alike.
#include <algorithm>
#include <map>

#include "app/session/book_editor.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/session/setting_words.h"
#include "core/book/changes.h"
#include "core/book/worksheets/build.h"
#include "core/tasks/build.h"
#include "core/tasks/build_entries.h"
#include "core/tasks/steps_per_unit.h"
#include "link/lines/line_link.h"

namespace ypsi::app {

/// The controller follows a change of the book, and only it: what else differs is the owner's to settle.
void MachineSession::set_machine_as_changed(const Book& before) {
  if (!connection_ || !connection_->up() || editor_.read_only()) return;
  std::map<std::string, double> was;
  for (const auto& setting : controller_settings(before.machine)) was[setting.name] = setting.value;
  for (const auto& setting : controller_settings(editor_.book().machine)) {
    const auto found = was.find(setting.name);
    // A machine that moves keeps what it has and is told later.
    if (found == was.end() || found->second != setting.value) ask(link()->set_setting(setting.name, setting.value));
  }
  send_work_zero();
  keep_settings();
}

std::vector<SettingDifference> MachineSession::setting_differences() const {
  if (!connection_ || !connection_->up()) return {};
  auto in_book = controller_settings(editor_.book().machine);
  if (const auto* lines = connection_->lines())  // fewer digits than the book has are no difference
    for (BookSetting& each : in_book) each.value = lines->as_taken(each.name, each.value);
  return differences(in_book, read_back(connection_->link(), in_book));
}

void MachineSession::compare_settings() {
  const auto found = setting_differences();
  if (found.empty()) return;
  QStringList words;
  for (std::size_t i = 0; i < std::min<std::size_t>(2, found.size()); ++i)
    words << tr("%1 is %2, in the book %3")
                 .arg(setting_words(found[i].in_book.name),
                      setting_value(found[i].in_book, found[i].in_controller, editor_.unit()),
                      setting_value(found[i].in_book, found[i].in_book.value, editor_.unit()));
  const QString more = found.size() > 2 ? tr(" and %1 more").arg(found.size() - 2) : QString();
  notices_.notify(
      {NoticeLevel::attention,
       tr("This controller is set otherwise than the book: %1%2. Nothing was changed.").arg(words.join("; "), more),
       {{tr("Settle them one by one"), [this] { notices_.lead_to("build#controller"); }}},
       while_it_is(true)});
}

void MachineSession::settle(const SettingDifference& d, bool from_controller) {
  if (!may_set()) return;
  const std::string& name = d.in_book.name;
  const double left = from_controller ? d.in_controller : d.in_book.value;
  if (!from_controller) {
    const bool limits_follow = d.in_book.kind == SettingKind::steps && know_limits_in_use(d.in_book.axis);
    if (!ask(link()->set_setting(name, left))) return;
    const auto in_book = limits_follow ? controller_settings(editor_.book().machine) : std::vector<BookSetting>{};
    for (const BookSetting& each : in_book)
      if (each.axis == d.in_book.axis && each.name.find(".soft_") != std::string::npos)
        ask(link()->set_setting(each.name, each.value));
  }
  Entry entry;
  entry.time = editor_.now().toStdString();
  entry.sheet = build_id;
  entry.subject = std::string(1, letter(d.in_book.axis));
  entry.as_found = {{name, from_controller ? d.in_book.value : d.in_controller}};
  entry.as_left = {{name, left}};
  const QString words =
      tr("%1: %2").arg(setting_words(d.in_book.name), setting_value(d.in_book, left, LengthUnit::millimetre));
  entry.result = result_of(SaidEntry{(from_controller ? tr("%1, taken from the controller").arg(words)
                                                      : tr("%1, set in the controller as in the book").arg(words))
                                         .toStdString()});
  // Undoing what the book took must not turn the controller round: it was never changed.
  editor_.change_book(
      tr("Settle %1").arg(setting_words(d.in_book.name)),
      [&](Book& b) {
        if (from_controller) take_from_controller(b, name, left);
        b.history.push_back(std::move(entry));
      },
      from_controller ? MachineFollows::no : MachineFollows::yes);
  keep_settings();
}

/// Limits that only the controller has become the book's, so that they are carried with the steps, and back with an
/// undo. False where there are none.
bool MachineSession::know_limits_in_use(Axis a) {
  if (editor_.book().machine.axis(a).soft_min || !up()) return false;
  const auto low = link()->setting(axis_setting(a, "soft_min_mm")),
             high = link()->setting(axis_setting(a, "soft_max_mm")),
             steps = link()->setting(axis_setting(a, "steps_per_mm"));
  if (!low || !high || !steps || *low >= *high) return false;
  editor_.note_in_book([&](Book& b) { take_limits(b, a, *low, *high, *steps); });
  return true;
}

void MachineSession::keep_build(const QString& words) {
  for (const Axis a : all_axes) know_limits_in_use(a);
  const Book before = editor_.book_without_record();
  editor_.change_book(tr("Keep the build"), [&](Book& b) {
    const MachineSetup build = b.worksheets[build_worksheet].value_or(b.machine);
    ypsi::keep_build(b, build, editor_.now().toStdString(), words.toStdString());
  });
  set_machine_as_changed(before);
}

void MachineSession::keep_settings() {
  if (connection_ && !connection_->save_settings())
    notices_.notify(
        {NoticeLevel::attention,
         tr("The stand-in's own memory could not be written, so its settings will be the old ones next time. Is "
            "there room on the disk?"),
         {}});
}

bool MachineSession::apply_steps(Axis axis, double steps, Entry entry, const QString& text,
                                 const std::function<void(Book&)>& also) {
  if (!may_set()) return false;
  const std::string setting = axis_setting(axis, "steps_per_mm");
  const auto found = link()->setting(setting);
  if (!found) return ask(tl::make_unexpected(found.error()));
  know_limits_in_use(axis);
  if (!ask(link()->set_setting(setting, steps))) return false;
  entry.time = editor_.now().toStdString();
  entry.sheet = steps_per_unit_id;
  entry.subject = std::string(1, letter(axis));
  entry.as_found = {{setting, *found}};
  entry.as_left = {{setting, steps}};
  const Book before = editor_.book_without_record();
  editor_.change_book(text, [&](Book& b) {
    b.machine.axis(axis).steps_per_mm = *found;
    change_steps_per_mm(b, axis, steps);
    b.history.push_back(entry);
    if (also) also(b);
  });
  set_machine_as_changed(before);
  return true;
}

MachineSession::Room MachineSession::room(Axis axis) const {
  auto& known = rooms_[index(axis)];
  if (!known) known = read_room(axis);
  return *known;
}

MachineSession::Room MachineSession::read_room(Axis a) const {
  if (connection_ && connection_->up()) {
    const auto low = connection_->link().setting(axis_setting(a, "soft_min_mm")),
               high = connection_->link().setting(axis_setting(a, "soft_max_mm"));
    if (low && high && *low < *high) return {*low, *high};
  }
  const AxisSetup& axis = editor_.book().machine.axis(a);
  if (axis.soft_min && axis.soft_max) return {*axis.soft_min, *axis.soft_max};
  const double home = axis.home_coordinate;
  return axis.home_at_max ? Room{home - axis.travel, home} : Room{home, home + axis.travel};
}

}  // namespace ypsi::app
