#include "cli/judging.h"

#include <nlohmann/json.hpp>
#include <utility>

#include "cli/calc.h"
#include "core/drawing_in/drawing_basis.h"
#include "core/tasks/trials.h"

namespace ypsi::cli {

CheckSetting judging(const Book& book, decltype(CheckSetting::end_s) end_s, const std::string& file_name) {
  CheckSetting setting;
  setting.tool = book.job.used().z_tool;
  setting.end_s = std::move(end_s);
  setting.file_name = file_name;
  setting.kept = kept_settings(book);
  if (book.job.drawing) setting.rests_on_now = basis_of(book, *book.job.drawing, {});
  return setting;
}

int refuse(const Error& error, bool as_json, std::ostream& out) {
  if (as_json)
    out << error_json(error).dump(1, ' ', false, nlohmann::json::error_handler_t::replace) << "\n";
  else
    out << error.message << "\n";
  return 2;
}

}  // namespace ypsi::cli
