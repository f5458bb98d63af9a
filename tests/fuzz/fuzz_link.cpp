// Feeds bytes made from good ones to both ends of the link. A finding is a crash or a sanitizer's report; bounds on
// what piles up are checked here.
#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <random>

#include "fuzz/door.h"
#include "link/client.h"
#include "link/in_process.h"
#include "standin/served_machine.h"

namespace ypsi {
namespace fuzz_link {
namespace {

/// Says what it likes, whatever it is told.
class Babbler final : public link::ByteDevice {
 public:
  std::string next, state;
  void receive(std::string_view bytes) override {
    if (!bytes.starts_with("1 ") || bytes.find("settings") == bytes.npos) return;
    next += state + link::up_line(R"({"answer":1,"value":{"axis.x.steps_per_mm":80,"work.frame":0}})");
  }
  std::string take_output() override { return std::exchange(next, {}); }
  void poll(double) override {}
  void closed() override {}
  bool line_up() const override { return true; }
};

std::string mutate(std::string bytes, std::mt19937_64& random) {
  for (auto n = random() % 6; n-- > 0 && !bytes.empty();) {
    const std::size_t at = random() % bytes.size();
    switch (random() % 6) {
      case 0:
        bytes[at] = static_cast<char>(random());
        break;
      case 1:
        bytes.erase(at, 1 + random() % 4);
        break;
      case 2:
        bytes.insert(at, 1, static_cast<char>(random()));
        break;
      case 3:
        bytes.insert(at, bytes.substr(at / 2, random() % 40));
        break;
      case 4:
        bytes.insert(at, link::act_bytes(static_cast<link::Act>(1 + random() % 6)));
        break;
      default:
        bytes.resize(at);
    }
  }
  return bytes;
}

const char* const payloads[] = {
    R"({"hello":{"link":2,"name":"x"}})",
    R"({"do":"begin"})",
    R"({"do":"end"})",
    R"({"do":"home"})",
    R"({"do":"get","name":"axis.x.steps_per_mm"})",
    R"({"do":"set","name":"work.g55.z_mm","value":-12.5})",
    R"({"do":"set","name":"axis.z.max_rate_mm_min","value":1e300})",
    R"({"do":"jog","axis":"x","distance_mm":5,"rate_mm_min":300})",
    R"({"do":"read_blade","axis":"y","height_mm":1e9,"turned":true,"instrument":"indicator"})",
    R"({"do":"read_sweep","radius_mm":1e9,"angle_deg":-1e9,"instrument":"indicator"})",
    R"({"do":"measure","feature":{"kind":"inside","along":"x","at_mm":[1,2,3],"other_mm":[4,5,6],"nominal_mm":7},"instrument":"caliper"})",
    R"({"do":"clamp","x_mm":100,"y_mm":100})",
    R"({"do":"speed","factor":20})",
    "12:G1 X10 F600",
    "13:G38.2 Z-5 F60",
    "14:G2 X1 Y1 I3 J4",
    "15:S9000 M3 (röhre)",
    "4294967295:G91 G1 X1e9 F1"};

const char* const objects[] = {
    R"({"done":1,"credits":200})",
    R"({"again":1})",
    R"({"answer":1,"value":3.5})",
    R"({"answer":2,"error":{"code":"limit","message":"no","where":""}})",
    R"({"hello":{"name":"x","version":"1","axes":["x"],"capabilities":["simulated"],"look_ahead":9,"boot":1},"link":2})",
    R"({"state":{"state":"ready","machine_mm":[1,2,3],"work_zero_mm":[0,0,0],"work_frame":54,"homed":[true,true,true],"block":1,"feed_mm_min":0,"feed_override":1,"spindle_rpm":0,"tool":1,"wanted_tool":0,"tool_offset_mm":0,"inputs":{"home":[false,false,false],"far":[false,true,false],"probe":false,"emergency_stop":false},"probed":{"count":0,"contact":false,"machine_mm":[0,0,0]},"homing":{"count":2,"shift_mm":[0.01,0,-0.02]},"ran_dry":0,"message":""},"after":1})",
    R"({"answer":3,"value":{"axis.x.steps_per_mm":81,"axis.x.soft_max_mm":-1e300}})",
    R"({"refused":{"code":"taken","message":"busy","where":""}})"};

int run(double seconds, std::uint64_t seed) {
  std::mt19937_64 random(seed);
  const auto begin = std::chrono::steady_clock::now();
  const auto elapsed = [&] { return std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count(); };
  std::size_t rounds = 0, told = 0;
  while (elapsed() < seconds) {
    // The controller's end.
    auto machine = standin::ServedMachine::from_scenario(R"({"format":"ypsilograph-scenario","version":1,
      "tools":[{"number":1}],"stock":{"size_mm":[100,100,10]},"setter":{"at_mm":[10,10]},
      "instruments":{"caliper":{"resolution_mm":0.01},"indicator":{"resolution_mm":0.001}}})")
                       .value();
    machine->receive(link::down_line(0, payloads[0]));
    double now = 0;
    std::uint32_t number = 1;
    for (int i = 0; i < 60; ++i) {
      std::string line = link::down_line(number, payloads[random() % std::size(payloads)]);
      if (random() % 3 == 0)
        line = mutate(line, random);
      else if (random() % 8 != 0)
        ++number;
      machine->receive(line);
      machine->advance(0.02);
      machine->poll(now += 0.02);
      told += machine->take_output().size();
    }
    // The host's end.
    Babbler babbler;
    link::Client client(std::make_unique<link::InProcess>(babbler, "babbler"));
    babbler.state = link::up_line(objects[5]);
    babbler.next = link::up_line(objects[4]);
    if (!client.open(0.05)) return std::fprintf(stderr, "the handshake failed\n"), 1;
    for (int i = 0; i < 60; ++i) {
      std::string object = objects[random() % std::size(objects)];
      // Half the time the sum is right and the object is not.
      babbler.next = random() % 2 ? link::up_line(mutate(object, random) + "}") : mutate(link::up_line(object), random);
      (void)client.surroundings();
      (void)client.send("G1 X1", 1);
      (void)client.set_setting("work.frame", 1);
      (void)client.jog(Axis::x, 1, 100);
      told += client.refusals().size() + client.settings().size();
      client.poll();
      if (client.wire().room() > 4096) return std::fprintf(stderr, "credits without bound\n"), 1;
    }
    ++rounds;
  }
  std::printf("link: %zu rounds, %zu bytes told, no finding\n", rounds, told);
  return 0;
}

const fuzz::Door door("link", run);

}  // namespace
}  // namespace fuzz_link
}  // namespace ypsi
