#pragma once
// A value of the record that is parsed when it is first looked at: a record of years is long, and most of it is only
// kept and written back.
#include <iosfwd>
#include <nlohmann/json.hpp>
#include <string>

namespace ypsi {

class RecordJson {
 public:
  RecordJson() = default;  ///< null
  RecordJson(nlohmann::json value) : value_(std::move(value)) {}
  RecordJson(nlohmann::json::initializer_list_t list) : value_(list) {}
  /// `text` is one valid JSON value.
  static RecordJson from_text(std::string text);

  const nlohmann::json& get() const;
  operator const nlohmann::json&() const { return get(); }
  /// The value as JSON text on one line.
  std::string text() const { return text_.empty() ? get().dump(-1, ' ', false, replace) : text_; }

  bool is_object() const { return get().is_object(); }
  bool empty() const { return get().empty(); }
  std::size_t size() const { return get().size(); }
  bool contains(const std::string& key) const { return get().contains(key); }
  auto find(const std::string& key) const { return get().find(key); }
  auto begin() const { return get().begin(); }
  auto end() const { return get().end(); }
  auto items() const { return get().items(); }
  template <class T>
  auto value(const std::string& key, const T& otherwise) const {
    return get().value(key, otherwise);
  }
  template <class Key>
  const nlohmann::json& at(const Key& key) const {
    return get().at(key);
  }
  nlohmann::json& operator[](const std::string& key) { return edit()[key]; }
  void push_back(nlohmann::json value) { edit().push_back(std::move(value)); }

  friend bool operator==(const RecordJson& a, const RecordJson& b) {
    return (!a.text_.empty() && a.text_ == b.text_) || a.get() == b.get();
  }
  friend bool operator==(const RecordJson& a, const nlohmann::json& b) { return a.get() == b; }

 private:
  static constexpr auto replace = nlohmann::json::error_handler_t::replace;
  nlohmann::json& edit();
  mutable nlohmann::json value_;
  mutable bool parsed_ = true;
  std::string text_;  ///< as it was read; empty once edited
};

std::ostream& operator<<(std::ostream& out, const RecordJson& value);

}  // namespace ypsi
