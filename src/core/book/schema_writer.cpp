#include "core/book/schema_writer.h"

#include <cmath>

namespace ypsi {
namespace {

using Schema = SchemaWriter::json;

Schema of_type(const char* type) {
  return {{"type", type}};
}

Schema list_of(Schema item) {
  return {{"type", "array"}, {"items", std::move(item)}};
}

Schema exactly(Schema item, std::size_t n) {
  Schema all = list_of(std::move(item));
  all["minItems"] = all["maxItems"] = n;
  return all;
}

Schema coordinate(const std::string& of) {
  return {{"type", "number"}, {"description", "machine coordinate" + of}};
}

Schema coordinate(Axis axis) {
  return coordinate(std::string(" of ") + letter(axis));
}

}  // namespace

Schema SchemaWriter::written(const std::function<void(SchemaWriter&)>& how) {
  SchemaWriter v;
  how(v);
  return {{"type", "object"}, {"properties", std::move(v.properties_)}};
}

void SchemaWriter::add(const char* key, json schema) {
  properties_[key] = std::move(schema);
}

void SchemaWriter::number(const char* key, double&, NumberRange range, Written) {
  json of = of_type("number");
  if (std::isfinite(range.least)) of[range.above ? "exclusiveMinimum" : "minimum"] = range.least;
  if (std::isfinite(range.most)) of["maximum"] = range.most;
  add(key, std::move(of));
}

void SchemaWriter::number(const char* key, std::optional<double>&, NumberRange range) {
  double any = 0;
  number(key, any, range);
}

void SchemaWriter::count(const char* key, int&, Written) {
  add(key, of_type("integer"));
}

void SchemaWriter::count(const char* key, int&, int least, int most, Written) {
  add(key, {{"type", "integer"}, {"minimum", least}, {"maximum", most}});
}

void SchemaWriter::count(const char* key, std::size_t&) {
  add(key, {{"type", "integer"}, {"minimum", 0}});
}

void SchemaWriter::flag(const char* key, bool&, Written) {
  add(key, of_type("boolean"));
}

void SchemaWriter::text(const char* key, std::string&, Written) {
  add(key, of_type("string"));
}

void SchemaWriter::texts(const char* key, std::vector<std::string>&, Written) {
  add(key, list_of(of_type("string")));
}

void SchemaWriter::numbers(const char* key, std::vector<double>&) {
  add(key, list_of(of_type("number")));
}

void SchemaWriter::several(const char* key, std::size_t n) {
  add(key, exactly(of_type("number"), n));
}

void SchemaWriter::number_lists(const char* key, std::array<std::vector<double>, axis_count>&) {
  add(key, exactly(list_of(of_type("number")), axis_count));
}

void SchemaWriter::place(const char* key, Coordinate&, Axis axis) {
  add(key, coordinate(axis));
}

void SchemaWriter::place(const char* key, std::optional<Coordinate>&, Axis axis) {
  add(key, coordinate(axis));
}

void SchemaWriter::places(const char* key, std::vector<Coordinate>&, Axis axis) {
  add(key, list_of(coordinate(axis)));
}

bool SchemaWriter::point(const char* key, MachinePosition&) {
  add(key, exactly(coordinate(""), axis_count));
  return false;
}

void SchemaWriter::one_of(const char* key, const std::vector<const char*>& words) {
  add(key, {{"enum", words}});
}

void SchemaWriter::items(const char* key, json item, std::size_t most) {
  json all = list_of(std::move(item));
  if (most > 0) all["maxItems"] = most;
  add(key, std::move(all));
}

void SchemaWriter::members(const char* key, json each) {
  add(key, {{"type", "object"}, {"additionalProperties", std::move(each)}});
}

void SchemaWriter::keyed(const char* key, std::map<std::string, std::string>&) {
  members(key, of_type("string"));
}

}  // namespace ypsi
