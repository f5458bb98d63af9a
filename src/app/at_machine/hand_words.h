#pragma once
// What a card says to the owner of a machine that is worked by hand.
#include <QString>
#include <vector>

#include "core/book/book.h"
#include "link/by_hand/hand_card.h"

namespace ypsi::app {

/// "Send X to 705.000, from where it stands at 5.000"; lengths in the screen's unit.
QString card_title(const link::HandCard& card, const Book& book);
/// What happens then, and what to do where it does not.
QString card_text(const link::HandCard& card, const Book& book);
/// "Where does its own screen say that it stands now?"; empty where no place is asked for.
QString card_question(const link::HandCard& card);
/// Whose places are asked for.
std::vector<Axis> card_axes(const link::HandCard& card);

struct CardAnswer {
  const char* name;  ///< the button's, "hand-done"
  QString text;
  link::HandAnswer::Word word;
  bool needs_place = false;  ///< another than the one that was expected
};
/// The first is the one that is hoped for; the first three are buttons, the others stand in a menu.
std::vector<CardAnswer> card_answers(const link::HandCard& card);

/// What the controller calls one of its settings, by its owner's word; empty where nobody has said.
QString name_there(const Book& book, const std::string& setting);
void set_name_there(Book& book, const std::string& setting, const QString& called);

}  // namespace ypsi::app
