#pragma once
// One part of a description: what is said, an example of what comes back and what in it means what, and a try.
#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/describe/example_view.h"
#include "app/describe/settings_page.h"
#include "app/describe/word_table.h"

namespace ypsi::app {

class PartPage : public QWidget {
  Q_OBJECT
 public:
  /// `draft` outlives it. `example`: the line that was taken before; empty where none was.
  PartPage(link::Part part, link::ControllerDescription& draft, const Example& example, QWidget* parent);

  link::Part part() const { return part_; }
  /// A line of the log is taken for what comes back here, and what was `said` before it for what asks for it, where
  /// nothing is written there yet.
  void take_example(const std::string& line, const std::optional<std::string>& said);
  /// Whether something can be tried now; `chosen`: a line that may be taken.
  void set_ready(bool open, bool trying, bool chosen);
  void show_found(const link::TryFound& found);
  void say(const QString& text);
  SettingsPage* settings() { return settings_; }

 signals:
  void changed();
  void example_wanted();
  void example_taken(const Example& example);
  void try_wanted();
  void give_up_wanted();

 private:
  void take_asking(const std::string& said);
  QLineEdit* add_line(const QString& name, const QString& word, std::string& text, const QString& what);
  void add_said();
  void add_pattern(const Example& example);
  void add_figures();
  void add_tables();
  void add_trust();
  void add_try();
  void learn();
  void look_at_pattern();
  void offer_state(const std::map<std::string, std::string>& groups);
  QHBoxLayout* add_row(const QString& word);

  link::Part part_;
  link::ControllerDescription& draft_;
  QVBoxLayout* rows_;
  ExampleView* example_ = nullptr;
  QLineEdit *pattern_ = nullptr, *asks_ = nullptr;
  QComboBox* asks_as_ = nullptr;
  QLabel *finds_ = nullptr, *outcome_ = nullptr;
  QPushButton *take_ = nullptr, *try_ = nullptr, *give_up_ = nullptr;
  WordTable* states_ = nullptr;
  QComboBox* answered_ = nullptr;
  SettingsPage* settings_ = nullptr;
};

}  // namespace ypsi::app
