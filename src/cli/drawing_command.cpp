#include "cli/drawing_command.h"

#include <fmt/format.h>

#include <algorithm>
#include <nlohmann/json.hpp>

#include "cli/calc.h"
#include "cli/judging.h"
#include "core/book/book_json.h"
#include "core/drawing_in/drawing_program.h"
#include "core/drawing_in/drawing_report.h"
#include "core/drawing_in/freed_pieces.h"
#include "core/motion/machine_kinematics.h"
#include "core/tasks/work_zero.h"

namespace ypsi::cli {
namespace {

using nlohmann::json;

json to_json(PlanPoint p) {
  return {p.real(), p.imag()};
}

json whole(const Drawing& drawing, const Mended& mended, const std::vector<DrawingFinding>& findings) {
  constexpr const char* from[] = {"file", "usual", "owner"};
  json out{{"format", drawing.format},
           {"unit_mm", drawing.unit_mm},
           {"unit_from", from[static_cast<std::size_t>(drawing.unit_from)]},
           {"unit", drawing.unit_words},
           {"doubled", mended.doubled},
           {"texts", drawing.texts.size()}};
  const auto box = drawing.extents();
  out["extents"] = box ? json{{"low_mm", to_json(box->low)}, {"high_mm", to_json(box->high)}} : json();
  json& layers = out["layers"] = json::array();
  for (const LayerSum& l : layer_sums(drawing))
    layers.push_back(
        {{"name", l.name}, {"colour", l.colour}, {"closed", l.closed}, {"open", l.open}, {"length_mm", l.length_mm}});
  json& joined = out["joined"] = json::array();
  for (const JoinedEnds& j : mended.joined)
    joined.push_back({{"layer", drawing.layers[j.layer].name}, {"at_mm", to_json(j.at)}, {"gap_mm", j.gap}});
  json& open = out["open_ends"] = json::array();
  for (const OpenEnd& e : mended.open)
    open.push_back({{"layer", drawing.layers[e.layer].name},
                    {"at_mm", to_json(e.at)},
                    {"gap_mm", e.gap ? json(*e.gap) : json()},
                    {"source", e.source}});
  json& all = out["findings"] = json::array();
  for (const DrawingFinding& f : findings) {
    json one{{"code", f.code}, {"message", f.message}};
    if (f.at) one["at_mm"] = to_json(*f.at);
    if (f.source) one["source"] = *f.source;
    all.push_back(std::move(one));
  }
  return out;
}

/// The book, with these acts instead of its own.
Result<Book> book_with(const DrawingQuestion& q) {
  std::string text(q.book);
  if (q.acts) {
    json book = json::parse(q.book, nullptr, false), acts = json::parse(*q.acts, nullptr, false);
    if (acts.is_discarded()) return fail("not_json", "The acts are cut off or are not JSON.", "--acts");
    if (acts.is_array()) acts = json{{"acts", std::move(acts)}};
    if (acts.is_object() && acts.contains("drawing")) acts = acts["drawing"];
    // A book that is none is told by its own reader.
    if (book.is_object() && (!book.contains("job") || book["job"].is_object())) {
      book["job"]["drawing"] = std::move(acts);
      text = book.dump(-1, ' ', false, json::error_handler_t::replace);
    }
  }
  return read_book(text).map([](ReadBook read) { return std::move(read.book); });
}

struct MadeProgram {
  HeadProgram program;
  double time_s = 0;
  std::vector<Finding> findings;
};
/// What is made of the drawing, judged like any other program.
Result<MadeProgram> made_of(const Book& book, const Drawing& drawing, const std::string& name) {
  auto program = drawing_program(book, drawing, *book.job.drawing);
  if (!program) return tl::make_unexpected(program.error());
  TimeEstimate time = estimate_time(program->program, kinematics_of(book.machine));
  auto findings = check_program(program->program, book, judging(book, std::move(time.end_s), name));
  return MadeProgram{std::move(*program), time.total_s, std::move(findings)};
}

json to_json(const MadeProgram& made) {
  json out{{"lines", made.program.program.lines},
           {"motions", made.program.program.motions.size()},
           {"time_s", made.time_s},
           {"findings", json::array()}};
  for (const Finding& f : made.findings)
    out["findings"].push_back({{"code", f.code}, {"weight", name(f.weight)}, {"message", f.message}, {"line", f.line}});
  return out;
}

/// What the bed's zones hold; the sentence where that cannot be said.
json held_json(const Result<HoldDown>& held) {
  if (!held) return {{"error", {{"code", held.error().code}, {"message", held.error().message}}}};
  json out{{"share", held->held / held->stock}, {"force_N", or_null(held->force_N)}};
  json& zones = out["zones"] = json::array();
  for (const ZoneCover& z : held->zones)
    zones.push_back({{"name", z.name}, {"covered", z.covered}, {"open", z.open}, {"to_mask_mm2", z.to_mask}});
  json& pieces = out["pieces"] = json::array();
  for (const HeldPiece& p : held->pieces)
    pieces.push_back(
        {{"area_mm2", p.area}, {"held_mm2", p.held}, {"force_N", or_null(p.force_N)}, {"too_small", p.too_small}});
  return out;
}

void print(const Result<HoldDown>& held, std::ostream& out) {
  if (!held) {
    out << held.error().message << "\n";
    return;
  }
  std::string open;
  for (const ZoneCover& z : held->zones)
    if (z.open) open += (open.empty() ? "" : ", ") + z.name;
  out << (open.empty() ? std::string("No zone is covered enough to be opened; nothing holds the stock.\n")
                       : fmt::format("Open {}: {:.0f} % of the stock{}.\n", open, 100 * held->held / held->stock,
                                     held->force_N ? fmt::format(", {:.0f} N", *held->force_N) : std::string()));
  const auto loose =
      std::count_if(held->pieces.begin(), held->pieces.end(), [](const HeldPiece& p) { return p.too_small; });
  if (loose > 0) out << fmt::format("{} of {} pieces want tabs or tape.\n", loose, held->pieces.size());
}

void print(const Drawing& drawing, const std::vector<DrawingFinding>& findings, std::ostream& out) {
  const auto box = drawing.extents();
  out << fmt::format("{}; {:.6g} mm a unit: {}.\n", drawing.format, drawing.unit_mm, drawing.unit_words);
  if (box)
    out << fmt::format("{:.2f} by {:.2f} mm, from X {:.2f} Y {:.2f}.\n", box->high.real() - box->low.real(),
                       box->high.imag() - box->low.imag(), box->low.real(), box->low.imag());
  for (const LayerSum& l : layer_sums(drawing))
    out << fmt::format("  {:<24} {:>5} closed {:>5} open {:>10.3f} m\n", l.name, l.closed, l.open, l.length_mm / 1000);
  for (const DrawingFinding& f : findings) out << fmt::format("  {:<16} {}\n", f.code, f.message);
}

}  // namespace

int drawing(const DrawingQuestion& q, std::ostream& out, std::string* program) {
  auto book = book_with(q);
  if (!book) return refuse(book.error(), q.as_json, out);
  DrawingSetting setting;
  setting.unit_mm = q.unit_mm;
  const auto& job = book->job.drawing;
  if (job && !job->unit.empty() && !setting.unit_mm) {
    setting.unit_mm = unit_by_name(job->unit);
    if (!setting.unit_mm)
      return refuse(
          {"unknown_unit", fmt::format("“{}” is no unit of a drawing: mm, cm, m, in or ft.", job->unit), "unit"},
          q.as_json, out);
  }
  auto read = read_drawing(q.file, setting);
  if (!read) return refuse(read.error(), q.as_json, out);
  const Mended mended = mend(*read);
  const auto findings = look_over(*read, mended, book->machine);
  std::optional<MadeProgram> made;
  if (program || q.acts) {
    if (!job)
      return refuse({"nothing_to_do", "Neither the book nor --acts says what is done with each layer.", "--acts"},
                    q.as_json, out);
    if (book->job.drawing->file.empty()) book->job.drawing->file = q.file_name;
    auto of = made_of(*book, *read, std::string(q.file_name));
    if (!of) return refuse(of.error(), q.as_json, out);
    made = std::move(*of);
    if (program) *program = made->program.text;
  }
  std::optional<Result<HoldDown>> held;
  if (made && !book->machine.vacuum.zones.empty())
    held = held_on_bed(*book, freed_pieces(*book, *read, *book->job.drawing), stock_turn(*book));
  if (q.as_json) {
    json all = whole(*read, mended, findings);
    if (made) all["program"] = to_json(*made);
    if (held) all["held"] = held_json(*held);
    out << all.dump(1, ' ', false, json::error_handler_t::replace) << "\n";
  } else {
    print(*read, findings, out);
    if (made) {
      out << fmt::format("The program: {} lines, {}.\n", made->program.program.lines, format_duration(made->time_s));
      for (const Finding& f : made->findings) out << fmt::format("  {:<16} {}\n", f.code, f.message);
    }
    if (held) print(*held, out);
  }
  const bool stands = made && (count(made->findings, Weight::stops) > 0 || count(made->findings, Weight::warns) > 0);
  return findings.empty() && !stands ? 0 : 1;
}

}  // namespace ypsi::cli
