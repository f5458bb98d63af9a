#pragma once
// A line that the controller said, word for word, with a choice under each of what it means.
#include <QComboBox>
#include <QGridLayout>
#include <QWidget>
#include <vector>

#include "link/describing/example.h"

namespace ypsi::app {

/// What an example is, apart from how it is shown.
struct Example {
  std::string line;
  std::vector<link::Mark> marks;
};

class ExampleView : public QWidget {
  Q_OBJECT
 public:
  explicit ExampleView(QWidget* parent);
  /// `groups`: what a word or a number may mean; where there are none, the line alone is shown.
  void show_example(const Example& example, const std::vector<std::string>& groups);
  Example example() const;

 signals:
  void meant();  ///< its owner has said what something means

 private:
  struct Choice {
    link::Token token;
    QComboBox* means;
  };
  QGridLayout* grid_;
  std::string line_;
  std::vector<Choice> choices_;
};

}  // namespace ypsi::app
