#pragma once
// What a certificate's quantities are called and how their numbers are written; the same on paper, in HTML and on
// screen.
#include <QString>

#include "core/tasks/budget.h"
#include "core/tasks/certificate.h"

namespace ypsi::app {

struct CertificateRow {
  QString quantity, as_found, as_left, U, k, instrument, date, status;
  QString not_applied;  ///< "measured 79.80", where what was found was not taken over
  Standing standing = Standing::never_done;
};

CertificateRow row_of(const CertifiedQuantity& quantity, LengthUnit unit);
/// A value of this quantity with its unit, to no more digits than its U allows.
QString value_words(const CertifiedQuantity& quantity, double value, LengthUnit unit);
/// How the numbers came to be and what they mean.
QString statement(const Certificate& certificate);
/// "Sizes within 0.12 mm on a part of 300 × 200 mm, 0.10 mm out of square; lost motion of Z was never measured."
QString part_sentence(const Certificate& certificate, const Budget& budget, LengthUnit unit);
/// "19 Oct 2026" of a time as the record has it.
QString day_of(const std::string& time);

}  // namespace ypsi::app
