#pragma once
// What the book and a controller both hold, by the controller's names (docs/link.md), so that a difference can be seen
// and settled, one by one.
#include <map>
#include <string>
#include <vector>

#include "core/book/book.h"
#include "core/procedures/machine_link.h"

namespace ypsi {

enum class SettingKind { steps, rate, acceleration, place, flag, turn };

struct BookSetting {
  std::string name;  ///< "axis.x.steps_per_mm"
  Axis axis{};
  SettingKind kind{};
  double value = 0;  ///< as the book has it; a flag is 0 or 1
};

/// Everything of the machine that a controller holds too; soft limits only where the book knows them.
std::vector<BookSetting> controller_settings(const MachineSetup& machine);

struct SettingDifference {
  BookSetting in_book;
  double in_controller = 0;
};
/// What the controller has of these, by name; what it does not know is left out.
std::map<std::string, double> read_back(const MachineLink& link, const std::vector<BookSetting>& settings);
/// Where it has something else, by more than rounding.
std::vector<SettingDifference> differences(const std::vector<BookSetting>& in_book,
                                           const std::map<std::string, double>& in_controller);

/// The book takes the controller's value: steps per mm with every stored position carried over. False where the book
/// has no such setting or the value cannot be.
bool take_from_controller(Book& book, const std::string& name, double value);

}  // namespace ypsi
