#pragma once
// What is fed with changed input, by its name on the command line. Each source beside this is one, and names itself.
#include <cstdint>
#include <map>
#include <string>

namespace ypsi::fuzz {

/// Feeds for so many seconds; 0 where nothing was found.
using Feed = int (*)(double seconds, std::uint64_t seed);

inline std::map<std::string, Feed>& doors() {
  static std::map<std::string, Feed> all;
  return all;
}

struct Door {
  Door(const char* name, Feed feed) { doors().emplace(name, feed); }
};

}  // namespace ypsi::fuzz
