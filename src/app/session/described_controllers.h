#pragma once
// The controllers that are described: those that ship with the program, and the owner's own.
#include <QString>
#include <QStringList>
#include <vector>

#include "link/lines/controller_description.h"

namespace ypsi::app {

struct DescribedController {
  QString id;    ///< its file's name without what all have at their end: "asked"
  QString name;  ///< as it is called in it; its id where it cannot be used
  bool own = false;
};

/// By their names; an owner's own of the same id comes before one that ships. One that cannot be used is among them:
/// read_described() says why.
std::vector<DescribedController> described_controllers();
/// Error: what reading it says.
Result<link::ControllerDescription> read_described(const QString& id);
/// Keeps it among the owner's own, under a file name made from its name, and gives its id. `was`: the id under which
/// it was kept before; one of another controller is not written over. Errors: its flaw, `taken`, `not_written`.
Result<QString> keep_described(const link::ControllerDescription& description, const QString& was = {});
/// What its line does not do, and who does it then, in sentences; the worst first.
QStringList what_its_line_leaves(const link::ControllerDescription& description);
}  // namespace ypsi::app
