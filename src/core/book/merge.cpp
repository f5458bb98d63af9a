#include "core/book/merge.h"

#include <algorithm>
#include <cmath>
#include <set>

#include "core/book/book_description.h"
#include "core/book/changes.h"
#include "core/book/json_reader.h"
#include "core/book/json_writer.h"

namespace ypsi {
namespace {

using nlohmann::json;

/// A value that may not be there.
const json* find(const json& object, const std::string& key) {
  const auto at = object.find(key);
  return at == object.end() ? nullptr : &*at;
}

/// But for what carrying a coordinate over and back leaves of rounding.
bool same(const json* a, const json* b) {
  constexpr double rounding = 1e-9;
  if (!a || !b) return a == b;
  if (a->is_number() && b->is_number()) {
    const auto x = a->get<double>(), y = b->get<double>();
    return x == y || std::fabs(x - y) <= rounding * (1 + std::fabs(x));
  }
  if (a->type() != b->type() || a->size() != b->size()) return false;
  if (a->is_array())
    return std::equal(a->begin(), a->end(), b->begin(), [](const json& x, const json& y) { return same(&x, &y); });
  if (!a->is_object()) return *a == *b;
  return std::all_of(a->items().begin(), a->items().end(),
                     [b](const auto& item) { return same(&item.value(), find(*b, item.key())); });
}

/// What a value is to be; nothing where it is to be absent.
std::optional<json> merged(const json* now, const json* from, const json* to) {
  const auto taken = [](const json* value) { return value ? std::optional(*value) : std::nullopt; };
  if (same(now, from)) return taken(to);
  if (same(from, to)) return taken(now);
  const auto each_is = [&](auto is) { return now && from && to && is(*now) && is(*from) && is(*to); };
  if (each_is([](const json& j) { return j.is_object(); })) {
    std::set<std::string> keys;
    for (const json* each : {now, from, to})
      for (const auto& item : each->items()) keys.insert(item.key());
    json out = json::object();
    for (const std::string& key : keys)
      if (auto value = merged(find(*now, key), find(*from, key), find(*to, key))) out[key] = std::move(*value);
    return out;
  }
  if (each_is([now](const json& j) { return j.is_array() && j.size() == now->size(); })) {
    json out = json::array();
    for (std::size_t i = 0; i < now->size(); ++i) out.push_back(*merged(&now->at(i), &from->at(i), &to->at(i)));
    return out;
  }
  return taken(to);
}

}  // namespace

Book merged(Book now, Book from, const Book& to) {
  for (const Axis a : all_axes)
    for (Book* each : {&now, &from})
      if (each->machine.axis(a).steps_per_mm != to.machine.axis(a).steps_per_mm)
        change_steps_per_mm(*each, a, to.machine.axis(a).steps_per_mm);
  const json is = JsonWriter::of(now), was = JsonWriter::of(from), then = JsonWriter::of(to);
  Book out;
  try {
    JsonReader reader(*merged(&is, &was, &then), "");
    describe(reader, out);
  } catch (const Refused&) {
    out = to;  // two changes that do not go together: that which is asked for is done
  }
  out.history = std::move(now.history);
  return out;
}

}  // namespace ypsi
