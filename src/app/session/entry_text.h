#pragma once
// Entries of the record, and results of sheets, in a few words.
#include <QString>

#include "core/tasks/standing.h"

namespace ypsi::app {

QString entry_date(const Entry& entry);                   ///< "21 Nov 09:40"
QString entry_text(const Entry& entry, LengthUnit unit);  ///< "Steps per unit X 160.00 → 159.36 ±0.04"
/// The same without the sheet's name and the axis: "160.00 → 159.36 ±0.04".
QString entry_words(const Entry& entry, LengthUnit unit);
/// "Last looked at 19 Oct 18:05:" and its words; `never` where the sheet has no entry.
QString last_looked_at(const Book& book, const std::string& sheet, const QString& never);
/// "Steps per unit of X changed on 21 Nov, after this was measured."
QString out_of_date_reason(const Book& book, const SheetStanding& standing);
/// Steps per mm with the digits its U allows.
QString steps_text(double steps, double U);

}  // namespace ypsi::app
