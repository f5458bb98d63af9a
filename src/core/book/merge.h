#pragma once
// A change to a book, taken back or done again after others were made.
#include "core/book/book.h"

namespace ypsi {

/// Three-way merge: `now` with what turns `from` into `to` done to it, and nothing else of it changed. Where `now` was
/// changed since at the same value, that of `to` is taken; so are lists of which one has grown or shrunk. Where the
/// steps per mm are others, what was measured since is carried over with them (change_steps_per_mm). The record is that
/// of `now`.
/// Example: from: fence “short”; to: fence “long”; now: fence “short”, screen in inches. Merged: “long”, in inches.
Book merged(Book now, Book from, const Book& to);

}  // namespace ypsi
