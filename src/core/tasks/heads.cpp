#include "core/tasks/heads.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/book/record.h"
#include "core/book/worksheets/heads.h"
#include "core/book/worksheets/marks.h"
#include "core/rehearsal/parts.h"
#include "core/tasks/build.h"
#include "core/tasks/known_scale.h"
#include "core/tasks/lost_motion.h"
#include "core/tasks/put_by.h"
#include "core/tasks/squareness.h"
#include "core/tasks/steps_per_unit.h"

namespace ypsi {
namespace {

constexpr double head_degree = std::numbers::pi / 180;

constexpr std::array measure_names{"place", "trailing", "blade", "focus", "kerf"};

PlanPoint plan(const OverMark& at) {
  return {at.x_mm, at.y_mm};
}

Result<Instrument> instrument_of(const Book& book) {
  if (const Instrument* i = book.instrument(book.worksheets[heads_worksheet].instrument)) return *i;
  return fail("no_instrument", "The instrument is not in the book; choose another.", "instrument");
}

/// As the axis is set now; nothing known is nothing taken off, and u of a tenth.
Known lost_motion_known(const Book& book, Axis axis) {
  constexpr double unknown_u_mm = 0.1;
  const auto at = newest(book, lost_motion_id, std::string(1, letter(axis)));
  if (!at) return {0, unknown_u_mm};
  const auto found = finding_of<LostMotionEntry>(book.history[*at]);
  return {found.lost_motion.value_or(0), found.U.value_or(2 * unknown_u_mm) / 2};
}

class HeadsTask final : public Task {
 public:
  HeadsTask() : Task(heads_id, "Heads", TaskGroup::references) {}
  bool applies_to(const MachineSetup& machine) const override {
    for (std::size_t i = 0; i < machine.heads.size(); ++i)
      if (!measures_of(machine, i).empty()) return true;
    return false;
  }
  std::vector<Upstream> depends_on() const override {
    return {{steps_per_unit_id}, {squareness_id}, {build_id, "heads"}};
  }
  bool is_carried_over(std::string_view upstream) const override { return upstream == steps_per_unit_id; }
  std::vector<rehearsal::Step> rehearsal() const override { return {{title(), rehearsal::heads}}; }
  Words summary(const Entry& e) const override {
    const auto found = finding_of<HeadEntry>(e);
    if (found.lapsed) return {{"head_off", {found.head}}};
    if (found.x && found.y) return {{"head_place", {found.head, SaidNumber{*found.x, 2}, SaidNumber{*found.y, 2}}}};
    if (found.forward && found.left)
      return {{"head_place", {found.head, SaidNumber{*found.forward, 2}, SaidNumber{*found.left, 2}}}};
    if (found.value) return {{"head_value", {found.head, SaidLength{*found.value, 2}}}};
    return Task::summary(e);
  }
  Words overview(const Book& book) const override {
    std::string measured, open;
    for (std::size_t i = 1; i < book.machine.heads.size(); ++i) {
      const Head& h = book.machine.heads[i];
      std::string& into = h.place ? measured : open;
      into += (into.empty() ? "" : ", ") + h.name;
    }
    if (measured.empty() && open.empty()) return Task::overview(book);
    if (open.empty()) return {{as_it_is, {measured}}};
    return {{"heads_open", {open}}};
  }
  std::vector<BudgetShare> budget(const BudgetQuestion& q) const override {
    std::vector<BudgetShare> all;
    for (std::size_t i = 1; i < q.book.machine.heads.size(); ++i) {
      const Head& h = q.book.machine.heads[i];
      BudgetShare share{.code = "budget_head", .entry = newest(q.book, id(), head_subject(h.name, HeadMeasure::place))};
      if (h.place) share.off = OffBy{0, h.place->U_mm};
      share.subject = h.name;
      all.push_back(share);
    }
    return all;
  }
  std::vector<CertifiedLine> certificate(const Book& book) const override {
    std::vector<CertifiedLine> all;
    const auto add = [&](std::string_view code, const std::string& subject, std::optional<double> HeadEntry::*value) {
      all.push_back({.code = code,
                     .subject = subject,
                     .value = [value](const Entry& e) { return finding_of<HeadEntry>(e).*value; },
                     .U = [](const Entry& e) { return finding_of<HeadEntry>(e).U; },
                     .k = [](const Entry& e) { return finding_of<HeadEntry>(e).k; }});
    };
    for (const Head& h : book.machine.heads)
      for (const HeadMeasure m : all_head_measures) {
        const std::string subject = head_subject(h.name, m);
        const auto at = newest(book, id(), subject);
        if (!at || finding_of<HeadEntry>(book.history[*at]).lapsed) continue;
        if (m == HeadMeasure::place) {
          add("certified_head_x", subject, &HeadEntry::x);
          add("certified_head_y", subject, &HeadEntry::y);
        } else if (m == HeadMeasure::blade) {
          add("certified_blade_forward", subject, &HeadEntry::forward);
          add("certified_blade_left", subject, &HeadEntry::left);
        } else {
          add("certified_head_value", subject, &HeadEntry::value);
        }
      }
    return all;
  }
};

/// An entry of a head, not yet in the record; time, readings and instrument are there already.
Entry told_of(const Head& head, HeadMeasure measure, HeadEntry finding, Entry e) {
  e.sheet = heads_id;
  e.subject = head_subject(head.name, measure);
  finding.head = head.name;
  finding.what = name(measure);
  e.result = result_of(finding);
  return e;
}

Entry entry_of(const Book& book, const Head& head, HeadMeasure measure, const HeadEntry& finding,
               const std::string& time) {
  Entry e;
  e.time = time;
  e.instrument = book.worksheets[heads_worksheet].instrument;
  return told_of(head, measure, finding, std::move(e));
}

Head* head_in(Book& book) {
  const auto at = chosen_head(book);
  return at ? &book.machine.heads[*at] : nullptr;
}

nlohmann::json or_null(const std::optional<double>& value) {
  return value ? nlohmann::json(*value) : nlohmann::json();
}

/// Its new place in the book, and the entry in the record.
void put_place(Book& book, Head& head, const HeadPlace& place, Entry e) {
  const std::string key = "heads." + head.name;
  e.as_found = {{key + ".x_mm", head.place ? nlohmann::json(head.place->x_mm.mm) : nlohmann::json()},
                {key + ".y_mm", head.place ? nlohmann::json(head.place->y_mm.mm) : nlohmann::json()}};
  e.as_left = {{key + ".x_mm", place.x_mm.mm}, {key + ".y_mm", place.y_mm.mm}};
  head.place = place;
  book.history.push_back(std::move(e));
}

/// The same with a length of it.
void put_length(Book& book, Head& head, HeadMeasure measure, const MeasuredLength& found,
                std::optional<double> Head::*value, std::optional<double> Head::*U, Entry e) {
  const std::string key = "heads." + head.name + "." + name(measure) + "_mm";
  e.as_found = {{key, or_null(head.*value)}};
  e.as_left = {{key, found.value}};
  head.*value = found.value;
  head.*U = found.U;
  book.history.push_back(std::move(e));
}

Head* head_named(Book& book, const std::string& wanted) {
  for (Head& h : book.machine.heads)
    if (h.name == wanted) return &h;
  return nullptr;
}

/// A length that one reading tells of a head.
void keep_length(Book& book, HeadMeasure measure, const MeasuredLength& found, std::optional<double> Head::*value,
                 std::optional<double> Head::*U, std::optional<double> HeadsWorksheet::*reading,
                 const std::string& time) {
  Head* head = head_in(book);
  if (!head) return;
  Entry e = entry_of(book, *head, measure, {.U = found.U, .k = found.k, .value = found.value}, time);
  e.readings.push_back((book.worksheets[heads_worksheet].*reading).value_or(0));
  (book.worksheets[heads_worksheet].*reading).reset();
  put_length(book, *head, measure, found, value, U, std::move(e));
}

}  // namespace

const char* name(HeadMeasure measure) {
  return measure_names[static_cast<std::size_t>(measure)];
}

std::string head_subject(const std::string& head, HeadMeasure measure) {
  return head + ": " + name(measure);
}

std::vector<HeadMeasure> measures_of(const MachineSetup& machine, std::size_t head) {
  std::vector<HeadMeasure> all;
  if (head > 0) all.push_back(HeadMeasure::place);
  const HeadKind kind = machine.heads[head].kind;
  if (kind == HeadKind::drag_knife) all.push_back(HeadMeasure::trailing);
  if (kind == HeadKind::turned_knife) all.push_back(HeadMeasure::blade);
  if (kind == HeadKind::beam) all.insert(all.end(), {HeadMeasure::focus, HeadMeasure::kerf});
  return all;
}

std::optional<std::size_t> chosen_head(const Book& book) {
  const auto& heads = book.machine.heads;
  if (heads.empty()) return std::nullopt;
  for (std::size_t i = 0; i < heads.size(); ++i)
    if (heads[i].name == book.worksheets[heads_worksheet].head) return i;
  return heads.size() > 1 ? 1 : 0;
}

void choose_head(Book& book, const std::string& name) {
  HeadsWorksheet& s = book.worksheets[heads_worksheet];
  if (const auto now = chosen_head(book); now && s.head.empty()) s.head = book.machine.heads[*now].name;
  HeadsWorksheet fresh;
  fresh.head = name;
  fresh.instrument = s.instrument;
  take_up(
      s, book.worksheets[heads_put_by], name, [](const HeadsWorksheet& each) { return each.head; }, std::move(fresh));
}

std::vector<SharedMark> shared_marks(const HeadsWorksheet& sheet) {
  std::vector<SharedMark> all;
  for (const HeadMark& m : sheet.marks)
    if (m.first && m.other) all.push_back({plan(*m.first), plan(*m.other)});
  return all;
}

std::vector<SharedMark> crosses_as_marks(const HeadsWorksheet& sheet, const std::optional<HeadPlace>& in_book) {
  const PlanPoint sent = in_book ? PlanPoint(in_book->x_mm, in_book->y_mm) : PlanPoint();
  std::vector<SharedMark> all;
  for (const HeadCross& c : sheet.crosses)
    if (c.dx_mm && c.dy_mm) {
      const PlanPoint meant(c.x_mm, c.y_mm);
      // The head was sent to meant - sent, and landed so far beside the first's cross.
      all.push_back({meant + PlanPoint(*c.dx_mm, *c.dy_mm), meant - sent});
    }
  return all;
}

Result<HeadOffset> evaluate_head_place(const Book& book, bool by_crosses) {
  const auto at = chosen_head(book);
  if (!at || *at == 0)
    return fail("no_head", "The first head is the one that the others are told against; choose another.", "head");
  const HeadsWorksheet& sheet = book.worksheets[heads_worksheet];
  if (!by_crosses) return head_offset(shared_marks(sheet));
  const auto instrument = instrument_of(book);
  if (!instrument) return tl::make_unexpected(instrument.error());
  const auto marks = crosses_as_marks(sheet, book.machine.heads[*at].place);
  // Each is a difference of two lines, read once.
  const double s = std::hypot(instrument->scatter_mm(), instrument->u_cal_mm);
  return head_offset(marks, std::max(s, 1e-6) / std::numbers::sqrt2);
}

Result<MeasuredLength> evaluate_trailing(const Book& book) {
  const auto instrument = instrument_of(book);
  if (!instrument) return tl::make_unexpected(instrument.error());
  const auto& gap = book.worksheets[heads_worksheet].gap_mm;
  if (!gap) return fail("too_few", "Type the gap between the two lines.", "gap");
  return trailing_offset(*gap, lost_motion_known(book, Axis::x), *instrument);
}

Result<TurnedKnife> evaluate_blade(const Book& book) {
  const auto instrument = instrument_of(book);
  if (!instrument) return tl::make_unexpected(instrument.error());
  const HeadsWorksheet& s = book.worksheets[heads_worksheet];
  TurnedKnifeLines lines{
      s.blade_mm[0], s.blade_mm[1], s.blade_mm[2], s.blade_mm[3], lost_motion_known(book, Axis::x), {}};
  if (s.chord_mm > 0 && s.angle_width[1] > 0 && s.angle_width[3] > 0)
    lines.angle = TurnedKnifeLines::AngleTrial{
        {{{s.angle_width[0] * head_degree, s.angle_width[1]}, {s.angle_width[2] * head_degree, s.angle_width[3]}}},
        s.chord_mm};
  return turned_knife(lines, *instrument);
}

Result<BeamFocus> evaluate_focus(const Book& book) {
  std::vector<BurntLine> lines;
  for (const FocusLine& l : book.worksheets[heads_worksheet].focus)
    if (l.width_mm > 0) lines.push_back({l.z_mm, l.width_mm});
  return beam_focus(lines, book.worksheets[heads_worksheet].u_width_mm);
}

Result<MeasuredLength> evaluate_kerf(const Book& book) {
  const auto instrument = instrument_of(book);
  if (!instrument) return tl::make_unexpected(instrument.error());
  const HeadsWorksheet& s = book.worksheets[heads_worksheet];
  if (!s.total_mm) return fail("too_few", "Type how wide the strips are together.", "total");
  if (s.strips < 1 || !(s.pitch_mm > 0)) return fail("out_of_range", "There must be a strip, and a pitch.", "strips");
  constexpr double unknown_u_scale = 0.002;
  Known scale{0, unknown_u_scale};
  if (const auto at = newest(book, steps_per_unit_id, "X"))
    if (const auto known = known_scale(book.history[*at], book.machine.axis(Axis::x).steps_per_mm))
      scale = {known->left.value_or(0), known->U / 2};
  return kerf_of_strips(s.strips, s.pitch_mm, *s.total_mm, scale.value, scale.u, *instrument);
}

void keep_head_place(Book& book, const HeadOffset& found, bool by_crosses, const std::string& time) {
  Head* head = head_in(book);
  if (!head) return;
  HeadEntry finding{.x = found.offset.real(), .y = found.offset.imag(), .U = found.U, .k = found.k};
  if (found.left) {
    finding.turn_mrad = found.left->turn * 1000;
    finding.U_turn_mrad = found.left->U_turn * 1000;
  }
  const auto marks = by_crosses ? crosses_as_marks(book.worksheets[heads_worksheet], head->place)
                                : shared_marks(book.worksheets[heads_worksheet]);
  finding.marks = static_cast<double>(marks.size());
  Entry e = entry_of(book, *head, HeadMeasure::place, finding, time);
  if (!by_crosses) e.instrument = "eye";
  for (const SharedMark& m : marks)
    e.readings.push_back(
        {{"first_mm", {m.spindle.real(), m.spindle.imag()}}, {"other_mm", {m.other.real(), m.other.imag()}}});
  book.worksheets[heads_worksheet].marks.clear();
  book.worksheets[heads_worksheet].crosses.clear();
  put_place(book, *head, {found.offset.real(), found.offset.imag(), found.U}, std::move(e));
}

void correct_head_place(Book& book, const std::string& name, PlanPoint by, double U, double k, Entry entry) {
  Head* head = head_named(book, name);
  if (!head || !head->place) return;
  const HeadPlace place{head->place->x_mm + by.real(), head->place->y_mm + by.imag(), U};
  put_place(book, *head, place,
            told_of(*head, HeadMeasure::place, {.x = place.x_mm.mm, .y = place.y_mm.mm, .U = U, .k = k, .marks = 1},
                    std::move(entry)));
}

void correct_trailing(Book& book, const std::string& name, double by, double U, double k, Entry entry) {
  Head* head = head_named(book, name);
  if (!head) return;
  const MeasuredLength found{head->trailing_mm.value_or(0) + by, U, k};
  put_length(book, *head, HeadMeasure::trailing, found, &Head::trailing_mm, &Head::U_trailing_mm,
             told_of(*head, HeadMeasure::trailing, {.U = U, .k = k, .value = found.value}, std::move(entry)));
}

void keep_trailing(Book& book, const MeasuredLength& found, const std::string& time) {
  keep_length(book, HeadMeasure::trailing, found, &Head::trailing_mm, &Head::U_trailing_mm, &HeadsWorksheet::gap_mm,
              time);
}

void keep_blade(Book& book, const TurnedKnife& found, const std::string& time) {
  Head* head = head_in(book);
  if (!head) return;
  HeadEntry finding{.U = found.U, .k = found.k, .forward = found.forward, .left = found.left};
  BladePlace blade{found.forward, found.left, found.U, {}, {}};
  if (found.angle_zero && found.U_angle) {
    finding.angle_zero_deg = blade.angle_zero_deg = *found.angle_zero / head_degree;
    finding.U_angle_deg = blade.U_angle_deg = *found.U_angle / head_degree;
  }
  Entry e = entry_of(book, *head, HeadMeasure::blade, finding, time);
  for (const double v : book.worksheets[heads_worksheet].blade_mm) e.readings.push_back(v);
  const std::string key = "heads." + head->name;
  e.as_found = {{key + ".forward_mm", head->blade ? nlohmann::json(head->blade->forward_mm) : nlohmann::json()}};
  e.as_left = {{key + ".forward_mm", found.forward}};
  head->blade = blade;
  book.worksheets[heads_worksheet].blade_mm = {};
  book.worksheets[heads_worksheet].angle_width = {};
  book.history.push_back(std::move(e));
}

void keep_focus(Book& book, const BeamFocus& found, const std::string& time) {
  Head* head = head_in(book);
  if (!head || !found.z) return;
  Entry e = entry_of(book, *head, HeadMeasure::focus, {.U = found.U, .k = found.k, .value = *found.z}, time);
  for (const FocusLine& l : book.worksheets[heads_worksheet].focus)
    e.readings.push_back({{"z_mm", l.z_mm.mm}, {"width_mm", l.width_mm}});
  const std::string key = "heads." + head->name + ".focus_z_mm";
  e.as_found = {{key, head->focus_z_mm ? nlohmann::json(head->focus_z_mm->mm) : nlohmann::json()}};
  e.as_left = {{key, *found.z}};
  head->focus_z_mm = *found.z;
  head->U_focus_mm = found.U;
  book.worksheets[heads_worksheet].focus.clear();
  book.history.push_back(std::move(e));
}

void keep_kerf(Book& book, const MeasuredLength& found, const std::string& time) {
  keep_length(book, HeadMeasure::kerf, found, &Head::kerf_mm, &Head::U_kerf_mm, &HeadsWorksheet::total_mm, time);
}

void head_taken_off(Book& book, std::size_t at, const std::string& time) {
  if (at >= book.machine.heads.size()) return;
  // The others are told against the first: without it nothing of any place holds.
  for (std::size_t i = 0; i < book.machine.heads.size(); ++i) {
    Head& head = book.machine.heads[i];
    if ((at != 0 && i != at) || !head.place) continue;
    Entry e = entry_of(book, head, HeadMeasure::place, {.lapsed = true}, time);
    e.instrument.clear();
    const std::string key = "heads." + head.name;
    e.as_found = {{key + ".x_mm", head.place->x_mm.mm}, {key + ".y_mm", head.place->y_mm.mm}};
    head.place.reset();
    book.history.push_back(std::move(e));
  }
}

const Task& heads_task() {
  static const HeadsTask task;
  return task;
}

}  // namespace ypsi
