#include "app/session/part_words.h"

#include <QCoreApplication>
#include <cmath>

#include "app/session/phrases.h"
#include "app/to_q.h"

namespace ypsi::app {
namespace {

struct BudgetWords {
  Q_DECLARE_TR_FUNCTIONS(part)
};

constexpr int size_decimals = 2;

QString with_unit(double mm, LengthUnit unit) {
  return to_q(format_length(mm, unit, size_decimals) + " " + unit_name(unit));
}

QString all_of(const QStringList& names) {
  if (names.size() < 2) return names.join(QString());
  return BudgetWords::tr("%1 and %2").arg(names.mid(0, names.size() - 1).join(QStringLiteral(", ")), names.back());
}

QString inside_a_sentence(QString name) {
  if (!name.isEmpty()) name[0] = name[0].toLower();
  return name;
}

}  // namespace

QString size_kind_name(SizeKind kind) {
  return kind == SizeKind::inside    ? BudgetWords::tr("inside sizes")
         : kind == SizeKind::outside ? BudgetWords::tr("outside sizes")
                                     : BudgetWords::tr("spacings");
}

QString off_words(const OffBy& off, LengthUnit unit) {
  const QString bias = to_q(format_length(std::fabs(off.bias), unit, size_decimals));
  const QString none = to_q(format_length(0, unit, size_decimals));
  const QString sign = bias == none ? QString() : off.bias > 0 ? QStringLiteral("+") : QStringLiteral("−");
  return sign + bias + QStringLiteral(" ±") + to_q(format_length(off.U, unit, size_decimals));
}

QString worst_size_words(const Budget& budget, LengthUnit unit) {
  const PartSizes& sizes = budget.sizes;
  if (!sizes.headline) return {};
  const auto& worst = sizes.axes[sizes.worst_axis].of(sizes.worst_kind);
  const QString bias = with_unit(std::fabs(worst->bias), unit), U = with_unit(worst->U, unit);
  const QString along = sizes.worst_axis == 0 ? QStringLiteral("X") : QStringLiteral("Y");
  const QString kind = size_kind_name(sizes.worst_kind);
  if (bias == with_unit(0, unit)) return BudgetWords::tr("%1 come out within ±%2 along %3").arg(kind, U, along);
  return (worst->bias > 0 ? BudgetWords::tr("%1 come out %2 long along %3, ±%4")
                          : BudgetWords::tr("%1 come out %2 short along %3, ±%4"))
      .arg(kind, bias, along, U);
}

QString without_words(const Budget& budget) {
  QStringList names;
  for (const BudgetPart& part : budget.parts)
    if (!part.off && part.bears_on_sizes()) names << inside_a_sentence(part_name(part));
  for (const BudgetPart& part : budget.unlisted) names << inside_a_sentence(part_name(part));
  return names.isEmpty() ? QString() : BudgetWords::tr("without %1, which nobody measured").arg(all_of(names));
}

}  // namespace ypsi::app
