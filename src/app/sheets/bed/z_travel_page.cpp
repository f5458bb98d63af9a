#include "app/sheets/bed/z_travel_page.h"

#include <QButtonGroup>
#include <QVBoxLayout>
#include <cmath>

#include "app/session/entry_text.h"
#include "app/session/machine_session.h"
#include "app/to_q.h"
#include "core/book/record.h"
#include "core/book/worksheets/bed.h"
#include "core/book/worksheets/reversal.h"
#include "core/procedures/bench.h"

namespace ypsi::app {
namespace {

constexpr double usual_difference_mm = 50;  ///< between two tools' lengths, where the book knows no two

ReversalWords words_along(Axis along) {
  const QChar axis(letter(along));
  return {.caption = ZTravelPage::tr("Carry the indicator up the blade; turn the square about Z; once more"),
          .along = ZTravelPage::tr("How far Z carries the indicator up the blade"),
          .first = ZTravelPage::tr("How far the travel goes towards +%1 against the blade, from foot to top").arg(axis),
          .turned = ZTravelPage::tr("The same with the square turned about Z"),
          .leaves = ZTravelPage::tr("goes towards +%1 by").arg(axis),
          .other_way = ZTravelPage::tr("turned about Z"),
          .stands = true};
}

/// The largest difference between the lengths of two of the book's tools, mm.
double between_tools(const Book& book) {
  std::optional<double> shortest, longest;
  for (const Tool& t : book.tools)
    if (t.offset) {
      shortest = std::min(shortest.value_or(*t.offset), *t.offset);
      longest = std::max(longest.value_or(*t.offset), *t.offset);
    }
  return shortest && *longest - *shortest > 1 ? *longest - *shortest : usual_difference_mm;
}

}  // namespace

UprightBlade::UprightBlade(Session& session, QWidget* parent)
    : ReversalCard(session, "blade", words_along(Axis::x), parent) {}

Result<double> UprightBlade::read(Bench& bench, bool turned) const {
  return bench.read_blade(along(), worksheet().length_mm, turned, worksheet().instrument);
}

void UprightBlade::refresh_words() {
  drawing()->set_words(words_along(along()));
  refresh();
}

ZTravelPage::ZTravelPage(Session& session) : BedPage(session) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  auto* row = new QHBoxLayout;
  auto* one_of = new QButtonGroup(this);
  const auto chip = [&](const char* name, const QString& text, bool y) {
    auto* button = make_chip(name, text, tr("The blade leans this way, if it leans"), this, one_of);
    connect(button, &QPushButton::clicked, this, [this, y] {
      change(tr("Choose the blade's axis"), [y](BedWorksheet& w) { w.blade_along_y = y; });
      refresh();
    });
    row->addWidget(button);
    return button;
  };
  along_x_ = chip("blade-along-x", tr("along X"), false);
  along_y_ = chip("blade-along-y", tr("along Y"), true);
  row->addStretch();
  column->addLayout(row);
  card_ = new UprightBlade(session, this);
  column->addWidget(card_, 1);
}

std::optional<ZSquare> ZTravelPage::evaluate() const {
  const ReversalWorksheet& w = card_->worksheet();
  if (!w.first_mm || !w.turned_mm) return std::nullopt;
  ZSquareReadings in{.height = w.length_mm, .first = *w.first_mm, .turned = *w.turned_mm};
  if (const auto bed = bed_slope_of(session_.editor().book())) {
    in.bed_slope = bed->slope[index(card_->along())];
    in.u_slope = bed->u[index(card_->along())];
  }
  return evaluate_z_square(in, card_->instrument());
}

PageFinding ZTravelPage::finding() const {
  PageFinding f;
  const Book& book = session_.editor().book();
  const QChar axis(letter(card_->along()));
  const auto mrad = [](double rad, int decimals = 2) { return to_q(format_number(rad * 1000, decimals)); };
  const auto found = evaluate();
  if (!found) {
    f.lead = tr("How Z's travel leans along %1").arg(axis);
    if (const auto last = newest(book, bed_spindle_id, blade_subject(card_->along()))) {
      const Entry& e = book.history[*last];
      const auto kept = finding_of<ZTravelEntry>(e);
      f.lead = tr("In the book, along %1").arg(axis);
      f.figure = tr("%1 ±%2").arg(to_q(format_number(kept.lean.value_or(0), 2)),
                                  to_q(format_number(kept.U_lean.value_or(0), 2)));
      f.spread = tr("mrad, %1").arg(entry_date(e));
    }
    f.text =
        tr("You need a square that stands on the bed and a dial indicator on the head. Set it to zero at the blade's "
           "foot, go up with Z, and type how far the travel has gone towards +%1; turn the square about Z and do it "
           "again: so the square's own error shows and goes out.")
            .arg(axis);
    return f;
  }
  const double tools = between_tools(book);
  f.lead = found->lean >= 0 ? tr("Going up, Z leans towards +%1 by").arg(axis)
                            : tr("Going up, Z leans towards −%1 by").arg(axis);
  f.figure = tr("%1 ±%2").arg(mrad(std::fabs(found->lean)), mrad(found->U_lean));
  f.spread = tr("mrad; the square itself is out by %1 ±%2").arg(mrad(found->square), mrad(found->U_square));
  f.verdict = std::fabs(found->lean) <= found->U_lean ? tr("● Upright, as far as these readings can tell.")
                                                      : tr("Tools that differ by %1 in length stand %2 apart along %3.")
                                                            .arg(len(tools, 0), len(std::fabs(found->lean) * tools, 3))
                                                            .arg(axis);
  f.text = bed_slope_of(book) ? tr("The bed's slope is taken off, as its map has it.")
                              : tr("The bed is taken for level to the travel: map it, and its slope is taken off.");
  f.text += " " + tr("Shims behind Z's slide set it upright; then tram the spindle, which turns with it.");
  f.keep = tr("Keep this finding");
  f.can_keep = true;
  return f;
}

void ZTravelPage::keep() {
  const auto found = evaluate();
  if (!found) return;
  const ReversalWorksheet w = card_->worksheet();
  const Axis along = card_->along();
  constexpr double to_mrad = 1000;
  session_.editor().change_book(
      tr("Keep Z's travel"),
      [&](Book& b) {
        Entry e = entry("");
        e.subject = blade_subject(along);
        e.instrument = w.instrument;
        e.readings.push_back({{"height_mm", w.length_mm}, {"first_mm", *w.first_mm}, {"turned_mm", *w.turned_mm}});
        ZTravelEntry kept{.lean = found->lean * to_mrad,
                          .U_lean = found->U_lean * to_mrad,
                          .square = found->square * to_mrad,
                          .U_square = found->U_square * to_mrad,
                          .k = found->k};
        if (const auto bed = bed_slope_of(b)) kept.bed_slope = bed->slope[index(along)] * to_mrad;
        e.result = result_of(kept);
        b.history.push_back(std::move(e));
        ReversalWorksheet& used = b.worksheets[bed_worksheet].blade[index(along)];
        used.first_mm.reset();
        used.turned_mm.reset();
      },
      MachineFollows::no);
}

void ZTravelPage::refresh() {
  (worksheet().blade_along_y ? along_y_ : along_x_)->setChecked(true);
  card_->refresh_words();
  emit found();
}

}  // namespace ypsi::app
