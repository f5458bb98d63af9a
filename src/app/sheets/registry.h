#pragma once
// All sheets in the order of the work. Adding one is a file pair and its line here.
#include <functional>
#include <vector>

#include "app/sheets/sheet.h"

namespace ypsi::app {

struct SheetInfo {
  QString id, group, title;
  std::function<Sheet*(Session&)> make;
};

const std::vector<SheetInfo>& sheet_registry();
QString sheet_title(const QString& id);

}  // namespace ypsi::app
