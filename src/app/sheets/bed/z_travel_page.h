#pragma once
#include "app/sheets/bed/bed_page.h"
#include "app/sheets/reversal/reversal_card.h"
#include "core/book/worksheets/bed.h"
#include "core/book/worksheets/reversal.h"
#include "core/calibration/z_square.h"
#include "core/tasks/bed_spindle.h"

namespace ypsi::app {

/// A square upright on the bed, its blade along one axis of the bed.
class UprightBlade : public ReversalCard {
 public:
  UprightBlade(Session& session, QWidget* parent);
  Axis along() const { return along(session_.editor().book()); }
  void refresh_words();

 protected:
  const ReversalWorksheet& of(const Book& book) const override {
    return book.worksheets[bed_worksheet].blade[index(along(book))];
  }
  ReversalWorksheet& of(Book& book) const override { return book.worksheets[bed_worksheet].blade[index(along(book))]; }
  Result<double> read(Bench& bench, bool turned) const override;

 private:
  static Axis along(const Book& book) { return book.worksheets[bed_worksheet].blade_along_y ? Axis::y : Axis::x; }
};

/// How Z's travel leans against the bed: an indicator carried up a square's blade by Z.
class ZTravelPage : public BedPage {
  Q_OBJECT
 public:
  explicit ZTravelPage(Session& session);
  void refresh() override;
  PageFinding finding() const override;
  void keep() override;

 private:
  std::optional<ZSquare> evaluate() const;
  UprightBlade* card_;
  QPushButton *along_x_, *along_y_;
};

}  // namespace ypsi::app
