#include "app/sheets/heads_sheet.h"

#include <algorithm>

#include "app/session/book_editor.h"
#include "app/sheets/heads/figures_page.h"
#include "app/sheets/heads/focus_page.h"
#include "app/sheets/heads/place_page.h"
#include "app/to_q.h"

namespace ypsi::app {
HeadsSheet::HeadsSheet(Session& session)
    : Sheet(session, heads_task(), tr("Find where each head stands against the first.")) {
  heads_row_ = new QHBoxLayout;
  pages_ = new SheetPages(this, "heads-");
  const std::array<QString, all_head_measures.size()> words{tr("Place"), tr("Trailing offset"), tr("Blade"),
                                                            tr("Focus"), tr("Kerf")};
  const std::array<FindingPage*, all_head_measures.size()> pages{
      new PlacePage(session), new FiguresPage(session, HeadMeasure::trailing),
      new FiguresPage(session, HeadMeasure::blade), new FocusPage(session),
      new FiguresPage(session, HeadMeasure::kerf)};
  for (const HeadMeasure m : all_head_measures) {
    const auto i = static_cast<std::size_t>(m);
    pages_->add(name(m), words[i], words[i], pages[i])
        ->setMinimumWidth(fontMetrics().horizontalAdvance(words[i]) + chip_edges_px);
  }
  heads_row_->addStretch();
  body()->addLayout(heads_row_);
  body()->addWidget(pages_, 1);
  labels_.emplace(*finding(), "heads", tr("Its place holds no more: it is measured anew before it is used"));
  connect(labels_->keep(), &QPushButton::clicked, this, [this] { page()->keep(); });
  connect(labels_->second(), &QPushButton::clicked, this, [this] { page()->second(); });
  offer_jog();
}

void HeadsSheet::show_heads() {
  const Book& book = session_.editor().book();
  const auto& heads = book.machine.heads;
  const auto chosen = chosen_head(book);
  while (head_chips_.size() < heads.size()) {
    const std::size_t i = head_chips_.size();
    auto* chip = make_chip(QString("head-%1").arg(i + 1), "", "", this);
    connect(chip, &QPushButton::clicked, this, [this, i] {
      session_.editor().note_in_book([i](Book& b) {
        if (i < b.machine.heads.size()) choose_head(b, b.machine.heads[i].name);
      });
      refresh();
    });
    heads_row_->insertWidget(static_cast<int>(i), chip);
    head_chips_.push_back(chip);
  }
  for (std::size_t i = 0; i < head_chips_.size(); ++i) {
    head_chips_[i]->setVisible(i < heads.size());
    if (i >= heads.size()) continue;
    set_text(head_chips_[i], to_q(heads[i].name));
    head_chips_[i]->setMinimumWidth(head_chips_[i]->fontMetrics().horizontalAdvance(head_chips_[i]->text()) +
                                    chip_edges_px);
    head_chips_[i]->setToolTip(i == 0 ? tr("The head that the machine counts for") : tr("The head to measure"));
    head_chips_[i]->setChecked(chosen == i);
  }
}

void HeadsSheet::show_measures() {
  const Book& book = session_.editor().book();
  const auto chosen = chosen_head(book);
  std::vector<HeadMeasure> offered;
  if (chosen) offered = measures_of(book.machine, *chosen);
  const auto has = [&](HeadMeasure m) { return std::find(offered.begin(), offered.end(), m) != offered.end(); };
  if (!has(shown_)) shown_ = offered.empty() ? HeadMeasure::place : offered.front();
  for (const HeadMeasure m : all_head_measures) {
    pages_->chip(name(m))->setVisible(has(m) && offered.size() > 1);
  }
  pages_->turn_to(name(shown_));
}

void HeadsSheet::show_part(const QString& part) {
  for (const HeadMeasure m : all_head_measures)
    if (part == name(m)) shown_ = m;
  refresh();
}

void HeadsSheet::refresh() {
  show_heads();
  show_measures();
  page()->refresh();
  labels_->show(page()->finding(), session_.editor().read_only());
}

void HeadsSheet::refresh_status() {
  page()->refresh_status();
}

}  // namespace ypsi::app
