#include "core/book/json_writer.h"

namespace ypsi {

nlohmann::json JsonWriter::written(const std::function<void(JsonWriter&)>& how) {
  JsonWriter v;
  how(v);
  return std::move(v.out_);
}

void JsonWriter::number(const char* key, double& value, NumberRange, Written written) {
  if (written == Written::always || value != 0) out_[key] = value;
}

void JsonWriter::number(const char* key, std::optional<double>& value, NumberRange) {
  if (value) out_[key] = *value;
}

void JsonWriter::count(const char* key, int& value, Written written) {
  if (written == Written::always || value != 0) out_[key] = value;
}

void JsonWriter::count(const char* key, std::size_t& value) {
  out_[key] = value;
}

void JsonWriter::flag(const char* key, bool& value, Written written) {
  if (written == Written::always || value) out_[key] = value;
}

void JsonWriter::text(const char* key, std::string& value, Written written) {
  if (written == Written::always || !value.empty()) out_[key] = value;
}

void JsonWriter::texts(const char* key, std::vector<std::string>& value, Written written) {
  if (written == Written::always || !value.empty()) out_[key] = value;
}

void JsonWriter::numbers(const char* key, std::vector<double>& value) {
  out_[key] = value;
}

void JsonWriter::put_numbers(const char* key, const double* numbers, std::size_t n) {
  out_[key] = std::vector<double>(numbers, numbers + n);
}

void JsonWriter::number_lists(const char* key, std::array<std::vector<double>, axis_count>& value) {
  out_[key] = value;
}

void JsonWriter::places(const char* key, std::vector<Coordinate>& value, Axis) {
  out_[key] = plain(value);
}

bool JsonWriter::point(const char* key, MachinePosition& value) {
  out_[key] = {value.x, value.y, value.z};
  return false;
}

void JsonWriter::word(const char* key, const char* word) {
  out_[key] = word;
}

void JsonWriter::part(const char* key, const std::function<void(JsonWriter&)>& own, Written written,
                      const std::function<void(JsonWriter&)>& usual) {
  json made = JsonWriter::written(own);
  if (written == Written::always || made != JsonWriter::written(usual)) out_[key] = std::move(made);
}

void JsonWriter::items(const char* key, std::size_t n, const std::function<void(JsonWriter&, std::size_t)>& each) {
  json& all = out_[key] = json::array();
  for (std::size_t i = 0; i < n; ++i) all.push_back(written([&each, i](JsonWriter& v) { each(v, i); }));
}

void JsonWriter::axes(const char* key, const std::function<void(JsonWriter&, Axis)>& own, Written written,
                      const std::function<void(JsonWriter&, Axis)>& usual) {
  for (const Axis a : all_axes) {
    json made = JsonWriter::written([&own, a](JsonWriter& v) { own(v, a); });
    if (written == Written::always || made != JsonWriter::written([&usual, a](JsonWriter& v) { usual(v, a); }))
      out_[key][axis_keys[index(a)]] = std::move(made);
  }
}

void JsonWriter::keyed(const char* key, std::map<std::string, std::string>& value) {
  if (!value.empty()) out_[key] = value;
}

void JsonWriter::group(const char* key, const std::function<void(JsonWriter&)>& how) {
  out_[key] = written(how);
}

void JsonWriter::unknown(json& value) {
  if (!value.is_object()) return;
  for (const auto& [key, each] : value.items())
    if (!out_.contains(key)) out_[key] = each;
}

}  // namespace ypsi
