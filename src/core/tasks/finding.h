#pragma once
// The result of an entry as a struct: read and written by one description, see core/book/description.h. A description
// of a result uses number, count, text, texts, flag and group alone.
#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "core/book/book.h"
#include "core/book/description.h"
#include "core/book/json_writer.h"

namespace ypsi {

/// The visitor that reads a result; what is missing or of another kind is unknown, for the record is old and never
/// refused.
class FindingReader {
 public:
  static constexpr bool fills = true, carries = false, shows_all = false;
  explicit FindingReader(const nlohmann::json& from) : from_(from) {}
  void number(const char* key, std::optional<double>& into, NumberRange = any_number);
  void number(const char* key, double& into, NumberRange = any_number);
  void count(const char* key, int& into, Written = Written::always);
  void text(const char* key, std::string& into, Written = Written::always);
  void flag(const char* key, bool& into, Written = Written::always);
  void texts(const char* key, std::vector<std::string>& into, Written = Written::always);
  void group(const char* key, const std::function<void(FindingReader&)>& how);

 private:
  const nlohmann::json* find(const char* key) const;
  const nlohmann::json& from_;
};

template <class T>
T finding_of(const Entry& entry) {
  T found;
  FindingReader reader(entry.result.get());
  describe(reader, found);
  return found;
}

template <class T>
RecordJson result_of(const T& finding) {
  return JsonWriter::of(finding);
}

/// What an act without figures says of itself, in the words of the day; an old record's say the same.
struct SaidEntry {
  std::string words{};
  bool failed = false;
};
template <class V>
void describe(V& v, SaidEntry& f) {
  v.text("words", f.words);
  v.flag("failed", f.failed, Written::where_not_usual);
}

}  // namespace ypsi
