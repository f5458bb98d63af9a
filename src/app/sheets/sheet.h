#pragma once
// A sheet is a drawing, readings and a finding. This is its frame; each sheet fills it.
#include <QButtonGroup>
#include <QFrame>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/session/session.h"
#include "app/theme/theme.h"
#include "app/to_q.h"
#include "app/widgets/field.h"
#include "app/widgets/wrapped_row.h"

namespace ypsi {
class Task;
}

namespace ypsi::app {

/// The right column: what the readings mean, in words, and the acts.
class FindingPanel : public QFrame {
 public:
  explicit FindingPanel(QWidget* parent);
  QLabel* add_label(const QString& name, const char* role, const QString& text = {});
  void add_rule();
  /// What comes after stands at the foot and is always in sight; what came before scrolls where it is long.
  void add_stretch();
  QPushButton* add_button(const QString& name, const QString& text, const QString& tip, bool main = false);
  void add(QWidget* widget) { box()->addWidget(widget); }
  QVBoxLayout* box() { return at_foot_ ? foot_ : words_; }

 private:
  QVBoxLayout *words_, *foot_;
  bool at_foot_ = false;
};

/// The frame that a drawing or a table stands in.
QFrame* make_card(QWidget* parent);
/// Makes `page` one card; its column, whose parent widget is the card.
QVBoxLayout* make_card_page(QWidget* page);

class Sheet : public QWidget {
  Q_OBJECT
 public:
  /// `what`: what is done here, in a sentence.
  Sheet(Session& session, const Task& task, const QString& what);
  /// Called when book, machine or program changed and the sheet is on screen, and when it comes on screen.
  /// Its title as it is called at the machine of the book.
  void show_title();
  virtual void refresh() = 0;
  /// The same for a status alone, 50 times a second: only what moves.
  virtual void refresh_status() {}
  /// Another sheet is opened: what this one has under way at the machine is ended, and said.
  virtual void leave();
  /// Brings one part of the sheet to the front, where it has parts ("build#controller").
  virtual void show_part(const QString&) {}
  /// What stands beside the title, in as many rows as it needs.
  WrappedRow* title_row() { return title_row_; }

 protected:
  Session& session_;
  QVBoxLayout* body() { return body_; }  ///< the middle column under the title
  FindingPanel* finding() { return finding_; }
  QLabel* title_label() { return title_; }
  QLabel* task_label() { return task_; }
  /// A way to the jog strip in the title's row, for a sheet that needs the tool somewhere; last in a constructor.
  void offer_jog();
  QFrame* make_card() { return ypsi::app::make_card(this); }
  QString length(double mm, int decimals) const;  ///< with the screen's unit

 private:
  QVBoxLayout* body_;
  WrappedRow* title_row_;
  FindingPanel* finding_;
  const Task& of_task_;
  QLabel *title_, *task_;
};

/// Sets a label's or a button's text where it differs: sheets do it at every status.
template <class Widget>
void set_text(Widget* widget, const QString& text) {
  if (widget->text() != text) widget->setText(text);
}

/// The same for a button, which would lose its key with its old text.
inline void set_text(QPushButton* button, const QString& text) {
  if (button->text() == text) return;
  const QKeySequence key = button->shortcut();
  button->setText(text);
  button->setShortcut(key);
}

/// A field with the word before it, in a row; what it refuses is said in a notice.
struct WordedField {
  QLabel* word;
  LengthField* field;
  void set_visible(bool visible) const {
    word->setVisible(visible);
    field->setVisible(visible);
  }
};
WordedField add_field(QLayout* row, const QString& name, const QString& word, const QString& what, int decimals,
                      Session& session, QWidget* parent);

QLabel* make_label(const QString& name, const char* role, const QString& text, QWidget* parent);
inline constexpr int chip_edges_px = 18;  ///< what a chip's text leaves beside it at least
/// A button that chooses one of several: of those in `group`, or with no group of its siblings.
QPushButton* make_chip(const QString& name, const QString& text, const QString& tip, QWidget* parent,
                       QButtonGroup* group = nullptr);
QPushButton* make_button(const QString& name, const QString& text, const QString& tip, QWidget* parent,
                         bool main = false);
/// A button in a row, with what it does.
template <class Act>
QPushButton* add_act(QLayout* row, const QString& name, const QString& text, const QString& tip, QWidget* parent,
                     Act act, bool main = false) {
  auto* button = make_button(name, text, tip, parent, main);
  QObject::connect(button, &QPushButton::clicked, parent, act);
  row->addWidget(button);
  return button;
}
/// The acts of a page get Ctrl+1 and so on, in their order, and their tips say so.
void number_acts(const std::vector<QPushButton*>& acts);

}  // namespace ypsi::app
