// What a whole check is measured beside: a process that reads a file and its numbers with std::from_chars, and no more.
#include <charconv>
#include <cstdio>
#include <fstream>
#include <string>

int main(int argc, char** argv) {
  if (argc < 2) return 2;
  std::ifstream file(argv[1], std::ios::binary | std::ios::ate);
  if (!file) return 2;
  std::string text(static_cast<std::size_t>(file.tellg()), '\0');
  file.seekg(0);
  file.read(text.data(), static_cast<std::streamsize>(text.size()));
  double sum = 0;
  std::size_t numbers = 0;
  const char* const end = text.data() + text.size();
  for (const char* at = text.data(); at < end;) {
    double value = 0;
    const bool may_begin = (*at >= '0' && *at <= '9') || *at == '-' || *at == '.';
    const auto read =
        may_begin ? std::from_chars(at, end, value) : std::from_chars_result{at, std::errc::invalid_argument};
    if (read.ec == std::errc{}) {
      sum += value;
      ++numbers;
      at = read.ptr;
    } else {
      ++at;
    }
  }
  std::printf("%zu numbers, sum %g\n", numbers, sum);
}
