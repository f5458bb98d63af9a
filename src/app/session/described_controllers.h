#pragma once
// The controllers that are described: those that ship with the program, and the owner's own.
#include <QString>
#include <QStringList>
#include <vector>

#include "link/lines/controller_description.h"

namespace ypsi::app {

struct DescribedController {
  QString id;    ///< its file's name without what all have at their end: "asked"
  QString name;  ///< as it is called in it
  bool own = false;
};

/// By their names; an owner's own of the same id comes before one that ships. Files that cannot be read are left out.
std::vector<DescribedController> described_controllers();
/// Error: what reading it says.
Result<link::ControllerDescription> read_described(const QString& id);
/// Takes it among the owner's own; its name becomes its id. Error: `unwritable`.
Result<QString> keep_described(const link::ControllerDescription& description);
/// What its line does not do, and who does it then, in sentences; the worst first.
QStringList what_its_line_leaves(const link::ControllerDescription& description);
/// Where the owner's own lie.
QString own_controllers_folder();

}  // namespace ypsi::app
