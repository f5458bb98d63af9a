#include "cli/book_new.h"

#include <fmt/format.h>

#include <cerrno>
#include <cstdio>
#include <memory>

#include "cli/calc.h"
#include "core/book/book_json.h"

namespace ypsi::cli {
namespace {

Result<void> write_new(const std::string& file, const std::string& text) {
  // Made only where nothing is: "x", C11 7.21.5.3.
  const std::unique_ptr<std::FILE, int (*)(std::FILE*)> to(std::fopen(file.c_str(), "wbx"), &std::fclose);
  if (!to && errno == EEXIST)
    return fail("exists", fmt::format("“{}” is there already and was left as it is; take another name.", file), "FILE");
  if (!to || std::fwrite(text.data(), 1, text.size(), to.get()) != text.size() || std::fflush(to.get()) != 0)
    return fail("not_written", fmt::format("“{}” cannot be written; check the folder and the room on the disk.", file),
                "FILE");
  return {};
}

}  // namespace

int new_book(const FirstAnswers& answers, const std::string& file, std::ostream& out) {
  const auto refused = [&](const Error& error) {
    out << error_json(error).dump(1, ' ', false, nlohmann::json::error_handler_t::replace) << "\n";
    return 2;
  };
  const auto book = first_book(answers);
  if (!book) return refused(book.error());
  if (const auto written = write_new(file, write_book(*book)); !written) return refused(written.error());
  out << fmt::format("{}: the book of {} ({}), instruments: {}\n", file, answers.name, answers.kind,
                     book->instruments.size());
  return 0;
}

}  // namespace ypsi::cli
