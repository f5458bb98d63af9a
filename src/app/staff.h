#pragma once
// The staff: the whole job in the order it is done, each stop with its standing and its last result.
#include <QListWidget>

#include "app/session/session.h"

namespace ypsi::app {

class Staff : public QListWidget {
  Q_OBJECT
 public:
  explicit Staff(Session& session, QWidget* parent);
  void refresh();
  void select(const QString& id);
  /// Marks alone, where a window has no room for words; a press on it, or the focus, shows them until a stop is chosen.
  void set_narrow(bool narrow);

 signals:
  void chosen(const QString& id);

 protected:
  void resizeEvent(QResizeEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void focusOutEvent(QFocusEvent* event) override;

 private:
  void arrange();
  void open_also(bool open);
  void fit();
  void show_words(bool shown);
  Session& session_;
  QStringList shown_;  ///< what stands under Also, after whether that is open; empty: nothing was shown yet
  bool narrow_ = false;
  bool also_open_ = false;  ///< what this machine has not, at the foot
};

}  // namespace ypsi::app
