// Feeds changed input to one door. Usage: fuzz calc|drawing|lines|link|program|scenario [SECONDS [SEED]].
#include <cstdint>
#include <cstdio>
#include <cstdlib>
#include <cstring>

namespace ypsi {

// Each returns 0 where nothing was found.
namespace fuzz_calc {
int run(double seconds, std::uint64_t seed);
}
namespace fuzz_drawing {
int run(double seconds, std::uint64_t seed);
}
namespace fuzz_lines {
int run(double seconds, std::uint64_t seed);
}
namespace fuzz_link {
int run(double seconds, std::uint64_t seed);
}
namespace fuzz_program {
int run(double seconds, std::uint64_t seed);
}
namespace fuzz_scenario {
int run(double seconds, std::uint64_t seed);
}

}  // namespace ypsi

int main(int argc, char** argv) {
  constexpr struct {
    const char* name;
    int (*run)(double, std::uint64_t);
  } doors[] = {{"calc", ypsi::fuzz_calc::run},       {"drawing", ypsi::fuzz_drawing::run},
               {"lines", ypsi::fuzz_lines::run},     {"link", ypsi::fuzz_link::run},
               {"program", ypsi::fuzz_program::run}, {"scenario", ypsi::fuzz_scenario::run}};
  for (const auto& door : doors)
    if (argc > 1 && std::strcmp(argv[1], door.name) == 0)
      return door.run(argc > 2 ? std::atof(argv[2]) : 5, argc > 3 ? std::strtoull(argv[3], nullptr, 10) : 1);
  std::fprintf(stderr, "Usage: fuzz calc|drawing|lines|link|program|scenario [SECONDS [SEED]]\n");
  return 2;
}
