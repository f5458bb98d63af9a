#pragma once
// The book as one JSON document (contract: `*.ypsi`, schema/book.schema.json).
#include <string>
#include <string_view>

#include "core/book/book.h"

namespace ypsi {

inline constexpr int book_version = 1;

struct ReadBook {
  Book book;
  int version = book_version;
  /// Its bytes are not those that were written last: a bit has flipped, or somebody has edited it by hand.
  bool altered = false;
  bool from_later_version() const { return version > book_version; }  ///< may be read, must not be written
};

/// Errors: `not_json` (cut off, or not JSON at all), `not_a_book` (another format), `wrong_type` or `out_of_range` with
/// the key in `where`.
Result<ReadBook> read_book(std::string_view text);

/// The machine's part of a document, as it stands there.
nlohmann::json machine_json(const MachineSetup& machine);

/// The whole document, indented, ending in a newline; its last member "checksum" is that of all before it.
std::string write_book(const Book& book);

/// The JSON Schema (2020-12) of the whole document, indented, ending in a newline: schema/book.schema.json.
std::string book_schema();

}  // namespace ypsi
