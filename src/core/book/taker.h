#pragma once
// Keys taken out of a book's JSON, with a sentence that says where it is damaged. For the sources that read and write
// the book's parts, nowhere else.
#include <fmt/format.h>

#include <nlohmann/json.hpp>
#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "core/result.h"

namespace ypsi {

/// What stops the reading of a book; thrown by its parts and caught by read_book() alone.
struct Refused {
  Error error;
};

[[noreturn]] inline void refuse(std::string code, std::string message, std::string where) {
  throw Refused{Error{std::move(code), std::move(message), std::move(where)}};
}

/// Takes known keys out of an object; what is left is unknown and kept. Values are moved: a record is long.
class Taker {
 public:
  Taker(nlohmann::json from, std::string path) : left_(std::move(from)), path_(std::move(path)) {
    if (left_.is_null()) left_ = nlohmann::json::object();
    if (!left_.is_object())
      refuse("wrong_type", "The book is damaged: an object is expected at “" + path_ + "”.", path_);
  }

  template <class T>
  void take(const char* key, T& into) {
    const auto it = left_.find(key);
    if (it == left_.end()) return;
    if (!it->is_null()) {
      try {
        into = it->get<T>();
      } catch (const nlohmann::json::exception&) {
        refuse("wrong_type", "The book is damaged: “" + where(key) + "” holds something of another kind.", where(key));
      }
    }
    left_.erase(it);
  }
  void take(const char* key, nlohmann::json& into) {
    const auto it = left_.find(key);
    if (it == left_.end()) return;
    if (!it->is_null()) into = std::move(*it);
    left_.erase(it);
  }
  void take(const char* key, std::optional<double>& into) {
    if (left_.contains(key) && !left_[key].is_null()) {
      double value = 0;
      take(key, value);
      into = value;
    } else {
      left_.erase(key);
    }
  }
  void take_positive(const char* key, double& into) {
    take(key, into);
    if (!(into > 0))
      refuse("out_of_range", "The book is damaged: “" + where(key) + "” must be above zero.", where(key));
  }
  nlohmann::json take_object(const char* key) {
    nlohmann::json value = nlohmann::json::object();
    take(key, value);
    return value;
  }
  nlohmann::json take_array(const char* key) {
    nlohmann::json value = nlohmann::json::array();
    take(key, value);
    if (!value.is_array())
      refuse("wrong_type", "The book is damaged: a list is expected at “" + where(key) + "”.", where(key));
    return value;
  }
  std::string where(const std::string& key) const { return path_.empty() ? key : path_ + "." + key; }
  nlohmann::json unknown() { return std::move(left_); }

 private:
  nlohmann::json left_;
  std::string path_;
};

template <class T, class Read>
void take_list(Taker& from, const char* key, std::vector<T>& into, Read read) {
  nlohmann::json list = from.take_array(key);
  into.reserve(list.size());
  for (std::size_t i = 0; i < list.size(); ++i)
    into.push_back(read(Taker(std::move(list[i]), fmt::format("{}[{}]", from.where(key), i))));
}

inline nlohmann::json base(const nlohmann::json& unknown) {
  return unknown.is_object() ? unknown : nlohmann::json::object();
}

inline void put(nlohmann::json& into, const char* key, const std::optional<double>& value) {
  if (value) into[key] = *value;
}

}  // namespace ypsi
