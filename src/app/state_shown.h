#pragma once
// What the rail and *Positions only* say of the machine: its state in one word, and where the tool is.
#include <QColor>
#include <QString>

#include "app/session/session.h"
#include "core/procedures/machine_link.h"

namespace ypsi::app {

QString state_word(MachineState state);

struct StateShown {
  QString word;
  QColor colour;
  QString detail;  ///< what is waited for, the feed, the tool; may be empty
};
StateShown state_shown(const Session& session);

/// From work zero, mm; of the head that is looked by.
double work_place(const Session& session, Axis axis);

}  // namespace ypsi::app
