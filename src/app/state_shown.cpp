#include "app/state_shown.h"

#include <QCoreApplication>

#include "app/session/book_editor.h"
#include "app/session/job_session.h"
#include "app/session/machine_session.h"
#include "app/theme/theme.h"
#include "app/to_q.h"

namespace ypsi::app {
namespace {

struct StateWords {
  Q_DECLARE_TR_FUNCTIONS(StateWords)
};

}  // namespace

QString state_word(MachineState state) {
  switch (state) {
    case MachineState::offline:
      return StateWords::tr("Offline");
    case MachineState::not_homed:
      return StateWords::tr("Not homed");
    case MachineState::ready:
      return StateWords::tr("Ready");
    case MachineState::moving:
      return StateWords::tr("Moving");
    case MachineState::cutting:
      return StateWords::tr("Cutting");
    case MachineState::held:
      return StateWords::tr("Held");
    case MachineState::tool_change:
      return StateWords::tr("Tool change");
    case MachineState::stopped:
      return StateWords::tr("Stopped");
    case MachineState::emergency_stop:
      return StateWords::tr("Emergency stop");
  }
  return {};
}

StateShown state_shown(const Session& session) {
  const MachineStatus& s = session.machine().status();
  // At a pause of a job the controller stands ready, but what it waits for is the tool, or the dial; and the trace of a
  // perimeter is a program to it, but cuts nothing.
  const bool waits = session.job().awaited() && s.state == MachineState::ready;
  const bool traces = s.state == MachineState::cutting && !session.job().cutting();
  const MachineState state = waits && session.job().tool_awaited() > 0 ? MachineState::tool_change
                             : waits                                   ? MachineState::held
                             : traces                                  ? MachineState::moving
                                                                       : s.state;
  const bool by_hand = session.machine().hands() != nullptr;
  const QString word = s.beam_on ? StateWords::tr("Beam on")
                       : by_hand && (state == MachineState::ready || state == MachineState::moving)
                           ? StateWords::tr("By hand")
                           : state_word(state);
  const QColor colour = s.beam_on || state == MachineState::emergency_stop || state == MachineState::stopped
                            ? theme().red
                        : state == MachineState::not_homed || state == MachineState::held ||
                                state == MachineState::tool_change || state == MachineState::offline
                            ? theme().ochre
                            : theme().teal;
  QString detail;
  if (s.state == MachineState::not_homed)
    detail = StateWords::tr("Machine › Home, or Ctrl+H");
  else if (state == MachineState::tool_change)
    detail = StateWords::tr("Put tool %1 in").arg(waits ? session.job().tool_awaited() : s.wanted_tool);
  else if (waits)
    detail = StateWords::tr("Set the dial to %1").arg(session.job().awaited()->dial->position, 0, 'f', 1);
  else if (const Tool* tool = session.editor().book().tool(s.tool))
    detail = StateWords::tr("T%1 · %2").arg(s.tool).arg(to_q(tool->name));
  if (s.feed > 0) detail = StateWords::tr("%1 mm/min").arg(QString::number(s.feed, 'f', 0)) + "\n" + detail;
  return {word, colour, detail};
}

double work_place(const Session& session, Axis axis) {
  const MachineStatus& s = session.machine().status();
  return s.position[axis] + session.machine().looks_beside(axis) - s.work_zero[axis];
}

}  // namespace ypsi::app
