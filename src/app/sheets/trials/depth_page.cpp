#include "app/sheets/trials/depth_page.h"

#include <qcustomplot.h>

#include <QHBoxLayout>
#include <QLabel>
#include <algorithm>
#include <cmath>

#include "app/drawing/plot_look.h"
#include "app/session/book_editor.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/sheets/instrument_choice.h"
#include "app/sheets/page_foot.h"
#include "app/sheets/save_program.h"
#include "app/sheets/sheet.h"
#include "app/sheets/trials/depth_section.h"
#include "app/to_q.h"
#include "core/book/worksheets/trials.h"
#include "core/procedures/bench.h"

namespace ypsi::app {
namespace {

constexpr double likely_percent = 2.5;  // beyond U on one side

QComboBox* make_choice(const char* name, const QString& what, const QStringList& words, QWidget* parent) {
  auto* box = new QComboBox(parent);
  box->setObjectName(name);
  box->setAccessibleName(what);
  box->addItems(words);
  box->setSizeAdjustPolicy(QComboBox::AdjustToContents);
  return box;
}

/// The plate that is tried.
Material& plate_of(Book& book) {
  return describe_material(book.job.materials, book.worksheets[trials_worksheet].material);
}

}  // namespace

DepthPage::DepthPage(Session& session) : FindingPage(session) {
  auto* column = make_card_page(this);
  QWidget* card = column->parentWidget();
  section_ = new DepthSection(card);
  column->addWidget(section_, 3);
  auto* below = new QHBoxLayout;
  ladder_ = new QCustomPlot(card);
  ladder_->setObjectName("depth-ladder");
  ladder_->setAccessibleName(tr("Depth of each groove over what was set for it"));
  ladder_->setMinimumHeight(88);
  constexpr int few = 4;
  ladder_->xAxis->ticker()->setTickCount(few);
  below->addWidget(ladder_, 3);
  dial_ = new NoseDial(card);
  below->addWidget(dial_, 2);
  column->addLayout(below, 2);

  PageFoot foot(column, card);
  auto *settings = foot.settings(), *groove = foot.settings(), *acts = foot.acts();
  auto* with = make_label("word", "small", tr("Measured with"), card);
  with->setWordWrap(false);
  settings->addWidget(with);
  instrument_ = make_choice("depth-instrument", tr("Instrument"), {}, card);
  settings->addWidget(instrument_);
  what_ = make_choice("depth-what", tr("What of a groove is measured"), {tr("its depth"), tr("its width")}, card);
  settings->addWidget(what_);
  by_ = make_choice("depth-by", tr("What says how deep"), {tr("by the nose"), tr("by Z")}, card);
  settings->addWidget(by_);
  const auto tick = add_field(groove, "depth-tick", tr("Tick"), tr("What was set for this groove"), 2, session, card);
  tick_word_ = tick.word;
  tick_ = tick.field;
  measured_ =
      add_field(groove, "depth-measured", tr("measures"), tr("What this groove measures"), 3, session, card).field;
  for (LengthField* f : {tick_, measured_}) f->setFixedWidth(80);
  hint_ = foot.hint("depth-hint", "task");
  take_ = add_act(
      acts, "depth-take", tr("Take it"), tr("Keeps what this groove measures"), card, [this] { add_groove(); }, true);
  make_ =
      add_act(acts, "depth-make", tr("Make groove"),
              tr("Engrave and measure it as a person at the simulated machine would"), card, [this] { make_groove(); });
  write_ = add_act(acts, "depth-write", tr("Write a ladder…"),
                   tr("Grooves at rising depths over the whole piece, as a program"), card, [this] { write_ladder(); });
  back_ = add_act(acts, "depth-back", tr("Take back"), tr("Takes the newest groove out"), card, [this] {
    change(tr("Take a groove back"), [](DepthSheet& s) {
      if (!s.grooves.empty()) s.grooves.pop_back();
    });
  });
  number_acts({take_, make_, write_, back_});

  bind(section_->cap, [](Book& b) -> double& { return plate_of(b).cap_mm; });
  bind(section_->total, [](Book& b) -> double& { return plate_of(b).total_mm; });
  bind(section_->depth, [](Book& b) -> double& { return b.worksheets[trials_worksheet].depth.wanted_mm; });
  bind(section_->left, [](Book& b) -> double& { return b.worksheets[trials_worksheet].depth.core_left_mm; });
  connect(instrument_, &QComboBox::activated, this, [this] {
    change(tr("Choose an instrument"),
           [this](DepthSheet& s) { s.instrument = instrument_->currentText().toStdString(); });
  });
  connect(what_, &QComboBox::activated, this,
          [this](int at) { change(tr("Say what is measured"), [at](DepthSheet& s) { s.by_width = at == 1; }); });
  connect(by_, &QComboBox::activated, this,
          [this](int at) { change(tr("Say what sets the depth"), [at](DepthSheet& s) { s.by_z = at == 1; }); });
  for (LengthField* f : {tick_, measured_}) connect(f, &LengthField::committed, this, [this] { refresh_status(); });
  connect(measured_, &LengthField::next_wanted, this, [this] {
    if (take_->isEnabled()) add_groove();
    tick_->setFocus();
    tick_->selectAll();
  });
}

void DepthPage::change(const QString& text, const std::function<void(DepthSheet&)>& how) {
  session_.editor().change_book(
      text, [&](Book& b) { how(b.worksheets[trials_worksheet].depth); }, MachineFollows::no);
}

void DepthPage::bind(LengthField* field, double& (*value)(Book&)) {
  const QString what = tr("Type %1").arg(field->accessibleName());
  const auto type = [this, value, what](double mm) {
    session_.editor().change_book(
        what, [&](Book& b) { value(b) = mm; }, MachineFollows::no);
  };
  connect(field, &LengthField::committed, this, [this, value, type](double mm) {
    Book tried = session_.editor().book_without_record();
    value(tried) = mm;
    const Material plate = plate_material(tried);
    const double left = tried.worksheets[trials_worksheet].depth.core_left_mm;
    if (mm < 0 || (plate.total_mm > 0 && (plate.cap_mm > plate.total_mm || left > plate.total_mm))) {
      session_.notices().notify({NoticeLevel::attention,
                                 tr("A layer is not thicker than its plate, and nothing is below zero; it was left as "
                                    "it is."),
                                 {}});
      return refresh();
    }
    type(mm);
  });
  connect(field, &LengthField::cleared, this, [type] { type(0); });
  connect(field, &LengthField::refused, this, [this](const QString& why) {
    session_.notices().notify({NoticeLevel::attention, why, {}});
  });
}

void DepthPage::add_groove() {
  const auto tick = tick_->value(), measured = measured_->value();
  if (!tick || !measured) return;
  if (*measured < 0) {
    session_.notices().notify({NoticeLevel::attention, tr("A groove is not above the top; it was not taken."), {}});
    return;
  }
  change(tr("Take a groove"), [&](DepthSheet& s) { s.grooves.push_back({*tick, *measured}); });
  tick_->show_value(std::nullopt);
  measured_->show_value(std::nullopt);
  refresh_status();
}

void DepthPage::make_groove() {
  if (!tick_->value()) return;
  session_.machine().look(
      this,
      [tick = *tick_->value(), with = session_.editor().book().worksheets[trials_worksheet].depth.instrument](
          Bench& b) { return b.read_groove(tick, with); },
      [this](double depth) {
        measured_->show_value(depth);
        refresh_status();
      });
}

void DepthPage::write_ladder() {
  const Book& book = session_.editor().book();
  const auto ladder = engraving_ladder(book);
  if (!ladder) {
    session_.notices().notify({NoticeLevel::attention, to_q(ladder.error().message), {}});
    return;
  }
  HeadLinesSetting setting;
  setting.title = tr("a ladder of grooves, %1").arg(to_q(book.worksheets[trials_worksheet].material)).toStdString();
  const Head* head = trial_head(book);
  if (!head || needs_spindle(head->kind)) setting.rpm = book.machine.spindle.max_rpm / 2;
  constexpr double gently_mm_min = 300;
  setting.feed = gently_mm_min;
  save_program(session_, this, head_lines_program(book, ladder->lines, setting), tr("Write a ladder"), "grooves.ngc");
}

PageFinding DepthPage::finding() const {
  const Book& book = session_.editor().book();
  const TrialsWorksheet& s = book.worksheets[trials_worksheet];
  const auto len = [&](double mm, int decimals) { return session_.editor().length(mm, decimals); };
  const bool nose = by_nose(book);
  PageFinding f;
  f.keep = tr("Keep for this plate");
  const QString material = s.material.empty() ? tr("a plate without a name") : to_q(s.material);
  const auto found = evaluate_engraving(book);
  const auto kept = s.material.empty() ? std::nullopt : engraving_for(book, s.material, s.tool);
  const auto set_words = [&](double set) {
    return nose ? tr("Set the nose to %1, turned the same way as here.").arg(set, 0, 'f', 1)
                : tr("Send Z %1 below the top.").arg(len(set, 3));
  };
  f.lead = nose ? tr("%1: one tick of the nose is").arg(material) : tr("%1: for each mm that Z goes").arg(material);
  if (!found) {
    if (kept && s.depth.grooves.empty()) {
      f.figure = nose ? len(*kept->mm_per_tick, 4) : QString::number(*kept->mm_per_tick, 'f', 3);
      f.spread = tr("in the book, grooves: %1").arg(kept->looks.value_or(0));
      f.verdict = tr("● %1 deep, in the book").arg(len(kept->depth.value_or(0), 2));
      f.text = set_words(kept->set.value_or(0)) + "\n" +
               tr("Measure a ladder again when the tool is another or was ground: the zero tick is its own.");
      return f;
    }
    f.verdict = s.depth.grooves.empty() ? tr("○ Not measured yet") : tr("◐ Not told yet");
    f.text = s.depth.grooves.empty()
                 ? (nose ? tr("Turn the nose to a few ticks, always turning the same way, engrave a short groove at "
                              "each and measure how deep it is: three at the least, six tell well. For this you need "
                              "a piece of the plate and an indicator or a caliper's rod; ten minutes.")
                         : tr("Engrave short grooves at a few depths over the whole plate and measure each: three at "
                              "the least, six tell well. What they scatter is what the plate and the machine are "
                              "uneven by."))
                 : to_q(found.error().message);
    return f;
  }
  f.figure = nose ? len(found->ticks.mm_per_tick, 4) : QString::number(found->ticks.mm_per_tick, 'f', 3);
  f.spread = nose ? tr("zero at tick %1 ±%2, grooves: %3")
                        .arg(found->ticks.zero_tick, 0, 'f', 1)
                        .arg(found->ticks.U_zero_tick, 0, 'f', 1)
                        .arg(s.depth.grooves.size())
                  : tr("it just touches %1 ±%2 below the top, grooves: %3")
                        .arg(len(found->ticks.zero_tick, 3), len(found->ticks.U_zero_tick, 3))
                        .arg(s.depth.grooves.size());
  const QString deep = len(found->depth, 2);
  const DepthMargins& m = found->margins;
  const Material plate = plate_material(book);
  const bool capped = plate.cap_mm > 0;
  switch (m.verdict) {
    case DepthVerdict::clears:
      f.verdict = capped ? tr("● %1 deep clears the cap, surely").arg(deep) : tr("● %1 deep").arg(deep);
      break;
    case DepthVerdict::misses_cap:
      f.verdict = tr("⊗ %1 deep does not reach the core").arg(deep);
      break;
    case DepthVerdict::unsure_cap:
      f.verdict = tr("◐ %1 deep does not clear the cap everywhere").arg(deep);
      break;
    case DepthVerdict::too_deep:
      f.verdict = tr("⊗ %1 deep leaves too little").arg(deep);
      break;
    case DepthVerdict::unsure_core:
      f.verdict = tr("◐ %1 deep leaves too little in places").arg(deep);
      break;
  }
  QStringList words;
  words << set_words(found->ticks.tick);
  if (capped)
    words << tr("Cap %1, depth %2 ±%3: %4 beyond it.")
                 .arg(len(plate.cap_mm, 2), deep, len(found->U_next, 2), len(m.below_cap, 2));
  else
    words << tr("The next groove comes out so to ±%1.").arg(len(found->U_next, 2));
  if (capped && found->chance_missed * 100 > likely_percent)
    words << tr("Of 100 grooves %1 would not reach the core.").arg(std::ceil(found->chance_missed * 100), 0, 'f', 0);
  if (plate.total_mm > 0) words << tr("Left below: %1 of %2.").arg(len(m.left, 2), len(plate.total_mm, 2));
  if (capped && m.verdict != DepthVerdict::clears)
    words << (plate.total_mm > 0 && m.most < m.least
                  ? tr("No depth is sure on both sides: scatter less, or take another plate.")
              : plate.total_mm > 0 ? tr("Sure from %1 to %2.").arg(len(m.least, 2), len(m.most, 2))
                                   : tr("Sure from %1.").arg(len(m.least, 2)));
  if (found->width)
    words << tr("Lines come out %1 wide at the top, ±%2.").arg(len(*found->width, 2), len(*found->U_width, 2));
  f.can_keep = !s.material.empty() && s.depth.wanted_mm > 0;
  if (s.material.empty()) words << tr("Name the material to keep it.");
  if (!(s.depth.wanted_mm > 0)) words << tr("Type on the drawing how deep it shall be.");
  f.text = words.join("\n");
  return f;
}

void DepthPage::keep() {
  const auto found = evaluate_engraving(session_.editor().book());
  if (!found) return;
  session_.editor().change_book(
      tr("Keep a depth"), [&](Book& b) { keep_engraving(b, *found, session_.editor().now().toStdString()); },
      MachineFollows::no);
}

void DepthPage::show_ladder(const Result<EngravingFinding>& found) {
  const Book& book = session_.editor().book();
  const LengthUnit unit = session_.editor().unit();
  ladder_->clearPlottables();
  ladder_->clearItems();
  // A tick is a number; what Z was sent to is a length.
  const bool nose = by_nose(book);
  const auto shown = [&](double tick) { return nose ? tick : in_unit(tick, unit); };
  QVector<double> x, y;
  double low = 0, high = 1, deepest = 0;
  for (const TickGroove& g : book.worksheets[trials_worksheet].depth.grooves) {
    const auto depth = groove_depth(book, g);
    if (!depth) continue;
    low = x.isEmpty() ? g.tick : std::min(low, g.tick);
    high = x.isEmpty() ? g.tick : std::max(high, g.tick);
    x << shown(g.tick);
    y << in_unit(*depth, unit);
    deepest = std::max(deepest, y.last());
  }
  const auto line = [&](double x0, double y0, double x1, double y1, const QPen& pen) {
    auto* of = ladder_->addGraph();
    of->setData({shown(x0), shown(x1)}, {y0, y1});
    of->setPen(pen);
  };
  if (found) {
    const DepthTicks& t = found->ticks;
    low = std::min(low, t.tick);
    high = std::max(high, t.tick);
    const auto at = [&](double tick) { return in_unit(t.mm_per_tick * (tick - t.zero_tick), unit); };
    line(low, at(low), high, at(high), QPen(theme().teal, 2));
    const double depth = in_unit(found->depth, unit), margin = (high - low) * 0.1;
    line(low - margin, depth, t.tick, depth, QPen(theme().red, 1.4, Qt::DashLine));
    line(t.tick, 0, t.tick, depth, QPen(theme().red, 1.4, Qt::DashLine));
    deepest = std::max(deepest, depth);
  }
  auto* points = ladder_->addGraph();
  points->setData(x, y);
  points->setLineStyle(QCPGraph::lsNone);
  points->setScatterStyle(QCPScatterStyle(QCPScatterStyle::ssDisc, theme().teal, theme().teal, 9));
  if (x.isEmpty()) say_in(*ladder_, tr("No groove yet"));
  dress(*ladder_);
  const double margin = std::max((high - low) * 0.1, 1e-3);
  ladder_->xAxis->setRange(shown(low - margin), shown(high + margin));
  ladder_->yAxis->setRange(0, deepest > 0 ? deepest * 1.15 : 1);
  const Head* head = trial_head(book);
  ladder_->xAxis->setLabel(nose ? to_q(head->gauge.empty() ? "tick" : head->gauge)
                                : tr("what Z was sent to, %1").arg(to_q(unit_name(unit))));
  ladder_->yAxis->setLabel(tr("depth, %1").arg(to_q(unit_name(unit))));
  ladder_->replot();
}

void DepthPage::refresh() {
  const Book& book = session_.editor().book();
  const TrialsWorksheet& s = book.worksheets[trials_worksheet];
  const LengthUnit unit = session_.editor().unit();
  const Head* head = trial_head(book);
  const bool nose = by_nose(book), has = head && has_nose(*head);
  const auto found = evaluate_engraving(book);
  const Tool* tool = engraving_tool(book);
  const double depth = found ? found->depth : s.depth.wanted_mm;
  section_->show({s.depth, plate_material(book), tool ? std::optional(*tool) : std::nullopt, depth,
                  found ? found->U_next : 0, nose},
                 unit);
  show_ladder(found);
  std::optional<NoseDial::Dial> dial;
  if (nose) dial = NoseDial::Dial{head->gauge_low, head->gauge_high};
  const bool told = found && s.depth.wanted_mm > 0;
  dial_->show(dial, told ? std::optional(found->ticks.tick) : std::nullopt,
              !told  ? QString()
              : nose ? QString::number(found->ticks.tick, 'f', 1)
                     : session_.editor().length(found->ticks.tick, 3));
  const QSignalBlocker quiet(instrument_), quiet_what(what_), quiet_by(by_);
  offer_instruments(instrument_, book);
  instrument_->setCurrentText(to_q(s.depth.instrument));
  what_->setCurrentIndex(s.depth.by_width ? 1 : 0);
  by_->setCurrentIndex(nose ? 0 : 1);
  by_->setVisible(has);
  set_text(tick_word_, nose ? tr("Tick") : tr("Sent to"));
  tick_->set_unit(nose ? LengthUnit::none : unit);
  tick_->set_decimals(nose ? 1 : 3);
  measured_->set_unit(unit);
  refresh_status();
}

void DepthPage::refresh_status() {
  const bool writable = !session_.editor().read_only();
  const DepthSheet& s = session_.editor().book().worksheets[trials_worksheet].depth;
  Bench* bench = session_.machine().bench();
  take_->setEnabled(writable && tick_->value() && measured_->value());
  back_->setEnabled(writable && !s.grooves.empty());
  make_->setVisible(bench != nullptr && by_nose(session_.editor().book()) && !s.by_width);
  make_->setEnabled(tick_->value() && session_.machine().status().state != MachineState::offline);
  for (LengthField* f : {section_->cap, section_->total, section_->depth, section_->left, tick_, measured_})
    f->setEnabled(writable);
  set_text(hint_, s.grooves.size() < 3
                      ? tr("Type what was set for a groove and what it measures; Enter goes on to the next.")
                  : s.grooves.size() < 6 ? tr("It is told; a few more grooves tell how surely.")
                                         : tr("This is told well; more grooves tell little."));
}

}  // namespace ypsi::app
