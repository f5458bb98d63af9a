#pragma once
// How a controller that takes G-code a line at a time is talked to, as its owner, or whoever sold it, has described it:
// `*.controller.json`, an open format of the project's own (docs/controllers.md). What it leaves out is asked of the
// owner. Nothing in a description runs: it is patterns, and lines with places to fill.
#include <map>
#include <nlohmann/json.hpp>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/procedures/machine_link.h"
#include "link/lines/line_pattern.h"

namespace ypsi::link {

/// What goes down the line for an act: one of the three, or none, and then the line cannot do it.
struct Utterance {
  std::string block;  ///< a line that is answered as blocks are, in its turn
  std::string text;   ///< a line that nobody answers, sent at once
  std::string bytes;  ///< hexadecimal, "13" or "1b 5a", sent at once and without a line's end
  bool said() const { return !block.empty() || !text.empty() || !bytes.empty(); }
  bool operator==(const Utterance&) const = default;
};

/// When a block's answer comes.
enum class Answered {
  taken,  ///< once it was taken into what waits
  done    ///< once the machine has done it
};

struct LineSetup {
  int baud = 115200;
  std::string ending = "\n";
};

struct Greeting {
  std::string send, expect;
  double within_s = 3;
};

struct BlockTalk {
  std::string accepted, refused, again;        ///< patterns; `again`: not now, the same once more. Group `why`
  std::map<std::string, std::string> reasons;  ///< in words, by what `why` says
  int in_flight_blocks = 1;
  std::optional<double> in_flight_bytes;  ///< with their ends of line; instead of the count of blocks
  Answered answered = Answered::taken;
  std::string settle;  ///< a block whose answer comes once all before it is done
};

struct ReportTalk {
  Utterance ask;  ///< none: it tells by itself
  double every_s = 0.2;
  std::string answer;  ///< groups state, mx my mz (machine), wx wy wz (work), feed, spindle, inputs
};

struct ActTalk {
  Utterance hold, go_on, abandon, stop, home, jog, end_jog, feed_override;
};

struct ProbeTalk {
  std::string block, answer;  ///< groups contact, mx my mz or wx wy wz
};

struct DescribedSetting {
  Utterance get;       ///< a block
  std::string answer;  ///< group value
  std::string set;     ///< a block with {value}
  int digits = 3;      ///< that it takes behind the point
  std::string called;  ///< at its own screen
};

/// What its owner knows of it, or has seen it do at the bench. What is not said is taken for no.
struct TrustTalk {
  bool keeps_place_on_hold = false;  ///< a hold slows down on the path and loses no step
  bool keeps_place_on_stop = false;  ///< nor does a stop
  bool has_limits = false;           ///< it refuses by itself what would pass a limit
  bool operator==(const TrustTalk&) const = default;
};

struct ControllerDescription {
  std::string name;
  LineSetup line;
  Greeting greeting;
  BlockTalk block;
  ReportTalk report;
  std::map<std::string, std::string> states;  ///< by the word that it says: ours
  std::map<std::string, std::string> inputs;  ///< by its word or letter: home_x, far_x, probe, emergency_stop
  ActTalk acts;
  ProbeTalk probe;
  std::string trouble;  ///< a line that comes by itself when it has ended what it did; group why
  std::map<std::string, DescribedSetting> settings;  ///< by our name
  std::vector<std::string> takes_not;                ///< words that it does not understand: "G10", "M6"
  TrustTalk trust;
  nlohmann::json unknown;

  bool reports() const { return !report.answer.empty(); }
  bool takes(std::string_view word) const;
  /// It tells where it is in the work's coordinates and not in the machine's.
  bool tells_work_alone() const;
};

/// Errors, with the place: `not_json`, `wrong_type`, `missing`, `out_of_range`, `bad_pattern`, `newer`.
Result<ControllerDescription> read_controller(std::string_view text);
/// As read_controller() reads it, with a line end at its end.
std::string write_controller(const ControllerDescription& description);
/// JSON Schema 2020-12, as shipped in schema/controller.schema.json.
std::string controller_schema();
/// What of it would be refused when read, first things first; none where nothing.
std::optional<Error> flaw_of(const ControllerDescription& description);

/// The bytes that "13 1b" means. Error: `out_of_range`.
Result<std::string> bytes_of(const std::string& hexadecimal);
/// "creep {axis} {distance}" with its places filled: {{"axis", "X"}, {"distance", "1.500"}}.
std::string filled(std::string_view text, const std::map<std::string, std::string>& places);
/// Sets an input by its name; false where there is none of that name.
bool set_input(MachineInputs& inputs, std::string_view name, bool on);

}  // namespace ypsi::link
