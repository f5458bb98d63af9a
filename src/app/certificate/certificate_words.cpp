#include "app/certificate/certificate_words.h"

#include <QCoreApplication>
#include <QDateTime>
#include <QLocale>

#include "app/session/part_words.h"
#include "app/session/phrases.h"
#include "app/to_q.h"

namespace ypsi::app {
namespace {

struct CertificateWords {
  Q_DECLARE_TR_FUNCTIONS(certificate)
};

QString unit_words(CertifiedUnit of, LengthUnit unit) {
  switch (of) {
    case CertifiedUnit::steps_per_mm:
      return CertificateWords::tr("steps/mm");
    case CertifiedUnit::mm_per_m:
      return CertificateWords::tr("mm per m");
    case CertifiedUnit::mrad:
      return CertificateWords::tr("mrad");
    case CertifiedUnit::gauge:
      return {};  // as it is marked there
    case CertifiedUnit::length:
      break;
  }
  return to_q(unit_name(unit));
}

/// No more digits than U allows; where there is none, those that such a quantity is read to.
int decimals_of(const CertifiedQuantity& q) {
  constexpr int most = 4;
  return q.U && *q.U > 0 ? std::min(decimals_for(*q.U, 2), most) : q.line.usual_decimals;
}

QString number_words(const CertifiedQuantity& q, double value, LengthUnit unit) {
  if (q.line.unit == CertifiedUnit::length) return to_q(format_length(value, unit, decimals_of(q)));
  return to_q(format_number(value, decimals_of(q)));
}

}  // namespace

QString day_of(const std::string& time) {
  const QDateTime at = QDateTime::fromString(to_q(time), Qt::ISODate);
  return at.isValid() ? QLocale(QLocale::English, QLocale::UnitedKingdom).toString(at, QStringLiteral("d MMM yyyy"))
                      : to_q(time);
}

QString value_words(const CertifiedQuantity& q, double value, LengthUnit unit) {
  return number_words(q, value, unit) + " " + unit_words(q.line.unit, unit);
}

CertificateRow row_of(const CertifiedQuantity& q, LengthUnit unit) {
  CertificateRow row;
  Said name{q.line.code, {}};
  if (!q.line.subject.empty()) name.arguments.emplace_back(q.line.subject);
  row.quantity = say(name, unit);
  row.standing = q.standing;
  if (q.time.empty()) {
    row.standing = Standing::never_done;
    row.status = CertificateWords::tr("never measured");
    return row;
  }
  row.as_found = q.as_found ? number_words(q, *q.as_found, unit) : QString("–");
  row.as_left = value_words(q, *q.as_left, unit);
  if (q.not_applied) row.not_applied = CertificateWords::tr("measured %1").arg(number_words(q, *q.not_applied, unit));
  row.U = q.U ? "±" + number_words(q, *q.U, unit) : QString("–");
  row.k = q.k ? to_q(format_number(*q.k, 2)) : QString("–");
  row.instrument = q.instrument.empty() ? QString("–") : to_q(q.instrument);
  if (q.told_by_hand) row.instrument += " *";
  row.date = day_of(q.time);
  row.status = q.standing == Standing::current       ? CertificateWords::tr("current")
               : q.standing == Standing::out_of_date ? CertificateWords::tr("out of date")
               : q.standing == Standing::failed      ? CertificateWords::tr("failed")
                                                     : CertificateWords::tr("never measured");
  return row;
}

QString statement(const Certificate& c) {
  const QString words = CertificateWords::tr(
      "U is the expanded uncertainty: the standard uncertainty times the coverage factor k, for about 95 %. Where no "
      "k is told, U is the "
      "record's own for about 95 %. Readings of one instrument share its calibration's error; what cannot be told "
      "apart is not told. “Out of "
      "date” means that something "
      "upstream was changed after the measurement. As found is what was there before; as left what the machine was "
      "left with. This record was "
      "made by the machine's owner with the instruments named, and holds for the machine as it stood on the dates "
      "given.");
  if (!told_by_hand(c)) return words;
  return words + " " + CertificateWords::tr("* Told by hand: what the machine showed was typed by its owner.");
}

QString part_sentence(const Certificate& c, const Budget& budget, LengthUnit unit) {
  const auto len = [&](double mm, int d) { return to_q(format_length(mm, unit, d) + " " + unit_name(unit)); };
  const PartSizes& sizes = budget.sizes;
  QString out = sizes.headline ? CertificateWords::tr("On a part of %1 × %2 sizes are off by %3 at most (95 %): %4")
                                     .arg(len(c.part[0], 0), len(c.part[1], 0), len(*sizes.headline, 2),
                                          worst_size_words(budget, unit))
                               : CertificateWords::tr("Nothing that makes a part's size was measured yet");
  if (sizes.square)
    out += CertificateWords::tr("; %1 ±%2 out of square").arg(len(sizes.square->bias, 2), len(sizes.square->U, 2));
  const QString without = without_words(budget);
  return out + (sizes.headline && !without.isEmpty() ? "; " + without : QString()) + ".";
}

}  // namespace ypsi::app
