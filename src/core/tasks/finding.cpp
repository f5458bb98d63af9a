#include "core/tasks/finding.h"

#include <algorithm>

namespace ypsi {

const nlohmann::json* FindingReader::find(const char* key) const {
  if (!from_.is_object()) return nullptr;
  const auto it = from_.find(key);
  return it == from_.end() ? nullptr : &*it;
}

void FindingReader::number(const char* key, std::optional<double>& into, NumberRange) {
  if (const auto* v = find(key); v && v->is_number()) into = v->get<double>();
}

void FindingReader::number(const char* key, double& into, NumberRange) {
  if (const auto* v = find(key); v && v->is_number()) into = v->get<double>();
}

void FindingReader::count(const char* key, int& into, Written) {
  constexpr double most = 1e9;
  if (const auto* v = find(key); v && v->is_number())
    into = static_cast<int>(std::clamp(v->get<double>(), -most, most));
}

void FindingReader::text(const char* key, std::string& into, Written) {
  if (const auto* v = find(key); v && v->is_string()) into = v->get<std::string>();
}

void FindingReader::flag(const char* key, bool& into, Written) {
  if (const auto* v = find(key); v && v->is_boolean()) into = v->get<bool>();
}

void FindingReader::texts(const char* key, std::vector<std::string>& into, Written) {
  const auto* v = find(key);
  if (!v || !v->is_array()) return;
  for (const auto& each : *v)
    if (each.is_string()) into.push_back(each.get<std::string>());
}

void FindingReader::group(const char* key, const std::function<void(FindingReader&)>& how) {
  const auto* v = find(key);
  if (!v) return;
  FindingReader own(*v);
  how(own);
}

}  // namespace ypsi
