#pragma once
// What a program is read with: the book's work zeros and tool lengths, told in the frame in use.
#include "core/book/book.h"
#include "core/program/interpreter.h"

namespace ypsi {

/// A frame without a zero is taken to lie where the one in use does.
ReadSetting read_setting(const Book& book);
/// Whether reading it again with other zeros or lengths would give other motions.
bool depends_on_setting(const Program& program);

}  // namespace ypsi
