#include "core/tasks/certificate.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/book/json_number.h"
#include "core/book/record.h"

namespace ypsi {
namespace {

constexpr double close_steps = 1e-6;

bool tells(const CertifiedLine& line, const Entry& e) {
  return line.subject.empty() || e.subject == line.subject || (line.told_for_all && e.subject.empty());
}

std::optional<double> asked(const std::function<std::optional<double>(const Entry&)>& of, const Entry& e) {
  return of ? of(e) : std::nullopt;
}

/// The axis whose letter the subject is.
std::optional<Axis> axis_of(const std::string& subject) {
  for (const Axis a : all_axes)
    if (subject == std::string(1, letter(a))) return a;
  return std::nullopt;
}

std::string quoted(const std::string& text) {
  if (text.find_first_of(",\"\n") == std::string::npos) return text;
  std::string out = "\"";
  for (const char c : text) out += c == '"' ? std::string("\"\"") : std::string(1, c);
  return out + "\"";
}

}  // namespace

Certificate certificate_of(const Book& book, const Tasks& tasks) {
  Certificate out;
  out.machine = book.machine.name;
  out.workshop = book.machine.workshop;
  out.description = book.machine.description;
  out.part = {book.job.part_width, book.job.part_height};
  for (const Axis a : all_axes)
    if (const AxisSetup& axis = book.machine.axis(a); axis.soft_min && axis.soft_max)
      out.travel[index(a)] = *axis.soft_max - *axis.soft_min;
  const Standings standings(book, tasks);
  const std::vector<bool> holds = findings_that_hold(book);
  for (const Task* task : tasks)
    for (CertifiedLine& line : task->certificate(book)) {
      CertifiedQuantity q;
      q.task = task;
      const Entry* last = nullptr;
      for (std::size_t i = 0; i < book.history.size(); ++i) {
        const Entry& e = book.history[i];
        if (!holds[i] || e.sheet != task->id() || !tells(line, e)) continue;
        const auto value = asked(line.value, e);
        if (!value) continue;
        q.history.push_back({e.time, *value, asked(line.U, e)});
        last = &e;
      }
      if (last) {
        q.time = last->time;
        q.instrument = last->instrument;
        q.told_by_hand = last->told_by_hand;
        q.U = q.history.back().U;
        q.k = asked(line.k, *last);
        q.as_left = q.history.back().value;
        q.as_found = q.history.size() > 1 ? std::optional(q.history[q.history.size() - 2].value) : std::nullopt;
        // What an act changed says itself what was there.
        if (line.an_act_says) {
          if (const auto found = only_number(last->as_found.get())) q.as_found = *found;
          if (const auto left = only_number(last->as_left.get())) q.as_left = *left;
        }
        if (line.may_be_left && std::fabs(*q.as_left - q.history.back().value) > close_steps)
          q.not_applied = q.history.back().value;
        q.standing = standings.of(task->id(), axis_of(line.subject)).standing;
        if (line.unit == CertifiedUnit::mm_per_m) out.skew_mrad = *q.as_left;
        if (out.first_time.empty() || q.history.front().time < out.first_time) out.first_time = q.history.front().time;
        if (q.time > out.last_time) out.last_time = q.time;
      }
      q.line = std::move(line);
      out.quantities.push_back(std::move(q));
    }
  return out;
}

bool told_by_hand(const Certificate& certificate) {
  return std::any_of(certificate.quantities.begin(), certificate.quantities.end(),
                     [](const CertifiedQuantity& q) { return q.told_by_hand; });
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
