#include "app/describe/part_page.h"

#include <QDoubleSpinBox>
#include <QSpinBox>
#include <QStyle>
#include <algorithm>

#include "app/describe/part_words.h"
#include "app/sheets/sheet.h"
#include "app/theme/theme.h"
#include "app/to_q.h"
#include "link/lines/line_pattern.h"

namespace ypsi::app {
namespace {

using link::Part;

constexpr int word_width = 118;
enum SaidAs { as_block, as_text, as_bytes };

constexpr const char* all_states[] = {"ready",     "moving",  "cutting",        "held",
                                      "not_homed", "stopped", "emergency_stop", "tool_change"};
constexpr const char* all_input_names[] = {"home_x", "home_y", "home_z", "far_x",
                                           "far_y",  "far_z",  "probe",  "emergency_stop"};

template <std::size_t N>
std::vector<std::pair<std::string, QString>> with_words(const char* const (&keys)[N],
                                                        QString (*words)(const std::string&)) {
  std::vector<std::pair<std::string, QString>> all;
  for (const char* key : keys) all.emplace_back(key, words(key));
  return all;
}

}  // namespace

PartPage::PartPage(Part part, link::ControllerDescription& draft, const Example& example, QWidget* parent)
    : QWidget(parent), part_(part), draft_(draft), rows_(new QVBoxLayout(this)) {
  setObjectName("describe-page");
  rows_->setContentsMargins(2, 0, 8, 0);
  rows_->setSpacing(8);
  rows_->addWidget(make_label("describe-part-title", "strong", part_title(part), this));
  auto* task = make_label("describe-part-task", "small", part_task(part), this);
  task->setWordWrap(true);
  rows_->addWidget(task);
  add_said();
  if (link::pattern_for(part_, draft_)) add_pattern(example);
  add_figures();
  if (link::can_be_tried(part_) && part_ != Part::settings) add_try();
  add_tables();
  if (part_ == Part::settings) {
    settings_ = new SettingsPage(draft_, this);
    rows_->addWidget(settings_, 1);
    connect(settings_, &SettingsPage::changed, this, &PartPage::changed);
  }
  if (part_ == Part::trust) add_trust();
  if (part_ == Part::settings)
    add_try();
  else
    rows_->addStretch(1);
}

QHBoxLayout* PartPage::add_row(const QString& word) {
  auto* row = new QHBoxLayout;
  row->setSpacing(6);
  auto* label = make_label("describe-word", "small", word, this);
  label->setFixedWidth(word_width);
  label->setWordWrap(true);
  row->addWidget(label);
  rows_->addLayout(row);
  return row;
}

QLineEdit* PartPage::add_line(const QString& name, const QString& word, std::string& text, const QString& what) {
  auto* field = new QLineEdit(to_q(text), this);
  field->setObjectName(name);
  field->setAccessibleName(what);
  field->setToolTip(what);
  field->setFont(mono_font(13));
  connect(field, &QLineEdit::textEdited, this, [this, &text](const QString& now) {
    text = now.toStdString();
    emit changed();
  });
  add_row(word)->addWidget(field, 1);
  return field;
}

/// What is said for it: one of three kinds.
void PartPage::add_said() {
  if (std::string* const line = link::line_for(part_, draft_)) {
    auto* field =
        add_line("describe-line", part_ == Part::taken ? tr("Waits for all") : tr("The line"), *line,
                 part_ == Part::taken ? tr("A block whose answer comes once all before it is done, mostly a dwell; "
                                           "of use where blocks are answered before that")
                                      : tr("The line as it is sent"));
    if (part_ == Part::greeting) asks_ = field;
    return;
  }
  link::Utterance* const said = link::said_for(part_, draft_);
  if (!said) return;
  auto* row = add_row(tr("What is said"));
  auto* text = new QLineEdit(this);
  text->setObjectName("describe-said");
  text->setAccessibleName(tr("What is said"));
  text->setFont(mono_font(13));
  auto* kind = new QComboBox(this);
  kind->setObjectName("describe-said-kind");
  kind->setAccessibleName(tr("As what it is said"));
  kind->addItems({tr("a line, answered"), tr("a line, not answered"), tr("bytes: 1b 5a")});
  kind->setToolTip(
      tr("Most lines are answered as blocks are. Some are heard at once and not answered; so are single bytes."));
  kind->setCurrentIndex(!said->bytes.empty() ? as_bytes : !said->text.empty() ? as_text : as_block);
  text->setText(to_q(said->block + said->text + said->bytes));
  row->addWidget(text, 1);
  row->addWidget(kind);
  const auto take = [this, said, text, kind] {
    const std::string now = text->text().toStdString();
    const int as = kind->currentIndex();
    *said = {as == as_block ? now : "", as == as_text ? now : "", as == as_bytes ? now : ""};
    emit changed();
  };
  connect(text, &QLineEdit::textEdited, this, take);
  connect(kind, &QComboBox::activated, this, take);
  if (part_ != Part::place) return;
  asks_ = text;
  asks_as_ = kind;
}

void PartPage::take_asking(const std::string& said) {
  if (!asks_ || !asks_->text().isEmpty()) return;
  const bool readable = std::all_of(said.begin(), said.end(), [](char c) { return c >= ' ' && c <= '~'; });
  if (!asks_as_ && !readable) return;
  asks_->setText(to_q(readable ? said : link::LoggedLine{0, false, said}.hexadecimal()));
  if (asks_as_) {
    asks_as_->setCurrentIndex(readable ? as_text : as_bytes);
    emit asks_as_->activated(asks_as_->currentIndex());
  } else {
    emit asks_->textEdited(asks_->text());
  }
}

void PartPage::add_pattern(const Example& example) {
  auto* row = add_row(tr("What comes back"));
  take_ = make_button("describe-take", tr("Take the line chosen in the log"),
                      tr("It becomes the example of what comes back here"), this);
  connect(take_, &QPushButton::clicked, this, &PartPage::example_wanted);
  row->addWidget(take_);
  row->addStretch(1);
  example_ = new ExampleView(this);
  rows_->addWidget(example_);
  example_->show_example(example, link::groups_of(part_));
  connect(example_, &ExampleView::meant, this, &PartPage::learn);
  pattern_ = new QLineEdit(to_q(*link::pattern_for(part_, draft_)), this);
  pattern_->setObjectName("describe-pattern");
  pattern_->setAccessibleName(tr("The pattern that is made from it"));
  pattern_->setToolTip(tr("A regular expression; it is made from the example, and can be written by who knows how"));
  pattern_->setFont(mono_font(12));
  pattern_->setCursorPosition(0);
  add_row(tr("As a pattern"))->addWidget(pattern_, 1);
  finds_ = make_label("describe-finds", "small", "", this);
  finds_->setWordWrap(true);
  rows_->addWidget(finds_);
  connect(pattern_, &QLineEdit::textEdited, this, [this](const QString& now) {
    *link::pattern_for(part_, draft_) = now.toStdString();
    look_at_pattern();
    emit changed();
  });
  look_at_pattern();
}

void PartPage::take_example(const std::string& line, const std::optional<std::string>& said) {
  if (!example_) return;
  if (said) take_asking(*said);
  // What was marked stays marked where the line has its words at the same places.
  Example next{line, {}};
  const Example before = example_->example();
  const auto old_tokens = link::tokens_of(before.line), tokens = link::tokens_of(line);
  for (const link::Mark& mark : before.marks)
    for (std::size_t i = 0; i < std::min(old_tokens.size(), tokens.size()); ++i)
      if (old_tokens[i] == mark.token && old_tokens.size() == tokens.size())
        next.marks.push_back({tokens[i], mark.group});
  // Where only one thing can be said of it, and one word is last, that is it.
  if (const auto groups = link::groups_of(part_); next.marks.empty() && groups.size() == 1 && !tokens.empty())
    next.marks.push_back({tokens.back(), groups.front()});
  example_->show_example(next, link::groups_of(part_));
  learn();
}

void PartPage::learn() {
  const Example now = example_->example();
  std::string& pattern = *link::pattern_for(part_, draft_);
  pattern = link::pattern_of(now.line, now.marks, link::stands_alone(part_));
  pattern_->setText(to_q(pattern));
  pattern_->setCursorPosition(0);
  look_at_pattern();
  emit example_taken(now);
  emit changed();
}

/// What it finds in the example, or why it cannot be used.
void PartPage::look_at_pattern() {
  const auto pattern = link::LinePattern::from(pattern_->text().toStdString());
  pattern_->setProperty("wrong", !pattern);
  pattern_->style()->unpolish(pattern_);
  pattern_->style()->polish(pattern_);
  if (!pattern) return finds_->setText(to_q(pattern.error().message));
  const std::string line = example_->example().line;
  if (line.empty() || pattern->none()) return finds_->clear();
  const auto found = pattern->find(line);
  if (!found) return finds_->setText(tr("It does not find the example."));
  const QString read = read_words(found->groups, draft_);
  finds_->setText(read.isEmpty() ? tr("It finds the example.") : read);
  offer_state(found->groups);
}

/// A state that was heard and has no meaning yet waits for one.
void PartPage::offer_state(const std::map<std::string, std::string>& groups) {
  if (states_ && groups.contains("state") && !draft_.states.contains(groups.at("state")))
    states_->show_words(states_->words(), {groups.at("state")});
}

void PartPage::add_figures() {
  const auto seconds = [this](const char* name, const QString& word, double& value, const QString& what) {
    auto* field = new QDoubleSpinBox(this);
    field->setObjectName(name);
    field->setAccessibleName(what);
    field->setToolTip(what);
    field->setRange(0.02, 60);
    field->setDecimals(2);
    field->setSuffix(tr(" s"));
    field->setValue(value);
    connect(field, &QDoubleSpinBox::valueChanged, this, [this, &value](double now) {
      value = now;
      emit changed();
    });
    auto* row = add_row(word);
    row->addWidget(field);
    row->addStretch(1);
  };
  if (part_ == Part::greeting)
    seconds("describe-within", tr("It comes within"), draft_.greeting.within_s, tr("How long to wait for it"));
  if (part_ == Part::place)
    seconds("describe-every", tr("Asked, or told, every"), draft_.report.every_s,
            tr("How often it is asked, or tells"));
  if (part_ != Part::taken) return;
  answered_ = new QComboBox(this);
  answered_->setObjectName("describe-answered");
  answered_->setAccessibleName(tr("When a block is answered"));
  answered_->addItems({tr("once it was taken"), tr("once it is done")});
  answered_->setCurrentIndex(draft_.block.answered == link::Answered::done ? 1 : 0);
  auto* when = add_row(tr("It is answered"));
  when->addWidget(answered_);
  when->addStretch(1);
  connect(answered_, &QComboBox::activated, this, [this](int at) {
    draft_.block.answered = at == 1 ? link::Answered::done : link::Answered::taken;
    emit changed();
  });
  auto* row = add_row(tr("Under way at most"));
  auto* count = new QSpinBox(this);
  count->setObjectName("describe-in-flight");
  count->setRange(1, 1000);
  auto* unit = new QComboBox(this);
  unit->setObjectName("describe-in-flight-unit");
  unit->setAccessibleName(tr("In what it is counted"));
  unit->addItems({tr("blocks"), tr("bytes with their ends")});
  const bool bytes = draft_.block.in_flight_bytes.has_value();
  unit->setCurrentIndex(bytes ? 1 : 0);
  count->setAccessibleName(tr("How much may be under way before the first is answered"));
  count->setToolTip(
      tr("One block is always right; more keep a fast program from stuttering. Its maker says how many."));
  count->setValue(bytes ? static_cast<int>(*draft_.block.in_flight_bytes) : draft_.block.in_flight_blocks);
  row->addWidget(count);
  row->addWidget(unit);
  row->addStretch(1);
  const auto take = [this, count, unit] {
    if (unit->currentIndex() == 1) {
      draft_.block.in_flight_bytes = count->value();
    } else {
      draft_.block.in_flight_bytes.reset();
      draft_.block.in_flight_blocks = count->value();
    }
    emit changed();
  };
  connect(count, &QSpinBox::valueChanged, this, take);
  connect(unit, &QComboBox::activated, this, take);
}

void PartPage::add_tables() {
  const auto table = [this](const QString& name, const QString& title, std::map<std::string, std::string>& words,
                            const std::vector<std::pair<std::string, QString>>& meanings) {
    auto* row = add_row(title);
    row->addStretch(1);
    auto* view = new WordTable(name, title, meanings, this);
    add_act(row, name + "-add", tr("Add a word"), tr("A word or a letter that it says"), this,
            [view] { view->add_word(tr("word")); });
    rows_->addWidget(view);
    view->show_words(words);
    connect(view, &WordTable::changed, this, [this, view, &words] {
      words = view->words();
      emit changed();
    });
    return view;
  };
  if (part_ == Part::place) {
    states_ = table("describe-states", tr("Its states"), draft_.states, with_words(all_states, &state_words));
    table("describe-inputs", tr("Its inputs"), draft_.inputs, with_words(all_input_names, &input_words));
    look_at_pattern();
  }
  if (part_ == Part::refused) table("describe-reasons", tr("Why, in words"), draft_.block.reasons, {});
  if (part_ != Part::words) return;
  QStringList words;
  for (const std::string& word : draft_.takes_not) words << to_q(word);
  auto* field = new QLineEdit(words.join(' '), this);
  field->setObjectName("describe-words");
  field->setAccessibleName(part_title(part_));
  field->setFont(mono_font(13));
  add_row(tr("It takes not"))->addWidget(field, 1);
  connect(field, &QLineEdit::textEdited, this, [this](const QString& now) {
    draft_.takes_not.clear();
    for (const QString& word : now.simplified().toUpper().split(' ', Qt::SkipEmptyParts))
      draft_.takes_not.push_back(word.toStdString());
    emit changed();
  });
}

void PartPage::add_trust() {
  const auto tick = [this](const char* name, const QString& words, bool& value) {
    auto* box = new QCheckBox(words, this);
    box->setObjectName(name);
    box->setChecked(value);
    rows_->addWidget(box);
    connect(box, &QCheckBox::toggled, this, [this, &value](bool on) {
      value = on;
      emit changed();
    });
  };
  tick("describe-keeps-on-hold", tr("A hold slows down on the path and loses no step"),
       draft_.trust.keeps_place_on_hold);
  tick("describe-keeps-on-stop", tr("A stop loses no step either"), draft_.trust.keeps_place_on_stop);
  tick("describe-has-limits", tr("It refuses by itself what would pass a limit"), draft_.trust.has_limits);
}

void PartPage::add_try() {
  auto* row = new QHBoxLayout;
  try_ = make_button("describe-try", part_ == Part::settings ? tr("Ask for them") : tr("Try it"),
                     link::moves_in_try(part_) ? what_a_try_does(part_) : tr("Says it, and waits for what comes back"),
                     this, true);
  give_up_ = make_button("describe-give-up", tr("Break it off"), tr("Ends the try; what moves is told to stop"), this);
  connect(try_, &QPushButton::clicked, this, &PartPage::try_wanted);
  connect(give_up_, &QPushButton::clicked, this, &PartPage::give_up_wanted);
  row->addWidget(try_);
  row->addWidget(give_up_);
  row->addStretch(1);
  rows_->addLayout(row);
  if (link::moves_in_try(part_)) {
    auto* moves = make_label("describe-moves", "small", what_a_try_does(part_), this);
    moves->setWordWrap(true);
    rows_->addWidget(moves);
  }
  outcome_ = make_label("describe-outcome", "strong", "", this);
  outcome_->setWordWrap(true);
  outcome_->setTextFormat(Qt::PlainText);
  rows_->addWidget(outcome_);
  set_ready(false, false, false);
}

void PartPage::set_ready(bool open, bool trying, bool chosen) {
  if (take_) take_->setEnabled(chosen);
  if (!try_) return;
  try_->setEnabled(open && !trying);
  give_up_->setVisible(trying);
}

void PartPage::say(const QString& text) {
  if (outcome_) outcome_->setText(text);
}

void PartPage::show_found(const link::TryFound& found) {
  say(found_words(found, draft_));
  if (settings_) settings_->show_told(found.settings);
  if (answered_ && found.worked && found.waited_for_dwell() && draft_.block.answered != link::Answered::done) {
    answered_->setCurrentIndex(1);
    draft_.block.answered = link::Answered::done;
    emit changed();
  }
  offer_state(found.groups);
}

}  // namespace ypsi::app
