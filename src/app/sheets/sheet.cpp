#include "app/sheets/sheet.h"

#include "app/session/book_editor.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/session/phrases.h"

#include <QScrollArea>

namespace ypsi::app {

QLabel* make_label(const QString& name, const char* role, const QString& text, QWidget* parent) {
  auto* label = new QLabel(text, parent);
  label->setObjectName(name);
  label->setProperty("role", role);
  // A caption stands over a drawing on one line; a wrapping label there would let the layout squeeze the drawing.
  label->setWordWrap(qstrcmp(role, "caption") != 0 && qstrcmp(role, "heading") != 0);
  return label;
}

QPushButton* make_button(const QString& name, const QString& text, const QString& tip, QWidget* parent, bool main) {
  auto* button = new QPushButton(text, parent);
  button->setObjectName(name);
  button->setAccessibleName(text);
  button->setToolTip(tip);
  if (main) button->setProperty("act", "main");
  return button;
}

QPushButton* make_chip(const QString& name, const QString& text, const QString& tip, QWidget* parent,
                       QButtonGroup* group) {
  auto* chip = make_button(name, text, tip, parent);
  chip->setProperty("chip", true);
  chip->setCheckable(true);
  if (group)
    group->addButton(chip);
  else
    chip->setAutoExclusive(true);
  chip->setMinimumWidth(chip->fontMetrics().horizontalAdvance(text) + 22);
  return chip;
}

void number_acts(const std::vector<QPushButton*>& acts) {
  for (std::size_t i = 0; i < acts.size() && i < 9; ++i) {
    const QString key = QStringLiteral("Ctrl+%1").arg(i + 1);
    acts[i]->setShortcut(QKeySequence(key));
    acts[i]->setToolTip(acts[i]->toolTip() + " (" + key + ")");
  }
}

WordedField add_field(QLayout* row, const QString& name, const QString& word, const QString& what, int decimals,
                      Session& session, QWidget* parent) {
  auto* label = make_label("word", "small", word, parent);
  label->setWordWrap(false);
  row->addWidget(label);
  auto* field = new LengthField(name, what, parent);
  field->set_decimals(decimals);
  field->setFixedWidth(84);
  row->addWidget(field);
  QObject::connect(field, &LengthField::refused, parent, [&session](const QString& why) {
    session.notices().notify({NoticeLevel::attention, why, {}});
  });
  return {label, field};
}

FindingPanel::FindingPanel(QWidget* parent) : QFrame(parent) {
  setObjectName(QStringLiteral("finding"));
  setFixedWidth(300);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(18, 16, 6, 16);
  auto* area = new QScrollArea(this);
  area->setWidgetResizable(true);
  area->setFrameShape(QFrame::NoFrame);
  area->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  area->setFocusPolicy(Qt::NoFocus);
  auto* page = new QWidget(area);
  page->setMinimumSize(1, 1);  // as high as its words need at this width, not as they might at another
  words_ = new QVBoxLayout(page);
  words_->setContentsMargins(0, 0, 12, 0);
  words_->setSpacing(6);
  area->setWidget(page);
  column->addWidget(area, 1);
  foot_ = new QVBoxLayout;
  foot_->setContentsMargins(0, 0, 12, 0);
  foot_->setSpacing(6);
  column->addLayout(foot_);
}

void FindingPanel::add_stretch() {
  words_->addStretch(1);
  at_foot_ = true;
}

QLabel* FindingPanel::add_label(const QString& name, const char* role, const QString& text) {
  auto* label = make_label(name, role, text, this);
  box()->addWidget(label);
  return label;
}

void FindingPanel::add_rule() {
  auto* rule = new QFrame(this);
  rule->setFixedHeight(1);
  rule->setProperty("role", "rule");
  box()->addSpacing(6);
  box()->addWidget(rule);
  box()->addSpacing(6);
}

QPushButton* FindingPanel::add_button(const QString& name, const QString& text, const QString& tip, bool main) {
  auto* button = make_button(name, text, tip, this, main);
  box()->addWidget(button);
  return button;
}

Sheet::Sheet(Session& session, const Task& task, const QString& what) : session_(session), of_task_(task) {
  setObjectName(QString("sheet-") + task.id());
  auto* across = new QHBoxLayout(this);
  across->setContentsMargins(0, 0, 0, 0);
  across->setSpacing(12);
  auto* middle = new QVBoxLayout;
  middle->setSpacing(8);
  auto* top = new QHBoxLayout;
  title_row_ = new WrappedRow;
  auto* words = new QVBoxLayout;
  words->setSpacing(2);
  title_ = make_label("sheet-title", "title", title_of(task, session.editor().book().machine), this);
  task_ = make_label("sheet-task", "task", what, this);
  words->addWidget(title_);
  words->addWidget(task_);
  title_->setWordWrap(false);
  top->addLayout(words, 1);
  top->addLayout(title_row_);
  middle->addLayout(top);
  body_ = new QVBoxLayout;
  body_->setSpacing(8);
  middle->addLayout(body_, 1);
  across->addLayout(middle, 1);
  finding_ = new FindingPanel(this);
  across->addWidget(finding_);
}

QVBoxLayout* make_card_page(QWidget* page) {
  auto* column = new QVBoxLayout(page);
  column->setContentsMargins(0, 0, 0, 0);
  auto* card = make_card(page);
  column->addWidget(card, 1);
  auto* inside = new QVBoxLayout(card);
  inside->setContentsMargins(14, 10, 14, 10);
  inside->setSpacing(6);
  return inside;
}

QFrame* make_card(QWidget* parent) {
  auto* card = new QFrame(parent);
  card->setObjectName(QStringLiteral("card"));
  return card;
}

void Sheet::show_title() {
  set_text(title_, title_of(of_task_, session_.editor().book().machine));
}

void Sheet::leave() {
  session_.machine().end_procedure(tr("The sheet was left, so what was under way there was ended."));
  session_.machine().forget_circuit();  // plate and clip may be elsewhere by then
}

void Sheet::offer_jog() {
  auto* jog =
      make_button("sheet-jog", tr("Jog…"), tr("Brings the tool where it is needed; the page stays (Ctrl+J)"), this);
  jog->setProperty("chip", true);
  jog->setFixedSize(58, 28);
  jog->setFocusPolicy(Qt::NoFocus);
  connect(jog, &QPushButton::clicked, &session_.notices(), &Notices::jog_wanted);
  title_row_->addWidget(jog);
}

QString Sheet::length(double mm, int decimals) const {
  return session_.editor().length(mm, decimals);
}

}  // namespace ypsi::app
