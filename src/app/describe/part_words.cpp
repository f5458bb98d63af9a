#include "app/describe/part_words.h"

#include <QCoreApplication>
#include <QStringList>

#include "app/state_shown.h"
#include "app/to_q.h"
#include "link/messages.h"

namespace ypsi::app {
namespace {

using link::Part;

struct PartWords {
  Q_DECLARE_TR_FUNCTIONS(part_words)
};

QString mm(double value) {
  return QString::number(value, 'f', 2);
}

QString place(const MachinePosition& at) {
  return PartWords::tr("X %1 · Y %2 · Z %3").arg(mm(at.x), mm(at.y), mm(at.z));
}

}  // namespace

QString part_title(Part part) {
  switch (part) {
    case Part::greeting:
      return PartWords::tr("Who is there");
    case Part::taken:
      return PartWords::tr("A block was taken");
    case Part::refused:
      return PartWords::tr("A block was refused");
    case Part::not_now:
      return PartWords::tr("Not now");
    case Part::place:
      return PartWords::tr("Where it stands");
    case Part::home:
      return PartWords::tr("Home");
    case Part::jog:
      return PartWords::tr("A jog");
    case Part::end_jog:
      return PartWords::tr("The end of a jog");
    case Part::hold:
      return PartWords::tr("Hold");
    case Part::go_on:
      return PartWords::tr("Continue");
    case Part::abandon:
      return PartWords::tr("Abandon");
    case Part::stop:
      return PartWords::tr("Stop at once");
    case Part::probe:
      return PartWords::tr("Probing");
    case Part::trouble:
      return PartWords::tr("It broke off by itself");
    case Part::feed_override:
      return PartWords::tr("Faster and slower");
    case Part::settings:
      return PartWords::tr("Settings");
    case Part::words:
      return PartWords::tr("Words it does not take");
    case Part::trust:
      return PartWords::tr("What you have seen it do");
  }
  return {};
}

QString part_task(Part part) {
  switch (part) {
    case Part::greeting:
      return PartWords::tr(
          "What it says when it gets power, or when it is asked who it is. Say the line that asks, if there is one, "
          "and "
          "take what comes back as the example. Heard later, it tells that the controller started again.");
    case Part::taken:
      return PartWords::tr(
          "Say a block that moves nothing, G4 P0.1, and take what comes back. A try says a dwell of one second: if the "
          "answer waits for it, blocks are answered once they are done. Try it when the machine is homed.");
    case Part::refused:
      return PartWords::tr(
          "Say something that no controller understands, and take what comes back. Mark the word or the number that "
          "says why; numbers can be put into words below.");
    case Part::not_now:
      return PartWords::tr(
          "Some say that they are full, and that the same is to be said once more. If yours does, take that line.");
    case Part::place:
      return PartWords::tr(
          "Say what asks for it, as a line or as bytes, or wait for what it tells by itself. Take the line, and mark "
          "its "
          "state and its three figures: of the machine, or of the work. Everything else is of use and may be left.");
    case Part::home:
      return PartWords::tr("The line that homes all axes. Without it you home the machine, and say so on a card.");
    case Part::jog:
      return PartWords::tr(
          "The line that moves one axis by a distance: {axis}, {distance} and {rate} are filled in. Without it a jog "
          "is "
          "a block of G1.");
    case Part::end_jog:
      return PartWords::tr("What ends a jog before its end. Without it jogs go in short steps.");
    case Part::hold:
      return PartWords::tr("What slows it down on its path, to go on later. It needs Continue too.");
    case Part::go_on:
      return PartWords::tr("What lets go of a hold.");
    case Part::abandon:
      return PartWords::tr("What slows it down and makes it forget what waits, with its place kept.");
    case Part::stop:
      return PartWords::tr("What stops it at once. Without it only its own emergency stop does.");
    case Part::probe:
      return PartWords::tr(
          "How a search is written, with {axis}, {place} and {rate}, and what it tells afterwards. Take the line of a "
          "search that touched: mark the word that says so, and the figures.");
    case Part::trouble:
      return PartWords::tr(
          "A line that comes by itself when it has ended what it did, as after a search that met nothing. Mark the "
          "word "
          "or number that says why.");
    case Part::feed_override:
      return PartWords::tr("What sets the feed to {percent} of the program's.");
    case Part::settings:
      return PartWords::tr(
          "For each setting the line that asks for it, and the line that sets it to {value}. Ask here, and what comes "
          "back is learned. What has no line is typed at its own screen: write what it is called there.");
    case Part::words:
      return PartWords::tr(
          "Words of G-code that it refuses, with blanks between: G10 M6. Cycles and arcs are then written as moves, a "
          "tool change is a pause, zeros a card.");
    case Part::trust:
      return PartWords::tr("Tick only what you have seen. What is not ticked is taken for no.");
  }
  return {};
}

QString group_words(const std::string& group) {
  if (group == "state") return PartWords::tr("its state");
  if (group == "feed") return PartWords::tr("the feed");
  if (group == "spindle") return PartWords::tr("the spindle");
  if (group == "inputs") return PartWords::tr("inputs that are on");
  if (group == "why") return PartWords::tr("why");
  if (group == "contact") return PartWords::tr("it touched");
  if (group == "value") return PartWords::tr("the value");
  const QChar axis = QChar(QLatin1Char(group.back())).toUpper();
  return group.front() == 'm' ? PartWords::tr("machine %1").arg(axis) : PartWords::tr("work %1").arg(axis);
}

QString what_a_try_does(Part part) {
  using M = link::TryMoves;
  switch (part) {
    case Part::home:
      return PartWords::tr("The machine homes. Its way must be clear.");
    case Part::jog:
      return PartWords::tr("X moves by %1 mm at %2 mm a minute.").arg(M::jog).arg(M::rate);
    case Part::probe:
      return PartWords::tr("Z goes down by %1 mm at %2 mm a minute. Touch the plate to the tool meanwhile.")
          .arg(M::probe)
          .arg(M::probe_rate);
    default:
      return PartWords::tr("X moves up to %1 mm at %2 mm a minute, and is interrupted. The machine must be homed.")
          .arg(M::interrupted)
          .arg(M::rate);
  }
}

QString read_words(const std::map<std::string, std::string>& groups, const link::ControllerDescription& of) {
  QStringList read;
  for (const auto& [group, text] : groups) {
    if (text.empty()) continue;
    QString shown = to_q(text);
    if (group == "state")
      if (const auto known = of.states.find(text); known != of.states.end())
        shown += " = " + state_words(known->second);
    read << PartWords::tr("%1 %2").arg(group_words(group), shown);
  }
  return read.join(QStringLiteral(" · "));
}

namespace {
/// What was seen of one that moved.
QString moved_words(const link::TryFound& found) {
  const QString way = mm(std::abs(found.to.x - found.from.x));
  switch (found.part) {
    case Part::home:
      return PartWords::tr("Homed; it stands at %1.").arg(place(found.to));
    case Part::probe:
      return PartWords::tr("It touched at %1.").arg(place(found.to));
    case Part::jog:
      return PartWords::tr("X moved by %1 mm. Measured at the machine it is that, or its steps per mm are not set yet.")
          .arg(way);
    case Part::hold:
      return PartWords::tr("It stood after %1 mm, and went on when told.").arg(way);
    case Part::go_on:
      return PartWords::tr("It went on from its hold to the end, %1 mm.").arg(way);
    default:
      return PartWords::tr("It stood after %1 mm of %2.").arg(way).arg(link::TryMoves::interrupted);
  }
}
}  // namespace

QString found_words(const link::TryFound& found, const link::ControllerDescription& of) {
  if (!found.worked) {
    if (!found.why.empty()) return to_q(found.why);
    if (link::moves_in_try(found.part))
      return PartWords::tr("It did not do that: after %1 s X had moved by %2 mm.")
          .arg(found.seconds, 0, 'f', 1)
          .arg(mm(std::abs(found.to.x - found.from.x)));
    return PartWords::tr("Nothing came back in %1 s that looks like the example. See in the log what did.")
        .arg(found.seconds, 0, 'f', 1);
  }
  switch (found.part) {
    case Part::greeting:
      return PartWords::tr("It says: %1").arg(to_q(found.line));
    case Part::taken:
      return found.waited_for_dwell() ? PartWords::tr("Answered after %1 s: a block is answered once it is done.")
                                            .arg(found.seconds, 0, 'f', 2)
                                      : PartWords::tr("Answered after %1 s: a block is answered once it was taken.")
                                            .arg(found.seconds, 0, 'f', 2);
    case Part::settings:
      return PartWords::tr("%n told; what it has stands in the table.", nullptr,
                           static_cast<int>(found.settings.size()));
    case Part::refused:
    case Part::place:
      return PartWords::tr("It says: %1").arg(to_q(found.line)) + "\n" + read_words(found.groups, of);
    default:
      return moved_words(found);
  }
}

QString state_words(const std::string& state) {
  const auto known = link::state_of_word(state);
  return known ? state_word(*known) : to_q(state);
}

QString input_words(const std::string& input) {
  if (input == "probe") return PartWords::tr("the probe");
  if (input == "emergency_stop") return PartWords::tr("the emergency stop");
  const QChar axis = QChar(QLatin1Char(input.back())).toUpper();
  return input.starts_with("home") ? PartWords::tr("%1's switch").arg(axis)
                                   : PartWords::tr("%1's far switch").arg(axis);
}

}  // namespace ypsi::app
