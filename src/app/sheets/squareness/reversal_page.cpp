#include "app/sheets/squareness/reversal_page.h"

#include "app/to_q.h"
#include "core/book/worksheets/reversal.h"
#include "core/procedures/bench.h"

namespace ypsi::app {

ReversalPage::ReversalPage(Session& session)
    : ReversalCard(session, "reversal",
                   {.caption = tr("Carry the indicator along the blade; turn the square over; once more"),
                    .along = tr("How far the indicator is carried along the blade"),
                    .first = tr("How far the machine leaves the blade towards +X, the square as it is"),
                    .turned = tr("The same with the square turned over"),
                    .leaves = tr("leaves it towards +X by"),
                    .other_way = tr("turned over")},
                   nullptr) {}

Result<SquareByReversal> ReversalPage::evaluate() const {
  const ReversalWorksheet& w = worksheet();
  if (!w.first_mm || !w.turned_mm) return fail("too_few", "");
  return square_by_reversal(w.length_mm, *w.first_mm, *w.turned_mm, instrument());
}

std::optional<SquareByReversal> ReversalPage::result() const {
  const auto found = evaluate();
  return found ? std::optional(*found) : std::nullopt;
}

QString ReversalPage::problem() const {
  const auto found = evaluate();
  return found ? QString() : to_q(found.error().message);
}

Result<double> ReversalPage::read(Bench& bench, bool turned) const {
  return bench.read_square(worksheet().length_mm, turned, worksheet().instrument);
}

}  // namespace ypsi::app
