#include "app/sheets/trials_sheet.h"

#include <QLineEdit>
#include <algorithm>
#include <cmath>

#include "app/session/book_editor.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/sheets/beam_checks.h"
#include "app/sheets/page_foot.h"
#include "app/sheets/save_program.h"
#include "app/sheets/trials/depth_page.h"
#include "app/sheets/trials/grid_page.h"
#include "app/sheets/trials/level_text.h"
#include "app/sheets/trials/trial_curve.h"
#include "app/to_q.h"
#include "core/book/worksheets/trials.h"
#include "core/procedures/bench.h"
#include "core/program/head_lines.h"
#include "core/program/own_blocks.h"

namespace ypsi::app {
namespace {

constexpr double trial_cut_mm = 30, trials_apart_mm = 8;
constexpr int ladder_cuts = 8;  // cuts of a program
constexpr double flash_s = 0.1, flashes_apart_mm = 2;

}  // namespace

TrialsSheet::TrialsSheet(Session& session)
    : Sheet(session, trials_task(), tr("Find what cuts through and spares what lies below.")) {
  auto* card = make_card();
  grid_ = new GridPage(session);
  depth_ = new DepthPage(session);
  pages_ = new SheetPages(this, "trials-");
  pages_->add("least", tr("Least power"), tr("The least power that shows a dot"), card);
  pages_->add("grid", tr("Power and speed"), tr("Squares by power and speed"), grid_);
  pages_->add("depth", tr("Depth of grooves"), tr("How deep grooves come out, by ticks or by Z"), depth_);
  pages_->add("looks", tr("Through or not"), tr("Cuts at rising depth, looked at"), card);
  title_row()->addSpacing(12);
  auto* settings = new QHBoxLayout;
  settings->addWidget(make_label("word", "small", tr("Material"), this));
  material_ = new QComboBox(this);
  material_->setObjectName("trial-material");
  material_->setAccessibleName(tr("Material that is cut"));
  material_->setEditable(true);
  material_->setInsertPolicy(QComboBox::NoInsert);
  material_->setMinimumWidth(150);
  material_->lineEdit()->setObjectName("trial-material-name");
  material_->lineEdit()->setAccessibleName(material_->accessibleName());
  settings->addWidget(material_, 1);
  tool_ = new QComboBox(this);
  tool_->setObjectName("trial-tool");
  tool_->setAccessibleName(tr("Blade or tool"));
  tool_->setSizeAdjustPolicy(QComboBox::AdjustToContents);
  settings->addWidget(tool_);
  body()->addLayout(settings);
  auto* column = new QVBoxLayout(card);
  column->setContentsMargins(16, 10, 16, 10);
  column->setSpacing(7);
  caption_ = make_label("trials-caption", "caption", "", card);
  column->addWidget(caption_);
  curve_ = new TrialCurve(card);
  column->addWidget(curve_, 1);

  beam_ = new BeamChecks(session, 4, card);
  column->addWidget(beam_);
  PageFoot foot(column, card);
  auto* levels = foot.settings();
  low_ = add_field(levels, "trial-low", tr("From"), tr("Lowest level to look at"), 3, session, card).field;
  high_ = add_field(levels, "trial-high", tr("to"), tr("Highest level to look at"), 3, session, card).field;
  step_ = add_field(levels, "trial-step", tr("by"), tr("Finest that can be set; 0: any"), 3, session, card).field;
  for (LengthField* f : {low_, high_, step_}) {
    f->set_unit(LengthUnit::none);
    f->set_decimals(2);
    f->setFixedWidth(62);
  }

  cut_words_ = make_label("trial-cut", "strong", "", card);
  cut_words_->setWordWrap(false);
  levels->addSpacing(10);
  levels->addWidget(cut_words_);
  level_ = new LengthField("trial-level", tr("Level of this cut"), card);
  level_->set_unit(LengthUnit::none);
  level_->set_decimals(2);
  level_->setFixedWidth(72);
  levels->addWidget(level_);
  auto* through = new QButtonGroup(this);
  through->setExclusive(true);
  through_ =
      make_chip("trial-through", tr("All through"), tr("This cut went through over its whole length"), card, through);
  not_through_ = make_chip("trial-not-through", tr("Not through"), tr("Somewhere it did not"), card, through);
  auto* below = new QButtonGroup(this);
  below->setExclusive(true);
  spared_ = make_chip("trial-spared", tr("Spared below"), tr("What lies below is as it was"), card, below);
  marked_ = make_chip("trial-marked", tr("Marked below"), tr("What lies below was cut or marked"), card, below);
  levels->addWidget(through_);
  levels->addWidget(not_through_);
  levels->addSpacing(6);
  levels->addWidget(spared_);
  levels->addWidget(marked_);

  next_ = foot.hint("trial-next", "task");
  auto* acts = foot.acts();
  take_ = add_act(
      acts, "trial-take", tr("Take it"), tr("Keeps what you saw of this cut"), card, [this] { add_look(); }, true);
  make_ = add_act(acts, "trial-make", tr("Make the cut"),
                  tr("Cut and look at it as a person at the simulated machine would"), card, [this] { make_cut(); });
  flash_act_ =
      add_act(acts, "trial-flash", tr("Flash"),
              tr("Switches the beam on for a tenth of a second at this level, then goes aside to fresh ground"), card,
              [this] { flash(); });
  write_ = add_act(acts, "trial-write", tr("Write a ladder…"),
                   tr("Cuts at rising levels as a program that stops before each"), card, [this] { write_program(); });
  back_ = add_act(acts, "trial-back", tr("Take back"), tr("Takes the newest look out"), card, [this] { take_back(); });
  number_acts({take_, make_, flash_act_, write_, back_});
  wear_ = foot.hint("trial-wear");
  body()->addWidget(pages_, 1);

  labels_.emplace(*finding(), "trials", tr("Looks of this one are put by"));
  connect(labels_->keep(), &QPushButton::clicked, this, [this] {
    if (auto* page = shown_page())
      page->keep();
    else
      keep();
  });
  connect(labels_->second(), &QPushButton::clicked, this, [this] {
    material_->setFocus();
    material_->lineEdit()->selectAll();
  });
  connect(material_->lineEdit(), &QLineEdit::editingFinished, this, [this] {
    const auto& s = session_.editor().book().worksheets[trials_worksheet];
    const QString material = material_->currentText().trimmed();
    if (material.toStdString() != s.material) choose(material, s.head, s.tool);
  });
  connect(material_, &QComboBox::activated, this, [this] {
    const auto& s = session_.editor().book().worksheets[trials_worksheet];
    choose(material_->currentText().trimmed(), s.head, s.tool);
  });
  connect(tool_, &QComboBox::activated, this, [this] {
    const auto& s = session_.editor().book().worksheets[trials_worksheet];
    choose(to_q(s.material), s.head, tool_->currentData().toInt());
  });
  connect(low_, &LengthField::committed, this, [this](double v) { set_range(&TrialsWorksheet::low, v); });
  connect(high_, &LengthField::committed, this, [this](double v) { set_range(&TrialsWorksheet::high, v); });
  connect(step_, &LengthField::committed, this, [this](double v) { set_range(&TrialsWorksheet::step, v); });
  for (QPushButton* chip : {through_, not_through_, spared_, marked_})
    connect(chip, &QPushButton::clicked, this, [this] { refresh_status(); });
  connect(&session_.machine(), &MachineSession::procedure_ended, this, [this](const Procedure* p) {
    if (!flash_ || p != flash_.get() || flash_->phase() != Procedure::Phase::done) return;
    if (session_.machine().bench()) make_cut();  // the person at a simulated machine looks
  });
  connect(level_, &LengthField::refused, this, [this](const QString& why) {
    session_.notices().notify({NoticeLevel::attention, why, {}});
  });
}

void TrialsSheet::show_part(const QString& part) {
  wanted_ = part == "grid" ? Part::grid : part == "depth" ? Part::depth : Part::looks;
  refresh();
}

bool TrialsSheet::engraves_depth() const {
  const Head* head = trial_head(session_.editor().book());
  return !head || trial_kind(head->kind) == TrialKind::depth;
}

TrialsSheet::Part TrialsSheet::part() const {
  if (engraves_depth()) return wanted_ == Part::looks ? Part::looks : Part::depth;
  return by_power() && wanted_ == Part::grid ? Part::grid : Part::looks;
}

FindingPage* TrialsSheet::shown_page() const {
  return part() == Part::grid ? static_cast<FindingPage*>(grid_) : part() == Part::depth ? depth_ : nullptr;
}

void TrialsSheet::change(const QString& text, const std::function<void(Book&)>& how) {
  session_.editor().change_book(text, how, MachineFollows::no);
}

void TrialsSheet::choose(const QString& material, const std::string& head, int tool) {
  const Head* now = trial_head(session_.editor().book());
  const std::string of = head.empty() && now ? now->name : head;
  change(tr("Choose what is tried"), [&](Book& b) { choose_trial(b, material.toStdString(), of, tool); });
}

void TrialsSheet::set_range(double TrialsWorksheet::*value, double to) {
  const Book& book = session_.editor().book();
  TrialsWorksheet s = book.worksheets[trials_worksheet];
  if (const auto range = trial_range(book); range && !(s.low < s.high)) {
    s.low = range->low;
    s.high = range->high;
  }
  s.*value = to;
  if (!(s.step >= 0) || (s.low >= s.high && s.low != 0 && s.high != 0)) {
    session_.notices().notify({NoticeLevel::attention,
                               tr("The first level must be below the last, and the step not below zero; it was left as "
                                  "it is."),
                               {}});
    return refresh();
  }
  change(tr("Say between which levels to look"), [&](Book& b) {
    b.worksheets[trials_worksheet].low = s.low;
    b.worksheets[trials_worksheet].high = s.high;
    b.worksheets[trials_worksheet].step = s.step;
  });
}

std::optional<TrialFinding> TrialsSheet::found() const {
  auto result = evaluate_trials(session_.editor().book());
  if (!result) return std::nullopt;
  return *result;
}

double TrialsSheet::level() const {
  return level_->value().value_or(0);
}

void TrialsSheet::add_look() {
  TrialLook look;
  look.level = level();
  look.through = through_->isChecked();
  look.backing = marked_->isChecked() ? Backing::marked : spared_->isChecked() ? Backing::spared : Backing::not_looked;
  if (const auto range = trial_range(session_.editor().book());
      !range || look.level < range->low || look.level > range->high) {
    session_.notices().notify(
        {NoticeLevel::attention, tr("That level is not between the lowest and the highest; it was not taken."), {}});
    return;
  }
  change(tr("Take a look"), [&](Book& b) { b.worksheets[trials_worksheet].looks.push_back(look); });
}

void TrialsSheet::take_back() {
  change(tr("Take a look back"), [](Book& b) {
    if (!b.worksheets[trials_worksheet].looks.empty()) b.worksheets[trials_worksheet].looks.pop_back();
  });
}

void TrialsSheet::make_cut() {
  const Head* head = trial_head(session_.editor().book());
  if (!head) return;
  session_.machine().look(
      this, [name = head->name, level = level()](Bench& b) { return b.try_cut(name, level); },
      [this](const TrialSeen& seen) {
        (seen.through ? through_ : not_through_)->setChecked(true);
        if (!by_power()) (seen.marked ? marked_ : spared_)->setChecked(true);
        refresh_status();
      });
}

bool TrialsSheet::by_power() const {
  const Head* head = trial_head(session_.editor().book());
  return head && head->kind == HeadKind::beam;
}

void TrialsSheet::flash() {
  const Head* head = trial_head(session_.editor().book());
  if (!head || !session_.machine().must_be_free() || !session_.machine().beam_seen_to()) return;
  session_.machine().start(flash_, *head, level(), flash_s, flashes_apart_mm);
}

void TrialsSheet::write_program() {
  const Book& book = session_.editor().book();
  const auto range = trial_range(book);
  const Head* head = trial_head(book);
  if (!range || !head) return;
  const auto f = found();
  // Around what is known: over the whole range at first, then over where it turns.
  double low = range->low, high = range->high;
  if (f && f->through && f->through->threshold && f->through->U_threshold) {
    const double reach = std::max(2 * *f->through->U_threshold, 2 * f->through->sigma.value_or(0));
    low = std::max(low, *f->through->threshold - reach);
    high = std::min(high, *f->through->threshold + reach);
  }
  std::vector<double> levels;
  for (int i = 0; i < ladder_cuts; ++i) {
    double at = low + (high - low) * i / (ladder_cuts - 1);
    if (range->step > 0) at = range->low + std::round((at - range->low) / range->step) * range->step;
    if (levels.empty() || at > levels.back()) levels.push_back(at);
  }
  const auto index = static_cast<std::size_t>(head - book.machine.heads.data());
  auto lines = trial_lines(index, levels, head->gauge, book.job.stock_corner[0] + trials_apart_mm,
                           book.job.stock_corner[1] + trials_apart_mm, trial_cut_mm, trials_apart_mm);
  HeadLinesSetting setting;
  setting.title = tr("trial cuts, %1").arg(material_->currentText()).toStdString();
  // What the program sets by itself nobody is stopped for.
  const bool by_block = says_level(*head, HeadAct::on) || says_level(*head, HeadAct::lower),
             by_depth = trial_kind(head->kind) == TrialKind::depth;
  for (std::size_t i = 0; i < lines.size(); ++i) {
    if (by_block) lines[i].level = levels[i];
    if (by_depth) lines[i].depth = levels[i];
    if (by_block || by_depth) lines[i].before.clear();
  }
  save_program(session_, this, head_lines_program(book, lines, setting), tr("Write a ladder"), "ladder.ngc");
}

void TrialsSheet::keep() {
  const auto f = found();
  if (!f || !f->low) return;
  change(tr("Keep a trial"), [&](Book& b) { keep_trials(b, *f, session_.editor().now().toStdString()); });
}

void TrialsSheet::show_heads() {
  const Book& book = session_.editor().book();
  const Head* chosen = trial_head(book);
  std::size_t shown = 0;
  for (const Head& h : book.machine.heads) {
    if (h.kind == HeadKind::pointer || (h.kind == HeadKind::spindle && !engraves(book.machine))) continue;
    if (shown == head_chips_.size()) {
      auto* chip = make_chip(QString("trial-head-%1").arg(shown + 1), "", tr("The head that is tried"), this);
      connect(chip, &QPushButton::clicked, this, [this, chip] {
        const auto& s = session_.editor().book().worksheets[trials_worksheet];
        choose(to_q(s.material), chip->property("head").toString().toStdString(), 0);
      });
      title_row()->addWidget(chip);
      head_chips_.push_back(chip);
    }
    auto* chip = head_chips_[shown++];
    chip->setProperty("head", to_q(h.name));
    set_text(chip, to_q(h.name));
    chip->setMinimumWidth(chip->fontMetrics().horizontalAdvance(chip->text()) + chip_edges_px);
    chip->setChecked(chosen == &h);
    chip->setVisible(true);
  }
  if (shown == 1) head_chips_[--shown]->setVisible(false);  // there is nothing to choose
  for (; shown < head_chips_.size(); ++shown) head_chips_[shown]->setVisible(false);
}

void TrialsSheet::refresh() {
  const Book& book = session_.editor().book();
  const TrialsWorksheet& s = book.worksheets[trials_worksheet];
  show_heads();
  const QSignalBlocker quiet(material_), quiet_tool(tool_);
  if (!material_->lineEdit()->hasFocus()) {
    material_->clear();
    for (const std::string& m : known_materials(book)) material_->addItem(to_q(m));
    material_->setCurrentText(to_q(s.material));
  }
  const Head* head = trial_head(book);
  tool_->clear();
  tool_->addItem(tr("no tool said"), 0);
  for (const Tool& t : book.tools)
    if (t.head.empty() || (head && t.head == head->name))
      tool_->addItem(t.name.empty() ? tr("T%1").arg(t.number) : tr("T%1 %2").arg(t.number).arg(to_q(t.name)), t.number);
  tool_->setCurrentIndex(std::max(0, tool_->findData(s.tool)));
  const auto range = trial_range(book);
  low_->show_value(range ? std::optional(range->low) : std::nullopt);
  high_->show_value(range ? std::optional(range->high) : std::nullopt);
  step_->show_value(s.step);
  const auto f = found();
  curve_->show(s, f, range, level_words());
  if (f) level_->show_value(f->next.level);
  for (auto* group : {through_->group(), spared_->group()}) {
    group->setExclusive(false);
    for (auto* b : group->buttons()) b->setChecked(false);
    group->setExclusive(true);
  }
  grid_->refresh();
  depth_->refresh();
  for (const char* each : {"least", "grid"}) pages_->chip(each)->setVisible(by_power());
  for (const char* each : {"depth", "looks"}) pages_->chip(each)->setVisible(engraves_depth());
  pages_->turn_to(part() == Part::grid    ? "grid"
                  : part() == Part::depth ? "depth"
                  : engraves_depth()      ? "looks"
                                          : "least");
  set_text(task_label(), engraves_depth() ? tr("Find how deep a groove comes out, and what clears the cap.")
                                          : tr("Find what cuts through and spares what lies below."));
  labels_->show(shown_page() ? shown_page()->finding() : finding_words(), session_.editor().read_only());
  const QString what = head && trial_kind(head->kind) == TrialKind::depth   ? tr("This cut, depth")
                       : head && trial_kind(head->kind) == TrialKind::power ? tr("This cut, power")
                                                                            : tr("This cut");
  set_text(cut_words_, what);
  set_text(caption_, by_power() ? tr("Short flashes, each looked at") : tr("Short cuts, each lifted and looked at"));
  wear_->setVisible(!by_power());
  set_text(through_, by_power() ? tr("A dot") : tr("All through"));
  set_text(not_through_, by_power() ? tr("No dot") : tr("Not through"));
  if (!f)
    set_text(next_, tr("Say from which to which level to look."));
  else if (f->next.at_end)
    set_text(
        next_,
        tr("It does not turn within these levels: what you look for lies beyond %1.").arg(level_text(f->next.level)));
  else if (f->next.enough)
    set_text(next_, tr("This is told well; more cuts tell little."));
  else
    set_text(next_,
             by_power() ? tr("Next: %1. A dot is looked for from the least upwards.").arg(level_text(f->next.level))
             : f->next_about_backing
                 ? tr("Next: %1. It tells most about where marking begins.").arg(level_text(f->next.level))
                 : tr("Next: %1. It tells most about where cutting through begins.").arg(level_text(f->next.level)));
  const auto wear = wear_of(book, s);
  if (wear && wear->grows && wear->metres_left)
    set_text(wear_, tr("Wear: it needs %1 more with each 100 m. It meets its end after about %2 m more.")
                        .arg(wear->per_metre * 100, 0, 'f', 2)
                        .arg(*wear->metres_left, 0, 'f', 0));
  else
    set_text(wear_, wear ? tr("Wear: no more than can be told yet.")
                         : tr("Wear is told from the same trial kept at two places of the blade's way."));
  refresh_status();
}

void TrialsSheet::refresh_status() {
  const bool writable = !session_.editor().read_only(), ranged = trial_range(session_.editor().book()).has_value();
  take_->setEnabled(writable && ranged && (through_->isChecked() || not_through_->isChecked()));
  back_->setEnabled(writable && !session_.editor().book().worksheets[trials_worksheet].looks.empty());
  grid_->refresh_status();
  depth_->refresh_status();
  const bool beam = by_power();
  beam_->setVisible(beam);
  beam_->refresh_status();
  flash_act_->setVisible(beam);
  flash_act_->setEnabled(ranged && session_.machine().standing_ready() && session_.machine().beam_points().all_seen());
  spared_->setVisible(!beam);
  marked_->setVisible(!beam);
  make_->setVisible(session_.machine().bench() != nullptr && !beam);
  make_->setEnabled(ranged && session_.machine().status().state != MachineState::offline);
  write_->setEnabled(ranged);
}

}  // namespace ypsi::app
