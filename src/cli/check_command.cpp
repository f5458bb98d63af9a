#include "cli/check_command.h"

#include <fmt/format.h>

#include <nlohmann/json.hpp>

#include "cli/calc.h"
#include "core/book/book_json.h"
#include "core/motion/machine_kinematics.h"
#include "core/program/checks.h"
#include "core/program/read_setting.h"

namespace ypsi::cli {
namespace {

using nlohmann::json;

int refuse(const Error& error, bool as_json, std::ostream& out) {
  if (as_json)
    out << error_json(error).dump(1, ' ', false, json::error_handler_t::replace) << "\n";
  else
    out << error.message << "\n";
  return 2;
}

json to_json(const Finding& f) {
  json out{{"code", f.code}, {"weight", name(f.weight)}, {"message", f.message}};
  if (f.line > 0) out["line"] = f.line;
  if (f.at) out["work_mm"] = {f.at->x, f.at->y, f.at->z};
  return out;
}

}  // namespace

int check(std::string_view program_text, std::string_view book_text, bool as_json, std::ostream& out) {
  const auto read = read_book(book_text);
  if (!read) return refuse(read.error(), as_json, out);
  const Book& book = read->book;
  const auto program = read_program(program_text, read_setting(book));
  if (!program) return refuse(program.error(), as_json, out);
  CheckSetting setting;
  setting.tool = book.job.used().z_tool;
  setting.end_s = estimate_time(*program, kinematics_of(book.machine)).end_s;
  setting.unit = as_json ? LengthUnit::millimetre : book.unit();
  const auto findings = check_program(*program, book, setting);
  const std::size_t stops = count(findings, Weight::stops), warns = count(findings, Weight::warns);
  if (as_json) {
    json all = json::array();
    for (const Finding& f : findings) all.push_back(to_json(f));
    out << json{{"findings", std::move(all)}, {"stops", stops}, {"warns", warns}}.dump(1, ' ', false,
                                                                                       json::error_handler_t::replace)
        << "\n";
  } else {
    for (const Finding& f : findings)
      out << fmt::format("{:<8}", name(f.weight)) << (f.line > 0 ? fmt::format("line {}: ", f.line) : "") << f.message
          << "\n";
    out << (stops + warns == 0 ? std::string("Nothing stands against it.")
                               : fmt::format("{} that stop, {} that warn.", stops, warns))
        << "\n";
  }
  return stops + warns == 0 ? 0 : 1;
}

}  // namespace ypsi::cli
