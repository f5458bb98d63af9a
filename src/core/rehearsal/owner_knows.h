#pragma once
// What a person at the machine has in hand without measuring it.
#include <optional>
#include <vector>

#include "core/book/book.h"

namespace ypsi {

struct OwnerKnows {
  std::vector<Instrument> instruments;               ///< by their data sheets
  std::vector<Tool> tools;                           ///< number and what is written on the shank
  std::optional<TouchPlate> plate;                   ///< as its maker says
  double rail_spacing = 0;                           ///< mm; 0: not known
  double cap_mm = 0, plate_mm = 0;                   ///< of a plate of layers, as its maker says; 0: of one piece
  std::vector<std::string> arming, emergency_stops;  ///< as MachineSetup has them
  VacuumBed vacuum;
  std::vector<Head> heads;  ///< by name and kind, with the blocks that work them
};

}  // namespace ypsi
