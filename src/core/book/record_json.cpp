#include "core/book/record_json.h"

#include <ostream>

namespace ypsi {

RecordJson RecordJson::from_text(std::string text) {
  RecordJson value;
  value.text_ = std::move(text);
  value.parsed_ = false;
  return value;
}

const nlohmann::json& RecordJson::get() const {
  if (!parsed_) {
    value_ = nlohmann::json::parse(text_, nullptr, false);
    parsed_ = true;
  }
  return value_;
}

nlohmann::json& RecordJson::edit() {
  (void)get();
  text_.clear();
  return value_;
}

std::ostream& operator<<(std::ostream& out, const RecordJson& value) {
  return out << value.text();
}

}  // namespace ypsi
