#pragma once
#include "app/sheets/reversal/reversal_card.h"
#include "core/book/worksheets/reversal.h"
#include "core/calibration/bed.h"

namespace ypsi::app {

/// A carpenter's square laid to X and an indicator carried along Y, with the square as it is and turned over.
class ReversalPage : public ReversalCard {
  Q_OBJECT
 public:
  explicit ReversalPage(Session& session);
  std::optional<SquareByReversal> result() const;
  /// Words where the readings cannot be what they say; empty otherwise.
  QString problem() const;

 protected:
  const ReversalWorksheet& of(const Book& book) const override { return book.worksheets[reversal_worksheet]; }
  ReversalWorksheet& of(Book& book) const override { return book.worksheets[reversal_worksheet]; }
  Result<double> read(Bench& bench, bool turned) const override;

 private:
  Result<SquareByReversal> evaluate() const;
};

}  // namespace ypsi::app
