#pragma once
// The demo's book as its file has it, and an entry that changed one number.
#include <fstream>
#include <sstream>

#include "core/book/book_json.h"

namespace ypsi {

inline std::string demo_text() {
  std::ifstream file(std::string(YPSI_DEMO_DATA) + "/oriel.ypsi");
  std::stringstream text;
  text << file.rdbuf();
  return text.str();
}
inline Book demo() {
  return read_book(demo_text()).value().book;
}

inline Entry change(const char* sheet, const char* subject, double from, double to) {
  Entry e;
  e.sheet = sheet;
  e.subject = subject;
  e.as_found = {{"v", from}};
  e.as_left = {{"v", to}};
  return e;
}

}  // namespace ypsi
