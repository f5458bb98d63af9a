#include "core/book/certificate.h"

#include <fmt/format.h>

#include <cmath>

#include "core/book/json_number.h"

namespace ypsi {
namespace {

constexpr double close_steps = 1e-6;

/// Where a quantity stands in the record, and by which keys.
struct Source {
  CertifiedKind kind;
  const char* sheet;
  std::string subject;  ///< empty: any
  const char *value, *U;
  double factor = 1;
};

std::optional<double> value_of(const Source& s, const Entry& e) {
  const nlohmann::json& r = e.result.get();
  if (s.kind == CertifiedKind::tram) {
    const auto x = number_in(r, "tilt_x_mrad"), y = number_in(r, "tilt_y_mrad");
    return x && y ? std::optional(std::hypot(*x, *y)) : std::nullopt;
  }
  if (s.kind == CertifiedKind::limits) {
    const auto low = number_in(r, "soft_min_mm"), high = number_in(r, "soft_max_mm");
    return low && high ? std::optional(*high - *low) : std::nullopt;
  }
  const auto v = number_in(r, s.value);
  return v ? std::optional(*v * s.factor) : std::nullopt;
}

/// The only number of an as_found or as_left.
std::optional<double> only_number(const nlohmann::json& values) {
  if (!values.is_object() || values.size() != 1 || !values.begin()->is_number()) return std::nullopt;
  return values.begin()->get<double>();
}

bool is_about(const Entry& e, const Source& s) {
  return e.sheet == s.sheet &&
         (s.subject.empty() || e.subject == s.subject || (s.kind == CertifiedKind::homing && e.subject.empty()));
}

std::vector<Source> sources(const Book& book) {
  std::vector<Source> all;
  all.reserve(16 + 2 * book.tools.size());
  for (const Axis a : all_axes)
    all.push_back(
        {CertifiedKind::steps, "steps_per_unit", std::string(1, letter(a)), "new_steps_per_mm", "U_new_steps_per_mm"});
  for (const Axis a : all_axes)
    all.push_back(
        {CertifiedKind::lost_motion, "lost_motion", std::string(1, letter(a)), "lost_motion_mm", "U_lost_motion_mm"});
  all.push_back({CertifiedKind::squareness, "squareness", "", "skew_mrad", "U_skew_mrad"});
  for (const Axis a : all_axes) all.push_back({CertifiedKind::limits, "limits", std::string(1, letter(a)), "", ""});
  for (const Axis a : all_axes) all.push_back({CertifiedKind::homing, "homing", std::string(1, letter(a)), "s_mm", ""});
  all.push_back({CertifiedKind::tram, "bed_spindle", "tram", "", ""});
  all.push_back({CertifiedKind::plate, "touch_plate", "", "thickness_mm", "U_thickness_mm"});
  for (const Tool& t : book.tools) {
    const std::string subject = "T" + std::to_string(t.number);
    if (newest(book, "tools", subject))
      all.push_back({CertifiedKind::tool, "tools", subject, "offset_mm", "U_offset_mm"});
    if (newest(book, "measure_cut", subject))
      all.push_back({CertifiedKind::cutter, "measure_cut", subject, "tool_diameter_mm", "U_tool_diameter_mm"});
  }
  all.push_back({CertifiedKind::cut_deviation, "measure_cut", "", "largest_deviation_mm", ""});
  return all;
}

std::string quoted(const std::string& text) {
  if (text.find_first_of(",\"\n") == std::string::npos) return text;
  std::string out = "\"";
  for (const char c : text) out += c == '"' ? std::string("\"\"") : std::string(1, c);
  return out + "\"";
}

}  // namespace

Certificate certificate_of(const Book& book) {
  Certificate out;
  out.machine = book.machine.name;
  out.workshop = book.machine.workshop;
  out.description = book.machine.description;
  out.part = {book.job.part_width, book.job.part_height};
  for (const Axis a : all_axes)
    if (const AxisSetup& axis = book.machine.axis(a); axis.soft_min && axis.soft_max)
      out.travel[index(a)] = *axis.soft_max - *axis.soft_min;
  const Standings standings(book);
  const std::vector<bool> holds = findings_that_hold(book);
  for (const Source& s : sources(book)) {
    CertifiedQuantity q;
    q.kind = s.kind;
    q.subject = s.subject == "tram" ? "" : s.subject;
    const Entry* last = nullptr;
    for (std::size_t i = 0; i < book.history.size(); ++i) {
      const Entry& e = book.history[i];
      if (!holds[i] || !is_about(e, s)) continue;
      const auto value = value_of(s, e);
      if (!value) continue;
      const auto U = number_in(e.result.get(), s.U);
      q.history.push_back({e.time, *value, U ? std::optional(*U * s.factor) : std::nullopt});
      last = &e;
    }
    if (last) {
      q.time = last->time;
      q.instrument = last->instrument;
      q.U = q.history.back().U;
      q.k = number_in(last->result.get(), "k");
      q.as_left = q.history.back().value;
      q.as_found = q.history.size() > 1 ? std::optional(q.history[q.history.size() - 2].value) : std::nullopt;
      // What an act changed says itself what was there.
      if (s.kind == CertifiedKind::steps || s.kind == CertifiedKind::plate || s.kind == CertifiedKind::cutter) {
        if (const auto found = only_number(last->as_found.get())) q.as_found = *found;
        if (const auto left = only_number(last->as_left.get())) q.as_left = *left;
      }
      if (s.kind == CertifiedKind::steps && std::fabs(*q.as_left - q.history.back().value) > close_steps)
        q.not_applied = q.history.back().value;
      const bool an_axis = s.subject == "X" || s.subject == "Y" || s.subject == "Z";
      const std::optional<Axis> axis = an_axis ? std::optional(s.subject == "X"   ? Axis::x
                                                               : s.subject == "Y" ? Axis::y
                                                                                  : Axis::z)
                                               : std::nullopt;
      q.standing = standings.of(s.sheet, axis).standing;
      if (s.kind == CertifiedKind::squareness) out.skew_mrad = *q.as_left;
      if (out.first_time.empty() || q.history.front().time < out.first_time) out.first_time = q.history.front().time;
      if (q.time > out.last_time) out.last_time = q.time;
    }
    out.quantities.push_back(std::move(q));
  }
  return out;
}

std::string readings_csv(const Book& book) {
  std::string out = "time,sheet,subject,instrument,reading,what,value\n";
  const std::vector<bool> holds = findings_that_hold(book);
  for (std::size_t i = 0; i < book.history.size(); ++i) {
    const Entry& e = book.history[i];
    const nlohmann::json& readings = e.readings.get();
    if (!holds[i] || !readings.is_array()) continue;
    int number = 0;
    for (const auto& reading : readings) {
      ++number;
      const std::string start = fmt::format("{},{},{},{},{},", quoted(e.time), quoted(e.sheet), quoted(e.subject),
                                            quoted(e.instrument), number);
      if (!reading.is_object()) {
        out += start + "value," + quoted(reading.is_string() ? reading.get<std::string>() : reading.dump()) + "\n";
        continue;
      }
      for (const auto& [key, value] : reading.items())
        out += start + quoted(key) + "," + quoted(value.is_string() ? value.get<std::string>() : value.dump()) + "\n";
    }
  }
  return out;
}

}  // namespace ypsi
