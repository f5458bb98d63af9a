// The described controller's file: read, written, its schema.
#include <fmt/format.h>

#include <algorithm>
#include <array>

#include "core/book/json_reader.h"
#include "core/book/json_writer.h"
#include "core/book/schema_writer.h"
#include "link/lines/controller_description.h"

namespace ypsi::link {
namespace {

using nlohmann::json;
constexpr const char* format_word = "ypsilograph-controller";
constexpr int controller_version = 1;
constexpr int most_baud = 4'000'000, most_in_flight = 1000, most_digits = 9;
constexpr NumberRange seconds_range{0.02, 60};
constexpr std::array<std::pair<Answered, const char*>, 2> answered_words{
    {{Answered::taken, "taken"}, {Answered::done, "done"}}};

}  // namespace

template <class V>
void describe(V& v, Utterance& u) {
  v.text("block", u.block, sparse);
  v.text("text", u.text, sparse);
  v.text("bytes", u.bytes, sparse);
}

template <class V>
void describe(V& v, LineSetup& l) {
  v.count("baud", l.baud, 1, most_baud);
  v.text("ending", l.ending);
}

template <class V>
void describe(V& v, Greeting& g) {
  v.text("send", g.send, sparse);
  v.text("expect", g.expect, sparse);
  v.number("within_s", g.within_s, seconds_range);
}

template <class V>
void describe(V& v, BlockTalk& b) {
  v.text("accepted", b.accepted);
  v.text("refused", b.refused, sparse);
  v.text("again", b.again, sparse);
  v.keyed("reasons", b.reasons);
  v.count("in_flight_blocks", b.in_flight_blocks, 1, most_in_flight);
  v.number("in_flight_bytes", b.in_flight_bytes, NumberRange{1, 1e6});
  v.choice("answered", b.answered, answered_words);
  v.text("settle", b.settle, sparse);
}

template <class V>
void describe(V& v, ReportTalk& r) {
  v.object("ask", r.ask, sparse);
  v.number("every_s", r.every_s, seconds_range);
  v.text("answer", r.answer, sparse);
}

template <class V>
void describe(V& v, ActTalk& a) {
  v.object("hold", a.hold, sparse);
  v.object("continue", a.go_on, sparse);
  v.object("abandon", a.abandon, sparse);
  v.object("stop", a.stop, sparse);
  v.object("home", a.home, sparse);
  v.object("jog", a.jog, sparse);
  v.object("end_jog", a.end_jog, sparse);
  v.object("override", a.feed_override, sparse);
}

template <class V>
void describe(V& v, ProbeTalk& p) {
  v.text("block", p.block, sparse);
  v.text("answer", p.answer, sparse);
}

template <class V>
void describe(V& v, DescribedSetting& s) {
  v.object("get", s.get, sparse);
  v.text("answer", s.answer, sparse);
  v.text("set", s.set, sparse);
  v.count("digits", s.digits, 0, most_digits);
  v.text("called", s.called, sparse);
}

template <class V>
void describe(V& v, TrustTalk& t) {
  v.flag("keeps_place_on_hold", t.keeps_place_on_hold, sparse);
  v.flag("keeps_place_on_stop", t.keeps_place_on_stop, sparse);
  v.flag("has_limits", t.has_limits, sparse);
}

template <class V>
void describe(V& v, ControllerDescription& c) {
  v.text("name", c.name);
  v.object("line", c.line, sparse);
  v.object("greeting", c.greeting, sparse);
  v.object("block", c.block);
  v.object("report", c.report, sparse);
  v.keyed("states", c.states);
  v.keyed("inputs", c.inputs);
  v.object("acts", c.acts, sparse);
  v.object("probe", c.probe, sparse);
  v.text("trouble", c.trouble, sparse);
  v.keyed("settings", c.settings);
  v.texts("takes_not", c.takes_not, sparse);
  v.object("trust", c.trust, sparse);
  v.unknown(c.unknown);
}

Result<ControllerDescription> read_controller(std::string_view text) {
  json in = json::parse(text, nullptr, false);
  if (!in.is_object())
    return fail("not_json", "The file is no description of a controller, or it is cut off; choose another file.");
  const auto format = in.find("format"), of_version = in.find("version");
  if (format == in.end() || *format != format_word)
    return fail("wrong_type",
                fmt::format("The file does not say that it is a description of a controller: its "
                            "“format” is to be “{}”.",
                            format_word),
                "format");
  if (of_version == in.end() || !of_version->is_number_integer() || of_version->get<long long>() < 1)
    return fail("wrong_type", "The description's “version” is to be a whole number from 1.", "version");
  if (of_version->get<long long>() > controller_version)
    return fail("newer",
                "The description is of a later kind than this version of the program reads; update the program.",
                "version");
  in.erase("format");
  in.erase("version");
  ControllerDescription read;
  try {
    JsonReader reader(std::move(in), {});
    describe(reader, read);
  } catch (const Refused& refused) {
    return tl::make_unexpected(refused.in_words("The description cannot be used: "));
  }
  if (auto flaw = flaw_of(read)) return tl::make_unexpected(std::move(*flaw));
  return read;
}

std::string write_controller(const ControllerDescription& description) {
  const json own = JsonWriter::of(description);
  nlohmann::ordered_json out{{"format", format_word}, {"version", controller_version}};
  for (const char* first : {"name", "line", "greeting", "block", "report", "states", "inputs", "acts", "probe"})
    if (own.contains(first)) out[first] = own[first];
  for (const auto& [key, value] : own.items())
    if (!out.contains(key)) out[key] = value;
  return out.dump(1, ' ', false, nlohmann::ordered_json::error_handler_t::replace) + "\n";
}

std::string controller_schema() {
  using Schema = SchemaWriter::json;
  Schema all = SchemaWriter::of<ControllerDescription>();
  Schema properties{{"format", {{"const", format_word}}},
                    {"version", {{"type", "integer"}, {"minimum", 1}, {"maximum", controller_version}}}};
  properties.update(all["properties"]);
  properties["block"]["required"] = {"accepted"};
  const Schema out{{"$schema", "https://json-schema.org/draft/2020-12/schema"},
                   {"title", "Ypsilograph described controller"},
                   {"description",
                    "How a controller is talked to that takes G-code a line at a time; docs/controllers.md. Made from "
                    "src/link/lines by `ypsilo controller schema`."},
                   {"type", "object"},
                   {"required", {"format", "version", "name", "block"}},
                   {"properties", std::move(properties)}};
  return out.dump(1) + "\n";
}

}  // namespace ypsi::link
