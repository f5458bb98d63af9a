#pragma once
// What a program is read with: the book's work zeros and tool lengths, told in the frame in use.
#include "core/book/book.h"
#include "core/program/interpreter.h"

namespace ypsi {

/// A frame without a zero is taken to lie where the one in use does.
ReadSetting read_setting(const Book& book);
/// Where G28 (28) and G30 (30) go: the place that is kept under that name, as "G28". None where there is no such place;
/// read_setting() then takes the end of the travel at home.
std::optional<MachinePosition> reference_place(const Book& book, int word);
/// Whether reading it again with other zeros or lengths would give other motions.
bool depends_on_setting(const Program& program);

}  // namespace ypsi
