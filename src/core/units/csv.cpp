#include "core/units/csv.h"

#include <csv.h>
#include <fmt/format.h>

#include <algorithm>

namespace ypsi {
namespace {

struct Reading {
  std::vector<CsvRow> rows;
  CsvRow row{1, {}};
  std::size_t line = 1;
};

void take_field(void* bytes, std::size_t count, void* into) {
  auto& reading = *static_cast<Reading*>(into);
  std::string field(static_cast<const char*>(bytes), count);
  reading.line += static_cast<std::size_t>(std::count(field.begin(), field.end(), '\n'));
  reading.row.fields.push_back(std::move(field));
}

void end_row(int, void* into) {
  auto& reading = *static_cast<Reading*>(into);
  const auto& fields = reading.row.fields;
  if (std::any_of(fields.begin(), fields.end(), [](const auto& f) { return !f.empty(); }))
    reading.rows.push_back(std::move(reading.row));
  reading.row = {++reading.line, {}};
}

std::string with_plain_line_ends(std::string_view text) {
  constexpr std::string_view mark = "\xEF\xBB\xBF";
  if (text.starts_with(mark)) text.remove_prefix(mark.size());
  std::string plain;
  plain.reserve(text.size());
  for (std::size_t i = 0; i < text.size(); ++i) {
    if (text[i] != '\r')
      plain += text[i];
    else if (i + 1 >= text.size() || text[i + 1] != '\n')
      plain += '\n';
  }
  return plain;
}

unsigned char separator_of(std::string_view text) {
  bool quoted = false;
  std::size_t semicolons = 0, tabs = 0;
  for (const char c : text) {
    if (c == '"') quoted = !quoted;
    if (c == '\n' && !quoted && semicolons + tabs > 0) break;
    semicolons += c == ';' && !quoted;
    tabs += c == '\t' && !quoted;
  }
  return semicolons > 0 ? ';' : tabs > 0 ? '\t' : ',';
}

}  // namespace

Result<std::vector<CsvRow>> read_csv(std::string_view text) {
  const std::string plain = with_plain_line_ends(text);
  csv_parser parser;
  if (csv_init(&parser, CSV_STRICT | CSV_STRICT_FINI | CSV_REPALL_NL) != 0)
    return fail("not_csv", "There is no memory left to read the table; close something and try again.");
  csv_set_delim(&parser, separator_of(plain));
  Reading reading;
  const std::size_t parsed = csv_parse(&parser, plain.data(), plain.size(), take_field, end_row, &reading);
  const bool sound = parsed == plain.size() && csv_fini(&parser, take_field, end_row, &reading) == 0;
  csv_free(&parser);
  if (!sound) {
    const bool open = parsed == plain.size();
    return fail(
        "not_csv",
        open ? fmt::format("A quote opened in line {} is never closed; the table cannot be read past it.",
                           reading.row.line)
             : fmt::format("Line {}: a quote stands within a field. Put the whole field into quotes, and write "
                           "a quote in it twice.",
                           1 + std::count(plain.begin(), plain.begin() + static_cast<std::ptrdiff_t>(parsed), '\n')));
  }
  return std::move(reading.rows);
}

std::string csv_line(const std::vector<std::string>& fields) {
  std::string line;
  for (std::size_t i = 0; i < fields.size(); ++i) {
    if (i > 0) line += ',';
    if (fields[i].find_first_of(",;\t\"\n\r") == std::string::npos) {
      line += fields[i];
      continue;
    }
    std::string quoted(csv_write(nullptr, 0, fields[i].data(), fields[i].size()), '\0');
    csv_write(quoted.data(), quoted.size(), fields[i].data(), fields[i].size());
    line += quoted;
  }
  return line + "\n";
}

std::string csv_number(double value) {
  return fmt::format("{}", value == 0 ? 0.0 : value);
}

}  // namespace ypsi
