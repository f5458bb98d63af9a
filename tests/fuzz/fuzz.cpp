// Feeds changed input to one door. Usage: fuzz DOOR [SECONDS [SEED]]; without a door it names them.
#include <cstdio>
#include <cstdlib>

#include "fuzz/door.h"

int main(int argc, char** argv) {
  const auto& doors = ypsi::fuzz::doors();
  if (const auto door = doors.find(argc > 1 ? argv[1] : ""); door != doors.end())
    return door->second(argc > 2 ? std::atof(argv[2]) : 5, argc > 3 ? std::strtoull(argv[3], nullptr, 10) : 1);
  std::fprintf(stderr, "Usage: fuzz DOOR [SECONDS [SEED]]; the doors:");
  for (const auto& [name, feed] : doors) std::fprintf(stderr, " %s", name.c_str());
  std::fprintf(stderr, "\n");
  return 2;
}
