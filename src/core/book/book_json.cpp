#include "core/book/book_json.h"

#include <fmt/format.h>
#include <simdjson.h>

#include <algorithm>

#include "core/book/book_description.h"
#include "core/book/earlier_books.h"
#include "core/book/json_reader.h"
#include "core/book/json_writer.h"
#include "core/book/schema_writer.h"
#include "core/checksum.h"

namespace ypsi {
namespace {

constexpr auto replace =
    nlohmann::json::error_handler_t::replace;  // text that is not UTF-8 is shown as such, not refused

using nlohmann::json;

namespace ondemand = simdjson::ondemand;

[[noreturn]] void refuse_entry(std::size_t index, std::string_view key) {
  const std::string where = fmt::format("history[{}].{}", index, key);
  refuse_damage("wrong_type", "“" + where + "” holds something of another kind.", where);
}

/// As it stands in the file, on one line. The whole text is known to be valid JSON.
std::string raw(ondemand::value value) {
  std::string text(std::string_view(simdjson::to_json_string(value)));
  if (text.find('\n') != std::string::npos) text = json::parse(text).dump(-1, ' ', false, replace);
  while (!text.empty() && std::string_view(" \t\r").find(text.back()) != std::string_view::npos) text.pop_back();
  return text;
}

Entry read_entry(ondemand::value in, std::size_t index) {
  ondemand::object fields;
  if (in.get_object().get(fields) != simdjson::SUCCESS)
    refuse_damage("wrong_type", fmt::format("an object is expected at “history[{}]”.", index),
                  fmt::format("history[{}]", index));
  static constexpr std::pair<std::string_view, std::string Entry::*> texts[] = {{"time", &Entry::time},
                                                                                {"sheet", &Entry::sheet},
                                                                                {"subject", &Entry::subject},
                                                                                {"instrument", &Entry::instrument},
                                                                                {"note", &Entry::note}};
  static constexpr std::pair<std::string_view, RecordJson Entry::*> values[] = {{"readings", &Entry::readings},
                                                                                {"result", &Entry::result},
                                                                                {"as_found", &Entry::as_found},
                                                                                {"as_left", &Entry::as_left}};
  Entry entry;
  entry.unknown = json::object();
  for (auto field : fields) {
    const std::string_view key = field.unescaped_key();
    ondemand::value value = field.value();
    const auto is_key = [&](const auto& known) { return known.first == key; };
    if (const auto* text = std::find_if(std::begin(texts), std::end(texts), is_key); text != std::end(texts)) {
      std::string_view words;
      if (!value.is_null() && value.get_string().get(words) != simdjson::SUCCESS) refuse_entry(index, key);
      entry.*(text->second) = words;
    } else if (const auto* part = std::find_if(std::begin(values), std::end(values), is_key);
               part != std::end(values)) {
      if (!value.is_null()) entry.*(part->second) = RecordJson::from_text(raw(value));
    } else if (key == "temperature_C") {
      if (double C = 0; value.get_double().get(C) == simdjson::SUCCESS) entry.temperature_C = C;
    } else if (key == "told_by_hand") {
      if (bool told = false; value.get_bool().get(told) == simdjson::SUCCESS) entry.told_by_hand = told;
    } else if (key == "withdraws") {
      if (double w = 0; value.get_double().get(w) == simdjson::SUCCESS && w >= 0)
        entry.withdraws = static_cast<std::size_t>(w);
    } else {
      const std::string name(key);
      entry.unknown[name] = json::parse(raw(value));
    }
  }
  return entry;
}

/// One entry on a line of its own.
void write_entry(const Entry& entry, std::string& into) {
  const auto put = [&into](const char* key, const std::string& value) {
    into += into.back() == '{' ? "\"" : ", \"";
    into += key;
    into += "\": ";
    into += value;
  };
  const auto quoted = [](const std::string& text) {
    const auto plain = [](unsigned char c) { return c >= 0x20 && c < 0x7f && c != '"' && c != '\\'; };
    if (std::all_of(text.begin(), text.end(), plain)) return '"' + text + '"';
    return json(text).dump(-1, ' ', false, replace);
  };
  into += "{";
  put("time", quoted(entry.time));
  put("sheet", quoted(entry.sheet));
  put("subject", quoted(entry.subject));
  put("instrument", quoted(entry.instrument));
  put("readings", entry.readings.text());
  put("result", entry.result.text());
  put("as_found", entry.as_found.text());
  put("as_left", entry.as_left.text());
  put("note", quoted(entry.note));
  if (entry.temperature_C) put("temperature_C", json(*entry.temperature_C).dump());
  if (entry.told_by_hand) put("told_by_hand", "true");
  if (entry.withdraws) put("withdraws", std::to_string(*entry.withdraws));
  if (entry.unknown.is_object())
    for (const auto& [key, value] : entry.unknown.items())
      put(quoted(key).substr(1, quoted(key).size() - 2).c_str(), value.dump(-1, ' ', false, replace));
  into += "}";
}

constexpr const char* checksum_key = "checksum";
constexpr std::string_view before_checksum = ",\n \"checksum\": \"", end_of_book = "\n}\n";

/// A book without a checksum (an older one, or one that another program wrote) claims nothing.
bool is_altered(std::string_view text) {
  const auto at = text.rfind(before_checksum);
  if (at == std::string_view::npos) return false;
  const std::string sum = checksum(text.substr(0, at));
  return text.substr(at + before_checksum.size()) != sum + '"' + std::string(end_of_book);
}

}  // namespace

json machine_json(const MachineSetup& machine) {
  return JsonWriter::of(machine);
}

Result<ReadBook> read_book(std::string_view text) {
  const auto damaged = [&] {
    return fail("not_json",
                text.empty() ? "The book's file is empty; open the previous save instead."
                             : "The book's file is cut off or is not a book at all; open the previous save instead.");
  };
  // The record is most of a book: it is read as text, entry by entry, once the whole is known to be valid.
  const simdjson::padded_string bytes(text);
  if (simdjson::dom::parser whole; whole.parse(bytes).error() != simdjson::SUCCESS) return damaged();
  ReadBook result;
  try {
    ondemand::parser parser;
    ondemand::document document = parser.iterate(bytes);
    ondemand::object fields;
    json rest = json::object();
    std::vector<Entry> history;
    if (document.get_object().get(fields) == simdjson::SUCCESS)
      for (auto field : fields) {
        const std::string key(std::string_view(field.unescaped_key()));
        ondemand::value value = field.value();
        if (key != "history") {
          rest[key] = json::parse(std::string_view(simdjson::to_json_string(value)));
          continue;
        }
        ondemand::array entries;
        if (value.is_null()) continue;
        history.reserve(text.size() / 400);  // about one entry
        if (value.get_array().get(entries) != simdjson::SUCCESS)
          refuse_damage("wrong_type", "a list is expected at “history”.", "history");
        for (auto entry : entries) history.push_back(read_entry(entry.value(), history.size()));
      }
    if (rest.value("format", json()) != "ypsilograph-book")
      refuse("not_a_book", "This file is not a machine book; choose a file whose name ends in .ypsi.", "format");
    const json version = rest.value("version", json());
    if (!version.is_number_integer() || version.get<std::int64_t>() < 1)
      refuse("wrong_type", "The book does not say its version; open the previous save instead.", "version");
    result.version = static_cast<int>(std::min<std::int64_t>(version.get<std::int64_t>(), 1'000'000));
    rest.erase("format");
    rest.erase("version");
    rest.erase(checksum_key);
    result.altered = is_altered(text);
    bring_up_to_date(rest);
    JsonReader reader(std::move(rest), "");
    describe(reader, result.book);
    result.book.history = std::move(history);
  } catch (const Refused& refused) {
    return tl::make_unexpected(refused.in_words("The book is damaged: "));
  } catch (const json::exception&) {
    return damaged();
  }
  return result;
}

std::string write_book(const Book& book) {
  json out = JsonWriter::of(book);
  out["format"] = "ypsilograph-book";
  out["version"] = book_version;
  out["history"] = json::array();
  std::string text = out.dump(1, ' ', false, replace) + "\n";
  // A string has no line end of its own, so this is the top level's.
  constexpr std::string_view place = "\n \"history\": []";
  std::string history;
  for (const auto& entry : book.history) {
    history += history.empty() ? "\n  " : ",\n  ";
    write_entry(entry, history);
  }
  if (const auto at = text.find(place); at != std::string::npos && !history.empty())
    text.insert(at + place.size() - 1, history + "\n ");
  text.resize(text.size() - end_of_book.size());
  const std::string sum = checksum(text);
  text += before_checksum;
  text += sum;
  text += '"';
  text += end_of_book;
  return text;
}

std::string book_schema() {
  using Schema = SchemaWriter::json;
  Schema all = SchemaWriter::of<Book>();
  const Schema text{{"type", "string"}}, anything = Schema::object();
  Schema entry{{"type", "object"}, {"properties", {{"time", text}, {"sheet", text}, {"subject", text}}}};
  for (const char* key : {"instrument", "note"}) entry["properties"][key] = text;
  for (const char* key : {"readings", "result", "as_found", "as_left"}) entry["properties"][key] = anything;
  entry["properties"]["temperature_C"] = {{"type", "number"}};
  entry["properties"]["told_by_hand"] = {{"type", "boolean"}};
  entry["properties"]["withdraws"] = {{"type", "integer"}, {"minimum", 0}};
  Schema properties{{"format", {{"const", "ypsilograph-book"}}}, {"version", {{"type", "integer"}, {"minimum", 1}}}};
  properties.update(all["properties"]);
  properties[checksum_key] = {{"type", "string"}, {"description", "CRC-32 of all before it, as the last member"}};
  properties["history"] = {{"type", "array"}, {"items", std::move(entry)}};
  Schema out{{"$schema", "https://json-schema.org/draft/2020-12/schema"},
             {"title", "Ypsilograph machine book"},
             {"description",
              "Lengths mm, rates mm/min, accelerations mm/s2. Unknown keys are kept and ignored. Made from the "
              "descriptions in src/core/book/book_description.h by `ypsilo book schema`."},
             {"type", "object"},
             {"required", {"format", "version"}},
             {"properties", std::move(properties)}};
  return out.dump(1) + "\n";
}

}  // namespace ypsi
