#include "app/at_machine/hand_card_view.h"

#include <QCheckBox>
#include <QClipboard>
#include <QFileDialog>
#include <QGuiApplication>
#include <QMenu>
#include <QScrollArea>
#include <QStyle>
#include <cmath>
#include <utility>

#include "app/session/book_editor.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/session/setting_words.h"
#include "app/session/text_file.h"
#include "app/sheets/sheet.h"
#include "app/to_q.h"
#include "link/by_hand/hand_link.h"
#include "link/lines/line_link.h"

namespace ypsi::app {
namespace {

constexpr double elsewhere_mm = 0.05;  // further off than this is another place
constexpr qsizetype most_shown_characters = 20'000;
constexpr int most_setting_rows_px = 150;

/// Steps per mm is none.
bool is_length(const QString& setting) {
  return setting.endsWith("_mm") && !setting.endsWith("per_mm");
}

}  // namespace

HandCardView::HandCardView(Session& session, QWidget* parent) : QFrame(parent), session_(session) {
  setObjectName(QStringLiteral("hand-card"));
  setAccessibleName(tr("Card at the machine"));
  make();
  hide();
}

link::HandLink* HandCardView::hands() const {
  return session_.machine().cards();
}

void HandCardView::make() {
  auto* rows = new QVBoxLayout(this);
  rows->setContentsMargins(18, 12, 18, 14);
  rows->setSpacing(7);
  auto* head = new QHBoxLayout;
  auto* heading = make_label("hand-heading", "hand-heading", tr("AT THE MACHINE"), this);
  heading->setWordWrap(false);
  head->addWidget(heading);
  head->addStretch();
  count_ = make_label("hand-count", "small", "", this);
  count_->setWordWrap(false);
  head->addWidget(count_);
  auto* off =
      make_button("hand-put-off", tr("Put it off"), tr("The card stays, and the line below leads to it (Alt+O)"), this);
  off->setShortcut(QKeySequence("Alt+O"));
  off->setProperty("chip", true);
  off->setMinimumWidth(off->fontMetrics().horizontalAdvance(off->text()) + 24);
  connect(off, &QPushButton::clicked, this, [this] {
    own_accord_ = false;
    emit put_off();
  });
  head->addWidget(off);
  rows->addLayout(head);
  title_ = make_label("hand-title", "strong", "", this);
  title_->setStyleSheet(QStringLiteral("font-size: 17px;"));
  rows->addWidget(title_);
  text_ = make_label("hand-text", "task", "", this);
  rows->addWidget(text_);

  block_row_ = new QWidget(this);
  auto* block = new QHBoxLayout(block_row_);
  block->setContentsMargins(0, 0, 0, 0);
  block_ = new QPlainTextEdit(block_row_);
  block_->setObjectName("hand-block");
  block_->setAccessibleName(tr("What is typed or carried there"));
  block_->setReadOnly(true);
  block_->setTabChangesFocus(true);
  (void)mono_font(14);  // brings the family that the style names
  block->addWidget(block_, 1);
  copy_ = make_button("hand-copy", tr("Copy"), tr("Copies what is to be typed there"), block_row_);
  connect(copy_, &QPushButton::clicked, this, [this] {
    if (hands() && hands()->card()) QGuiApplication::clipboard()->setText(to_q(hands()->card()->block));
    say(tr("Copied."));
  });
  stick_ = make_button("hand-stick", tr("To the stick…"), tr("Writes it into a file, to be carried there"), block_row_);
  connect(stick_, &QPushButton::clicked, this, &HandCardView::to_stick);
  block->addWidget(copy_);
  block->addWidget(stick_);
  rows->addWidget(block_row_);

  auto* area = new QScrollArea(this);
  area->setWidgetResizable(true);
  area->setFrameShape(QFrame::NoFrame);
  area->setFocusPolicy(Qt::NoFocus);
  auto* page = new QWidget(area);
  settings_grid_ = new QGridLayout(page);
  settings_grid_->setContentsMargins(0, 0, 8, 0);
  settings_grid_->setVerticalSpacing(4);
  area->setWidget(page);
  settings_area_ = area;
  rows->addWidget(area);

  place_row_ = new QWidget(this);
  auto* place = new QHBoxLayout(place_row_);
  place->setContentsMargins(0, 0, 0, 0);
  question_ = make_label("hand-question", "task", "", place_row_);
  question_->setWordWrap(false);
  place->addWidget(question_);
  for (const Axis axis : all_axes) {
    letters_[index(axis)] = make_label("hand-letter", "strong", QString(QChar(letter(axis))), place_row_);
    auto* field = new LengthField(QStringLiteral("hand-at-%1").arg(QChar(letter(axis))),
                                  tr("Where %1 stands on its own screen").arg(QChar(letter(axis))), place_row_);
    field->set_decimals(3);
    field->setFixedWidth(104);
    connect(field, &LengthField::refused, this, [this](const QString& why) { say(why); });
    places_[index(axis)] = field;
    place->addWidget(letters_[index(axis)]);
    place->addWidget(field);
  }
  line_box_ = new QWidget(place_row_);
  auto* line = new QHBoxLayout(line_box_);
  line->setContentsMargins(8, 0, 0, 0);
  line->addWidget(make_label("hand-line-word", "task", tr("line"), line_box_));
  line_ = new QLineEdit(line_box_);
  line_->setObjectName("hand-line");
  line_->setAccessibleName(tr("The line that its screen shows"));
  line_->setFixedWidth(70);
  line->addWidget(line_);
  place->addWidget(line_box_);
  place->addStretch();
  rows->addWidget(place_row_);

  said_ = make_label("hand-said", "attention", "", this);
  rows->addWidget(said_);
  auto* answers = new QHBoxLayout;
  answers->setSpacing(10);
  for (auto& button : buttons_) {
    button = make_button("hand-answer", "", "", this);
    button->setMinimumHeight(38);
    answers->addWidget(button, 1);
  }
  others_ = make_button("hand-others", tr("Something else"), tr("What else can have happened there"), this);
  others_->setMinimumHeight(38);
  others_menu_ = new QMenu(others_);
  others_->setMenu(others_menu_);
  answers->addWidget(others_, 1);
  rows->addLayout(answers);
}

void HandCardView::say(const QString& sentence) {
  said_->setText(sentence);
  said_->setVisible(!sentence.isEmpty());
}

void HandCardView::show_whereabouts(bool shown) {
  own_accord_ = shown;
  refresh();
}

void HandCardView::refresh() {
  const link::HandCard* card = hands() ? hands()->card() : nullptr;
  if (card) own_accord_ = false;
  for (LengthField* field : places_) field->set_unit(session_.editor().unit());
  if (card) count_->setText(hands()->cards_left() > 1 ? tr("1 of %1").arg(hands()->cards_left()) : QString());
  const Shown wanted =
      card ? Shown{card->number, card->started, card->held, card->hold_wanted} : Shown{.own_accord = own_accord_};
  const Shown before = std::exchange(shown_, wanted);
  if (before == wanted) return;
  if (card)
    build(*card, before.number == card->number);
  else if (own_accord_)
    build_whereabouts();
}

/// Where it stands, of the owner's own accord.
void HandCardView::build_whereabouts() {
  count_->setText(tr("of your own accord"));
  title_->setText(tr("Say where it stands"));
  text_->setText(
      tr("Moved with its own keys, or set anew there? Type what its screen shows as machine positions. What "
         "lights up at its inputs is told in the line below."));
  block_row_->hide();
  settings_area_->hide();
  place_row_->show();
  line_box_->hide();
  question_->setText(tr("Its own screen says"));
  for (const Axis axis : all_axes) {
    letters_[index(axis)]->show();
    places_[index(axis)]->show();
    places_[index(axis)]->show_value(hands()->status().position[axis]);
  }
  say({});
  build_answers({{"hand-done", tr("It stands there"), link::HandAnswer::Word::done},
                 {"hand-off", tr("It was switched off"), link::HandAnswer::Word::switched_off}});
}

/// `same`: it was shown already, and what is typed on it stays.
void HandCardView::build(const link::HandCard& card, bool same) {
  const Book& book = session_.editor().book();
  title_->setText(card_title(card, book));
  text_->setText(card_text(card, book));
  say({});
  block_row_->setVisible(!card.block.empty());
  const QString text = to_q(card.block);
  block_->setPlainText(text.size() > most_shown_characters ? text.left(most_shown_characters) + "\n…" : text);
  const int lines = std::clamp<int>(static_cast<int>(text.count('\n')) + 1, 1, 4);
  block_->setFixedHeight(lines * block_->fontMetrics().lineSpacing() + 18);
  stick_->setVisible(card.kind == link::HandCard::Kind::program);
  build_settings(card);
  const auto axes = card_axes(card);
  place_row_->setVisible(!axes.empty());
  question_->setText(card_question(card));
  line_box_->setVisible(card.kind == link::HandCard::Kind::program && card.started);
  if (!same) line_->clear();
  for (const Axis axis : all_axes) {
    const bool asked = std::find(axes.begin(), axes.end(), axis) != axes.end();
    letters_[index(axis)]->setVisible(asked);
    places_[index(axis)]->setVisible(asked);
    if (same) continue;
    // Where it touched nobody can know before; all else is expected.
    const bool unknown = card.touches && axis == Axis::z;
    places_[index(axis)]->clearFocus();
    places_[index(axis)]->show_value(unknown ? std::nullopt
                                     : card.kind == link::HandCard::Kind::whereabouts || card.touches
                                         ? std::optional(card.from[axis])
                                         : std::optional(card.beyond ? card.from[axis] : card.to[axis]));
  }
  build_answers(card_answers(card));
}

void HandCardView::build_settings(const link::HandCard& card) {
  rows_.clear();
  while (QLayoutItem* item = settings_grid_->takeAt(0)) {
    delete item->widget();
    delete item;
  }
  settings_area_->setVisible(!card.settings.empty());
  if (card.settings.empty()) return;
  const bool looks_up = card.kind == link::HandCard::Kind::look_up;
  QWidget* page = settings_grid_->parentWidget();
  int at = 0;
  settings_grid_->addWidget(make_label("hand-column", "small", tr("it is called there"), page), at, 1);
  settings_grid_->addWidget(make_label("hand-column", "small", looks_up ? tr("it has") : tr("from, to"), page), at++,
                            2);
  for (const link::SettingChange& each : card.settings) {
    SettingRow row{each};
    const QString words = setting_words(each.name), name = to_q(each.name);
    if (looks_up) {
      auto* label = make_label("hand-setting", "task", words, page);
      label->setWordWrap(false);
      settings_grid_->addWidget(label, at, 0);
    } else {
      row.taken = new QCheckBox(words, page);
      row.taken->setObjectName("hand-taken-" + name);
      row.taken->setChecked(true);
      settings_grid_->addWidget(row.taken, at, 0);
    }
    row.called = new QLineEdit(called_there(each.name), page);
    row.called->setObjectName("hand-called-" + name);
    row.called->setAccessibleName(tr("What its controller calls %1").arg(words));
    row.called->setMaxLength(80);
    settings_grid_->addWidget(row.called, at, 1);
    if (looks_up) {
      row.value = new LengthField("hand-value-" + name, words, page);
      row.value->set_decimals(3);
      row.value->setFixedWidth(110);
      row.value->set_unit(is_length(name) ? session_.editor().unit() : LengthUnit::none);
      row.value->show_value(each.value);
      connect(row.value, &LengthField::refused, this, [this](const QString& why) { say(why); });
      settings_grid_->addWidget(row.value, at, 2);
    } else {
      const auto shown = [&](double value) {
        return is_length(name) ? to_q(format_length(value, session_.editor().unit(), 4))
                               : QString::number(value, 'g', 9);
      };
      auto* change = make_label("hand-change-" + name, "strong",
                                QStringLiteral("%1  →  %2").arg(shown(each.before), shown(each.value)), page);
      change->setWordWrap(false);
      settings_grid_->addWidget(change, at, 2);
    }
    rows_.push_back(row);
    ++at;
  }
  settings_grid_->setColumnStretch(1, 1);
  settings_area_->setFixedHeight(std::min(most_setting_rows_px, page->sizeHint().height() + 4));
}

void HandCardView::build_answers(const std::vector<CardAnswer>& answers) {
  others_menu_->clear();
  for (std::size_t i = 0; i < buttons_.size(); ++i) {
    QPushButton* button = buttons_[i];
    button->disconnect(this);
    button->setVisible(i < answers.size());
    if (i >= answers.size()) continue;
    const CardAnswer& answer = answers[i];
    button->setObjectName(answer.name);
    button->setText(answer.text);
    button->setAccessibleName(answer.text);
    button->setShortcut(QKeySequence(QStringLiteral("Alt+%1").arg(i + 1)));
    button->setToolTip(tr("%1 (Alt+%2)").arg(answer.text).arg(i + 1));
    button->setProperty("act", i == 0 ? "main" : "");
    button->style()->unpolish(button);
    button->style()->polish(button);
    connect(button, &QPushButton::clicked, this, [this, answer] { give(answer); });
  }
  others_->setVisible(answers.size() > buttons_.size());
  for (std::size_t i = buttons_.size(); i < answers.size(); ++i) {
    const CardAnswer& answer = answers[i];
    QAction* act = others_menu_->addAction(answer.text, this, [this, answer] { give(answer); });
    act->setObjectName(answer.name);
  }
}

MachinePosition HandCardView::typed(const MachinePosition& otherwise) const {
  MachinePosition at = otherwise;
  for (const Axis axis : all_axes)
    if (const auto* field = places_[index(axis)]; !field->isHidden() && field->value()) at[axis] = *field->value();
  return at;
}

bool HandCardView::another_place(const link::HandCard& card) const {
  if (card.touches) return places_[index(Axis::z)]->value().has_value();
  if (card.kind == link::HandCard::Kind::whereabouts) return true;
  const MachinePosition at = typed(card.to);
  for (const Axis axis : card_axes(card))
    if (std::fabs(at[axis] - card.to[axis]) > elsewhere_mm) return true;
  return false;
}

void HandCardView::give(const CardAnswer& given) {
  link::HandLink* link = hands();
  if (!link) return;
  if (QWidget* focus = focusWidget()) focus->clearFocus();  // what is still being typed counts
  if (own_accord_) return give_whereabouts(given.word);
  const link::HandCard* card = link->card();
  if (!card) return;
  using Word = link::HandAnswer::Word;
  if (given.needs_place && !another_place(*card)) {
    say(tr("Type first where its screen shows that it stands."));
    LengthField* field = places_[index(card->touches ? Axis::z : card_axes(*card).front())];
    field->setFocus();
    field->selectAll();
    return;
  }
  link::HandAnswer answer{given.word};
  const bool stands_as_told = given.word == Word::did_not_move || given.word == Word::refused ||
                              given.word == Word::started || given.word == Word::held || given.word == Word::went_on ||
                              given.word == Word::switched_off;
  if (!card_axes(*card).empty() && !stands_as_told) answer.at = typed(card->to);
  if (given.word == Word::met_nothing) answer.at.reset();
  answer.line = line_box_->isHidden() ? 0 : line_->text().trimmed().toUInt();
  for (const SettingRow& row : rows_) {
    if (row.taken && !row.taken->isChecked()) answer.not_taken.push_back(row.change.name);
    if (row.value && row.value->value()) answer.values[row.change.name] = *row.value->value();
  }
  keep_names();
  const bool looked_up = card->kind == link::HandCard::Kind::look_up;
  if (const auto told = link->answer(shown_.number, answer); !told) {
    say(to_q(told.error().message));
    return;
  }
  session_.machine().keep_settings();
  if (looked_up) {
    session_.machine().send_work_zero();
    session_.machine().compare_settings();
  }
  session_.machine().ask({});
  emit answered();
}

void HandCardView::give_whereabouts(link::HandAnswer::Word word) {
  link::HandLink* link = hands();
  if (word == link::HandAnswer::Word::switched_off)
    link->was_switched_off();
  else if (const auto told = link->stands_at(typed(link->status().position)); !told)
    return say(to_q(told.error().message));
  session_.machine().keep_settings();
  session_.machine().ask({});
  own_accord_ = false;
  emit answered();
}

/// By the book; else by the description of a controller that is described.
QString HandCardView::called_there(const std::string& setting) const {
  const QString by_book = name_there(session_.editor().book(), setting);
  Connection* connection = session_.machine().connection();
  if (!by_book.isEmpty() || !connection || !connection->lines()) return by_book;
  const auto& settings = connection->lines()->description().settings;
  const auto found = settings.find(setting);
  return found == settings.end() ? QString() : to_q(found->second.called);
}

/// What each is called there is typed once.
void HandCardView::keep_names() {
  const Book& book = session_.editor().book();
  std::vector<const SettingRow*> changed;
  for (const SettingRow& row : rows_)
    if (row.called && row.called->text().trimmed() != name_there(book, row.change.name)) changed.push_back(&row);
  if (changed.empty() || session_.editor().read_only()) return;
  std::vector<std::pair<std::string, QString>> names;
  names.reserve(changed.size());
  for (const SettingRow* row : changed) names.emplace_back(row->change.name, row->called->text());
  session_.editor().note_in_book([&](Book& b) {
    for (const auto& [setting, called] : names) set_name_there(b, setting, called);
  });
}

void HandCardView::to_stick() {
  const link::HandCard* card = hands() ? hands()->card() : nullptr;
  if (!card) return;
  const std::string block = card->block + "\n";
  const QString path = QFileDialog::getSaveFileName(this, tr("What is carried to the machine"),
                                                    QStringLiteral("to-the-machine.ngc"), tr("Programs (*.ngc *.nc)"));
  if (path.isEmpty()) return;
  if (const auto written = write_file(path, block); !written)
    say(to_q(written.error().message));
  else
    say(tr("Written to %1.").arg(path));
}

}  // namespace ypsi::app
