#include "app/at_machine/hand_words.h"

#include <QCoreApplication>
#include <algorithm>

#include "app/to_q.h"
#include "core/book/machine_kinds.h"

namespace ypsi::app {
namespace {

using Kind = link::HandCard::Kind;
using Word = link::HandAnswer::Word;

struct HandWords {
  Q_DECLARE_TR_FUNCTIONS(at_machine)
};

QString number(double mm, const Book& book) {
  return to_q(format_length(mm, book.unit(), 3));
}

QString with_unit(double mm, const Book& book, int decimals) {
  return to_q(format_length(mm, book.unit(), decimals) + " " + unit_name(book.unit()));
}

/// Which way the tool goes over the work, as its owner sees it from the front.
QString way_of(Axis axis, bool towards_plus, const Book& book) {
  if (axis == Axis::z) return towards_plus ? HandWords::tr("up") : HandWords::tr("down");
  if (axis == Axis::x) return towards_plus ? HandWords::tr("to the right") : HandWords::tr("to the left");
  if (machine_kind(book.machine.kind).form == MachineForm::vertical_panel)
    return towards_plus ? HandWords::tr("up the board") : HandWords::tr("down the board");
  return towards_plus ? HandWords::tr("away from you") : HandWords::tr("towards you");
}

QString home_text(const Book& book) {
  QStringList by_hand;
  for (const Axis axis : all_axes)
    if (const AxisSetup& setup = book.machine.axis(axis); setup.zero_by_hand)
      by_hand << HandWords::tr("%1 to %2").arg(QChar(letter(axis))).arg(number(setup.home_coordinate, book));
  if (by_hand.size() == static_cast<qsizetype>(axis_count))
    return HandWords::
        tr("It has no switches. Bring each axis to its mark or stop with its own keys, slowly, always from the same "
           "side, and set the machine position there: %1. It holds until the power goes.")
            .arg(by_hand.join(", "));
  QString text = HandWords::tr(
      "Z first, then X and Y, with its own homing. Keep a hand on its stop: one that goes the wrong way is stopped at "
      "once, and said here.");
  if (!by_hand.isEmpty())
    text += " " + HandWords::tr(
                      "Without a switch: bring it to its mark with its own keys and set its machine position "
                      "there: %1.")
                      .arg(by_hand.join(", "));
  return text;
}

}  // namespace

QString card_title(const link::HandCard& card, const Book& book) {
  const QChar axis(letter(card.axis));
  switch (card.kind) {
    case Kind::look_up:
      return HandWords::tr("Look up what its controller has");
    case Kind::settings:
      return card.settings.size() == 1 ? HandWords::tr("Set one thing in its controller")
                                       : HandWords::tr("Set %1 things in its controller").arg(card.settings.size());
    case Kind::move:
      if (card.beyond)
        return HandWords::tr("See whether its limit holds: ask for %1 at %2")
            .arg(axis)
            .arg(number(card.to[card.axis], book));
      if (!card.homed)
        return HandWords::tr("Move %1 by %2 only")
            .arg(axis)
            .arg(with_unit(card.to[card.axis] - card.from[card.axis], book, 2));
      return HandWords::tr("Send %1 to %2, from where it stands at %3")
          .arg(axis)
          .arg(number(card.to[card.axis], book), number(card.from[card.axis], book));
    case Kind::home:
      return HandWords::tr("Home the machine");
    case Kind::program:
      if (card.held) return HandWords::tr("It stands held; go on there when you are ready");
      if (card.hold_wanted) return HandWords::tr("Hold it now, at the machine");
      if (card.touches) return HandWords::tr("Let it search until it touches");
      return card.started      ? HandWords::tr("It runs. Say here how it ends")
             : card.lines == 1 ? HandWords::tr("Carry this block there and start it")
                               : HandWords::tr("Carry these %1 blocks there and start them").arg(card.lines);
    case Kind::whereabouts:
      return HandWords::tr("Something was broken off: where does it stand?");
  }
  return {};
}

QString card_text(const link::HandCard& card, const Book& book) {
  const double by = card.to[card.axis] - card.from[card.axis];
  switch (card.kind) {
    case Kind::look_up:
      return HandWords::tr(
          "What is found counts from these. Type what it has, by its own screen or its settings file; what it calls "
          "each is asked once and kept.");
    case Kind::settings:
      return HandWords::tr("Type the new value there. Take the tick away where it does not take one.");
    case Kind::move:
      if (card.beyond)
        return HandWords::tr(
                   "It should refuse. Have a hand on its stop: where it moves, stop it at once, and say so here. It "
                   "would go %1, at %2 a minute.")
            .arg(way_of(card.axis, by > 0, book), with_unit(card.rate, book, 0));
      return HandWords::tr(
                 "It goes %1, %2, at %3 a minute. Something in the way, or the wrong way round: stop it there, "
                 "and say so here.")
          .arg(way_of(card.axis, by > 0, book), with_unit(std::abs(by), book, 2), with_unit(card.rate, book, 0));
    case Kind::home:
      return home_text(book);
    case Kind::program:
      if (card.hold_wanted) return HandWords::tr("Only a hand can hold it. Press its own hold, then say so here.");
      if (card.touches)
        return HandWords::tr(
            "It goes until the tool meets what is touched. Its screen, or its memory of the probe, shows where that "
            "was: "
            "as a machine position.");
      if (card.started)
        return HandWords::tr(
            "Stay with it. Where it was held or stopped, the line that its screen shows helps to go on "
            "from there.");
      return HandWords::tr("Lines %1 to %2. Copy them, or write them to the stick; start them there.")
          .arg(card.first_line)
          .arg(card.first_line + card.lines - 1);
    case Kind::whereabouts:
      return HandWords::tr("It was told to move, and nobody has said where it came to stand. Read its screen.");
  }
  return {};
}

QString card_question(const link::HandCard& card) {
  switch (card.kind) {
    case Kind::look_up:
    case Kind::settings:
      return {};
    case Kind::program:
      if (card.touches) return HandWords::tr("At which machine position did it touch?");
      break;
    case Kind::move:
      return HandWords::tr("Where does its own screen say that it stands now?");
    default:
      break;
  }
  return HandWords::tr("Its own screen says now");
}

std::vector<Axis> card_axes(const link::HandCard& card) {
  if (card.kind == Kind::look_up || card.kind == Kind::settings) return {};
  if (card.kind == Kind::move) return {card.axis};
  return {all_axes.begin(), all_axes.end()};
}

std::vector<CardAnswer> card_answers(const link::HandCard& card) {
  const CardAnswer stopped{"hand-stopped", HandWords::tr("I stopped it"), Word::stopped, true},
      refused{"hand-refused", HandWords::tr("Its controller refuses it"), Word::refused},
      switched{"hand-switch", HandWords::tr("A switch stopped it"), Word::switch_stopped, true},
      off{"hand-off", HandWords::tr("It was switched off, or I am not sure"), Word::switched_off},
      still{"hand-still", HandWords::tr("It did not move"), Word::did_not_move};
  switch (card.kind) {
    case Kind::look_up:
      return {{"hand-done", HandWords::tr("That is what it has"), Word::done},
              {"hand-refused", HandWords::tr("It does not show them"), Word::refused}};
    case Kind::settings:
      return {{"hand-done", HandWords::tr("What is ticked is set there"), Word::done},
              {"hand-refused", HandWords::tr("It takes none of them"), Word::refused}};
    case Kind::move:
      if (card.beyond)
        return {{"hand-refused", HandWords::tr("It refuses, and stands"), Word::refused},
                {"hand-stopped", HandWords::tr("It moved; I stopped it"), Word::stopped, true},
                still,
                off};
      return {{"hand-done", HandWords::tr("It stands there"), Word::done},
              {"hand-elsewhere", HandWords::tr("It stands elsewhere"), Word::done, true},
              still,
              switched,
              stopped,
              refused,
              off};
    case Kind::home:
      return {{"hand-done", HandWords::tr("It is homed"), Word::done},
              {"hand-still", HandWords::tr("It did not home"), Word::did_not_move},
              stopped,
              off};
    case Kind::program:
      if (card.touches)
        return {{"hand-touched", HandWords::tr("It touched there"), Word::touched, true},
                {"hand-missed", HandWords::tr("It met nothing"), Word::met_nothing},
                {"hand-still", HandWords::tr("It did not move"), Word::did_not_move},
                {"hand-stopped", HandWords::tr("I stopped it"), Word::stopped, true},
                refused,
                off};
      if (card.held) return {{"hand-on", HandWords::tr("It goes on"), Word::went_on}, stopped, off};
      if (card.hold_wanted)
        return {{"hand-held", HandWords::tr("It stands held"), Word::held},
                {"hand-done", HandWords::tr("It has ended"), Word::done},
                stopped,
                off};
      if (card.started)
        return {{"hand-done", HandWords::tr("It has ended"), Word::done},
                {"hand-held", HandWords::tr("It stands held"), Word::held},
                stopped,
                off};
      return {{"hand-started", HandWords::tr("It has started"), Word::started},
              {"hand-done", HandWords::tr("It has ended already"), Word::done},
              {"hand-still", HandWords::tr("It did not start"), Word::did_not_move},
              refused,
              stopped,
              off};
    case Kind::whereabouts:
      return {{"hand-done", HandWords::tr("It stands there"), Word::done, true},
              {"hand-still", HandWords::tr("It never moved"), Word::did_not_move},
              off};
  }
  return {};
}

QString name_there(const Book& book, const std::string& setting) {
  for (const SettingName& each : book.machine.setting_names)
    if (each.setting == setting) return to_q(each.called);
  return {};
}

void set_name_there(Book& book, const std::string& setting, const QString& called) {
  auto& names = book.machine.setting_names;
  std::erase_if(names, [&](const SettingName& each) { return each.setting == setting; });
  if (!called.trimmed().isEmpty()) names.push_back({setting, called.trimmed().toStdString()});
}

}  // namespace ypsi::app
