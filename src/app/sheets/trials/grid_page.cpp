#include "app/sheets/trials/grid_page.h"

#include <QHBoxLayout>
#include <QLabel>
#include <cmath>

#include "app/session/book_editor.h"
#include "app/session/notices.h"
#include "app/sheets/page_foot.h"
#include "app/sheets/save_program.h"
#include "app/sheets/sheet.h"
#include "app/sheets/trials/grid_drawing.h"
#include "app/sheets/trials/level_text.h"
#include "app/to_q.h"
#include "core/book/worksheets/trials.h"

namespace ypsi::app {

GridPage::GridPage(Session& session) : FindingPage(session) {
  auto* column = make_card_page(this);
  QWidget* card = column->parentWidget();
  column->addWidget(make_label("grid-caption", "caption",
                               tr("Squares at each power and speed; mark those that are as wanted"), card));
  drawing_ = new GridDrawing(card);
  column->addWidget(drawing_, 1);
  PageFoot foot(column, card);
  const auto fields = [&](const QString& word, LengthField*& low, LengthField*& high, LengthField*& count,
                          const char* name, const QString& unit_tip) {
    auto* row = foot.settings();
    const QString of = QString::fromLatin1(name);
    low = add_field(row, of + "-low", word, tr("Lowest, %1").arg(unit_tip), 1, session_, card).field;
    high = add_field(row, of + "-high", tr("to"), tr("Highest, %1").arg(unit_tip), 1, session_, card).field;
    count = add_field(row, of + "-count", tr("in"), tr("How many of them, 1 to 12"), 0, session_, card).field;
    row->addWidget(make_label("word", "small", tr("steps"), card));
    for (LengthField* f : {low, high, count}) {
      f->set_unit(LengthUnit::none);
      f->setFixedWidth(80);
    }
  };
  fields(tr("Power from"), power_low_, power_high_, powers_, "grid-power", tr("on the beam's gauge"));
  fields(tr("Speed from"), feed_low_, feed_high_, feeds_, "grid-feed", tr("mm/min"));
  const auto take = [this](LengthField* field, const QString& text, auto member) {
    connect(field, &LengthField::committed, this, [this, text, member](double v) {
      change(text, [&](BeamGridSheet& s) { s.*member = static_cast<std::decay_t<decltype(s.*member)>>(v); });
    });
    connect(field, &LengthField::refused, this, [this](const QString& why) {
      session_.notices().notify({NoticeLevel::attention, why, {}});
    });
  };
  for (LengthField* f : {feed_low_, feed_high_, powers_, feeds_}) f->set_decimals(0);
  take(power_low_, tr("Say the powers to burn"), &BeamGridSheet::power_low);
  take(power_high_, tr("Say the powers to burn"), &BeamGridSheet::power_high);
  take(powers_, tr("Say the powers to burn"), &BeamGridSheet::powers);
  take(feed_low_, tr("Say the speeds to burn"), &BeamGridSheet::feed_low_mm_min);
  take(feed_high_, tr("Say the speeds to burn"), &BeamGridSheet::feed_high_mm_min);
  take(feeds_, tr("Say the speeds to burn"), &BeamGridSheet::feeds);
  hint_ = foot.hint("grid-hint", "task");
  auto* acts = foot.acts();
  write_ = add_act(
      acts, "grid-write", tr("Write the grid…"),
      tr("A program that burns each square and what it was burnt with beside it"), card, [this] { write_program(); },
      true);
  clear_ = add_act(acts, "grid-clear", tr("Mark none"), tr("Takes all marks off the squares"), card,
                   [this] { change(tr("Mark no square"), [](BeamGridSheet& s) { s.wanted.clear(); }); });
  number_acts({write_, clear_});
  connect(drawing_, &GridDrawing::marked, this, &GridPage::mark);
}

void GridPage::change(const QString& text, const std::function<void(BeamGridSheet&)>& how) {
  BeamGridSheet s = session_.editor().book().worksheets[trials_worksheet].grid;
  how(s);
  const auto in = [](int count) { return count >= 1 && count <= static_cast<int>(most_grid_levels); };
  if (!(s.power_low >= 0) || !(s.power_high >= 0) || !(s.feed_low_mm_min >= 0) || !(s.feed_high_mm_min >= 0) ||
      !in(s.powers) || !in(s.feeds)) {
    session_.notices().notify(
        {NoticeLevel::attention,
         tr("Powers and speeds are above zero, and there are 1 to %1 steps of each; it was left as "
            "it is.")
             .arg(most_grid_levels),
         {}});
    return refresh();
  }
  session_.editor().change_book(
      text, [&](Book& b) { b.worksheets[trials_worksheet].grid = s; }, MachineFollows::no);
}

std::optional<BeamGrid> GridPage::grid() const {
  auto planned = planned_grid(session_.editor().book());
  if (!planned) return std::nullopt;
  return std::move(*planned);
}

void GridPage::mark(const BeamSetting& square) {
  if (session_.editor().read_only()) return;
  change(tr("Mark a square"), [&](BeamGridSheet& s) {
    if (std::erase(s.wanted, square) == 0) s.wanted.push_back(square);
  });
}

void GridPage::write_program() {
  const Book& book = session_.editor().book();
  const auto planned = planned_grid(book);
  if (!planned) {
    session_.notices().notify({NoticeLevel::attention, to_q(planned.error().message), {}});
    return;
  }
  HeadLinesSetting setting;
  setting.title = tr("power and speed, %1").arg(to_q(book.worksheets[trials_worksheet].material)).toStdString();
  save_program(session_, this, beam_grid_program(book, *planned, setting), tr("Write the grid"), "power-and-speed.ngc");
}

PageFinding GridPage::finding() const {
  const Book& book = session_.editor().book();
  const TrialsWorksheet& s = book.worksheets[trials_worksheet];
  PageFinding f;
  f.lead = s.material.empty() ? tr("a material without a name") : to_q(s.material);
  f.keep = tr("Keep for this material");
  const auto g = grid();
  const auto best = g ? most_room(*g, s.grid.wanted) : std::nullopt;
  const auto kept = power_speed_for(book, s.material);
  const auto& shown = best ? best : kept;
  if (shown) {
    f.figure = tr("%1 at %2").arg(level_text(shown->power), QString::number(shown->feed_mm_min, 'f', 0));
    f.spread = tr("power, at a speed in mm/min");
  }
  if (!best) {
    f.verdict = kept ? tr("● In the book") : tr("○ Not tried yet");
    f.text =
        tr("Write the grid, burn it on a piece that does not matter, look, and click each square that came out as "
           "you want it. What lies in the middle of them is least upset by a weaker beam or another sheet.");
    return f;
  }
  const int around = wanted_around(*g, s.grid.wanted, *best);
  f.verdict = around > 0 ? tr("● There is room around it") : tr("◐ Nothing beside it is as wanted");
  f.text = around > 0
               ? tr("Squares around it that are as wanted too: %1.").arg(around)
               : tr("A beam a little weaker, or another sheet, will come out otherwise. Burn a finer grid around it.");
  f.can_keep = !s.material.empty();
  if (s.material.empty()) f.text += "\n" + tr("Name the material to keep it.");
  return f;
}

void GridPage::keep() {
  const auto g = grid();
  if (!g) return;
  const auto best = most_room(*g, session_.editor().book().worksheets[trials_worksheet].grid.wanted);
  if (!best) return;
  session_.editor().change_book(
      tr("Keep power and speed"), [&](Book& b) { keep_power_speed(b, *best, session_.editor().now().toStdString()); },
      MachineFollows::no);
}

void GridPage::refresh() {
  const Book& book = session_.editor().book();
  const BeamGridSheet& s = book.worksheets[trials_worksheet].grid;
  const auto shown = [](double v) { return v > 0 ? std::optional(v) : std::nullopt; };
  power_low_->show_value(shown(s.power_low));
  power_high_->show_value(shown(s.power_high));
  powers_->show_value(s.powers);
  feed_low_->show_value(shown(s.feed_low_mm_min));
  feed_high_->show_value(shown(s.feed_high_mm_min));
  feeds_->show_value(s.feeds);
  const auto planned = planned_grid(book);
  const Head* beam = trial_head(book);
  const QString gauge = beam ? to_q(beam->gauge) : QString();
  drawing_->show(planned ? std::optional(*planned) : std::nullopt, s.wanted,
                 planned ? most_room(*planned, s.wanted) : std::nullopt,
                 gauge.isEmpty() ? tr("power") : tr("power, %1").arg(gauge));
  set_text(hint_, !planned ? to_q(planned.error().message)
                           : tr("The piece will be %1 × %2 mm.")
                                 .arg(grid_pitch_x(*planned) * static_cast<double>(planned->powers.size()), 0, 'f', 0)
                                 .arg(grid_pitch_y(*planned) * static_cast<double>(planned->feeds.size()), 0, 'f', 0));
  refresh_status();
}

void GridPage::refresh_status() {
  const bool writable = !session_.editor().read_only();
  write_->setEnabled(grid().has_value());
  clear_->setEnabled(writable && !session_.editor().book().worksheets[trials_worksheet].grid.wanted.empty());
  for (LengthField* f : {power_low_, power_high_, powers_, feed_low_, feed_high_, feeds_}) f->setEnabled(writable);
}

}  // namespace ypsi::app
