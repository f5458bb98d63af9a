#include "app/sheets/fences/blanks_page.h"

#include <qcustomplot.h>

#include <QHBoxLayout>
#include <algorithm>
#include <cmath>

#include "app/drawing/plot_look.h"
#include "app/session/book_editor.h"
#include "app/session/notices.h"
#include "app/sheets/page_foot.h"
#include "app/sheets/sheet.h"
#include "app/to_q.h"
#include "core/book/worksheets/fences.h"
#include "core/calibration/blanks.h"

namespace ypsi::app {
namespace {
constexpr int most_between = 10'000;
}

BlanksPage::BlanksPage(Session& session) : FindingPage(session) {
  auto* column = make_card_page(this);
  QWidget* card = column->parentWidget();
  column->addWidget(
      make_label("blanks-caption", "caption", tr("Size of the blanks, one of every so many, over the count"), card));
  plot_ = new QCustomPlot(card);
  plot_->setObjectName("blanks-plot");
  plot_->setAccessibleName(tr("Size of the blanks over the count"));
  plot_->setMinimumHeight(160);
  column->addWidget(plot_, 1);
  count_ = make_label("blanks-count", "title", "", card);
  column->addWidget(count_);
  PageFoot foot(column, card);
  auto *row = foot.settings(), *acts = foot.acts();
  every_ =
      add_field(row, "blanks-every", tr("One of every"), tr("From one that is measured to the next"), 0, session, card)
          .field;
  every_->set_unit(LengthUnit::none);
  every_->set_decimals(0);
  size_ =
      add_field(row, "blanks-size", tr("The newest is"), tr("Size of the blank that was cut last"), 3, session, card)
          .field;
  for (LengthField* f : {every_, size_}) f->setFixedWidth(88);
  hint_ = foot.hint("blanks-hint", "task");
  one_ = add_act(
      acts, "blanks-one", tr("One more is cut"), tr("Counts it"), card,
      [this] { change(tr("Count a blank"), [](FencesWorksheet& s) { ++s.blanks; }); }, true);
  back_ = add_act(acts, "blanks-back", tr("Take back"), tr("The newest size, or else the newest blank, is taken back"),
                  card, [this] {
                    change(tr("Take a blank back"), [](FencesWorksheet& s) {
                      if (!s.sizes.empty() && s.sizes.back().count == s.blanks)
                        s.sizes.pop_back();
                      else if (s.blanks > 0)
                        --s.blanks;
                    });
                  });
  number_acts({one_, back_});
  connect(every_, &LengthField::committed, this, [this](double v) {
    if (v >= 1 && v <= most_between)
      return change(tr("Say how often to measure"), [v](FencesWorksheet& s) { s.every = static_cast<int>(v); });
    session_.notices().notify(
        {NoticeLevel::attention, tr("One of every 1 to %1; it was left as it is.").arg(most_between), {}});
    refresh();
  });
  connect(size_, &LengthField::committed, this, [this](double mm) {
    if (!(mm > 0)) {
      session_.notices().notify(
          {NoticeLevel::attention, tr("A piece measures more than nothing; it was not taken."), {}});
      return refresh();
    }
    change(tr("Type what a blank measures"), [mm](FencesWorksheet& s) {
      if (!s.sizes.empty() && s.sizes.back().count == s.blanks)
        s.sizes.back().size_mm = mm;
      else
        s.sizes.push_back({s.blanks, mm});
    });
  });
  for (LengthField* f : {every_, size_})
    connect(f, &LengthField::refused, this, [this](const QString& why) {
      session_.notices().notify({NoticeLevel::attention, why, {}});
    });
}

void BlanksPage::change(const QString& text, const std::function<void(FencesWorksheet&)>& how) {
  session_.editor().change_book(
      text, [&](Book& b) { how(b.worksheets[fences_worksheet]); }, MachineFollows::no);
}

int BlanksPage::due() const {
  const FencesWorksheet& s = session_.editor().book().worksheets[fences_worksheet];
  if (s.sizes.empty()) return std::max(1, s.blanks);
  return s.sizes.back().count + std::max(1, s.every);
}

PageFinding BlanksPage::finding() const {
  const Book& book = session_.editor().book();
  const FencesWorksheet& s = book.worksheets[fences_worksheet];
  PageFinding f;
  const auto at = chosen_fence(book);
  f.lead = at ? tr("Blanks on %1").arg(to_q(book.fences[*at].name)) : tr("No fence or stop yet");
  f.keep = tr("Keep and begin anew");
  if (s.blanks > 0) f.second = tr("Begin anew");
  const auto found = evaluate_blanks_of(book);
  if (!found) {
    f.verdict = tr("○ Not told yet");
    f.text = !(s.expected_mm > 0) && at ? tr("Say on the page Test what a piece should measure.")
                                        : to_q(found.error().message);
    return f;
  }
  f.can_keep = true;
  f.figure = session_.editor().length(found->now, 2);
  f.spread = tr("the newest by the line, ±%1; wanted %2 ±%3")
                 .arg(session_.editor().length(found->U_now, 2), session_.editor().length(s.expected_mm, 2),
                      session_.editor().length(s.tolerance_mm, 2));
  QStringList words;
  switch (found->verdict) {
    case BlanksVerdict::steady:
      f.verdict = tr("● Steady");
      words << tr("No drift is told; the pieces scatter by %1.").arg(session_.editor().length(found->s, 3));
      break;
    case BlanksVerdict::drifts:
      f.verdict = tr("◐ It drifts");
      break;
    case BlanksVerdict::soon:
      f.verdict = tr("◐ It will soon be out");
      words << tr("Set zero anew, or look for what wears or warms up, before the next is measured.");
      break;
    case BlanksVerdict::out:
      f.verdict = tr("⊗ Out of tolerance");
      words << tr("Sort what was cut since the last good one, and set zero anew.");
      break;
  }
  if (found->leaves_at) {
    words << tr("A hundred more make it %1 larger, ±%2.")
                 .arg(session_.editor().length(found->drift * 100, 2),
                      session_.editor().length(found->U_drift * 100, 2));
    if (found->verdict != BlanksVerdict::out) words << tr("Out of tolerance from number %1 on.").arg(*found->leaves_at);
  }
  f.text = words.join("\n");
  return f;
}

void BlanksPage::keep() {
  const auto found = evaluate_blanks_of(session_.editor().book());
  if (!found) return;
  session_.editor().change_book(
      tr("Keep a row of blanks"), [&](Book& b) { keep_blanks(b, *found, session_.editor().now().toStdString()); },
      MachineFollows::no);
}

void BlanksPage::second() {
  change(tr("Begin to count anew"), [](FencesWorksheet& s) {
    s.blanks = 0;
    s.sizes.clear();
  });
}

void BlanksPage::draw() {
  const FencesWorksheet& s = session_.editor().book().worksheets[fences_worksheet];
  const LengthUnit unit = session_.editor().unit();
  plot_->clearGraphs();
  plot_->clearItems();
  if (s.sizes.empty() || !(s.expected_mm > 0)) {
    say_in(*plot_, tr("The sizes will stand here, from the first blank on."));
  } else {
    QVector<double> n, size;
    for (const BlankSize& b : s.sizes) {
      n << b.count;
      size << in_unit(b.size_mm, unit);
    }
    const double last = std::max<double>(s.blanks, n.back()) * 1.15 + 1;
    const double low = in_unit(s.expected_mm - s.tolerance_mm, unit),
                 high = in_unit(s.expected_mm + s.tolerance_mm, unit);
    const auto level = [&](double at, const QColor& colour, Qt::PenStyle style) {
      auto* line = plot_->addGraph();
      line->setData({0, last}, {at, at});
      line->setPen(QPen(colour, 1.5, style));
    };
    level(low, theme().red, Qt::DashLine);
    level(high, theme().red, Qt::DashLine);
    level(in_unit(s.expected_mm, unit), theme().second_ink, Qt::SolidLine);
    if (const auto found = evaluate_blanks_of(session_.editor().book())) {
      const double at = in_unit(found->now, unit), a_blank = in_unit(found->drift, unit), end = n.back();
      auto* line = plot_->addGraph();
      line->setData({0, last}, {at - a_blank * end, at + a_blank * (last - end)});
      line->setPen(QPen(theme().teal, 2));
    }
    auto* points = plot_->addGraph();
    points->setData(n, size);
    points->setLineStyle(QCPGraph::lsNone);
    points->setScatterStyle(QCPScatterStyle(QCPScatterStyle::ssDisc, theme().ink, 7));
    const auto [least, most] = std::minmax_element(size.begin(), size.end());
    const double room = (high - low) * 0.2;
    plot_->xAxis->setRange(0, last);
    plot_->yAxis->setRange(std::min(low, *least) - room, std::max(high, *most) + room);
  }
  dress(*plot_);
  plot_->xAxis->setLabel(tr("blanks cut"));
  plot_->yAxis->setLabel(tr("size, %1").arg(to_q(unit_name(unit))));
  plot_->replot();
}

void BlanksPage::refresh() {
  const FencesWorksheet& s = session_.editor().book().worksheets[fences_worksheet];
  every_->show_value(s.every);
  size_->set_unit(session_.editor().unit());
  const bool measured = !s.sizes.empty() && s.sizes.back().count == s.blanks;
  size_->show_value(measured ? std::optional(s.sizes.back().size_mm) : std::nullopt);
  set_text(count_, tr("%n cut", "", s.blanks));
  draw();
  refresh_status();
}

void BlanksPage::refresh_status() {
  const Book& book = session_.editor().book();
  const FencesWorksheet& s = book.worksheets[fences_worksheet];
  const bool there = chosen_fence(book).has_value(), writable = !session_.editor().read_only();
  one_->setEnabled(there && writable);
  back_->setEnabled(writable && s.blanks > 0);
  every_->setEnabled(there && writable);
  size_->setEnabled(there && writable && s.blanks > 0);
  set_text(hint_, !there              ? tr("Add the edges and stops that you lay blanks against.")
                  : s.blanks == 0     ? tr("Count each blank that is cut on this zero.")
                  : due() <= s.blanks ? tr("Measure this one, and type it.")
                                      : tr("The next to measure is number %1.").arg(due()));
}

}  // namespace ypsi::app
