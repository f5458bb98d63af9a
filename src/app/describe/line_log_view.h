#pragma once
// What goes over the line, both ways, and the field from which something is said by hand.
#include <QComboBox>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>

#include "link/lines/line_log.h"
#include "link/lines/line_pattern.h"

namespace ypsi::app {

class LineLogView : public QWidget {
  Q_OBJECT
 public:
  explicit LineLogView(QWidget* parent);
  /// Another log: what stands there goes.
  void begin();
  /// What has been added since; of lines that `repeats` finds only the newest of those in a row.
  void show_new(const link::LineLog& log, const link::LinePattern& repeats);
  /// The chosen line that came from the controller; none where none is chosen, or one that went to it.
  std::optional<std::string> chosen() const;
  /// What was said last before the chosen line came; none where nothing was.
  std::optional<std::string> said_before() const;
  void set_open(bool open);

 signals:
  void line_said(const QString& text);
  void bytes_said(const QString& hexadecimal);
  void line_chosen();
  void save_wanted();

 private:
  void say();
  void add(const link::LoggedLine& line, bool repeats);

  QListWidget* lines_;
  QLineEdit* text_;
  QComboBox* kind_;
  QPushButton* say_;
  std::uint64_t seen_ = 0;
  bool last_repeats_ = false;
};

}  // namespace ypsi::app
