#pragma once
// Tables as text: RFC 4180 and its usual relatives. Read with comma, semicolon or tab between the fields, quoted
// fields, a byte-order mark, LF or CRLF; written with commas, decimal dots and LF.
#include <string>
#include <string_view>
#include <vector>

#include "core/result.h"

namespace ypsi {

struct CsvRow {
  std::size_t line = 0;  ///< of the file, from 1, where the row begins
  std::vector<std::string> fields;
};

/// Rows that hold something, blank ones left out. The separator is told from the first row: semicolon before tab before
/// comma. Error: `not_csv` where a quote is never closed or stands within a field; the sentence names the line.
Result<std::vector<CsvRow>> read_csv(std::string_view text);

/// One row with its line end; fields are quoted where they need it.
std::string csv_line(const std::vector<std::string>& fields);
/// A number as a field: shortest text that reads back exactly, decimal dot.
std::string csv_number(double value);

}  // namespace ypsi
