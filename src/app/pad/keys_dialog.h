#pragma once
// Edit › Keys and pad…: the acts of the menus with their keys, what a jog pad does with its buttons, and what it says
// now.
#include <QAction>
#include <QDialog>
#include <QLabel>
#include <QTableWidget>

#include "app/pad/jog_pad.h"

namespace ypsi::app {

class KeysDialog : public QDialog {
  Q_OBJECT
 public:
  /// `acts`: those whose key can be changed. `pad` outlives it.
  KeysDialog(const QList<QAction*>& acts, JogPad& pad, QWidget* parent);

 private:
  void show_keys();
  void show_pad();
  void key_typed(int row, const QKeySequence& key);
  void wait_for_button(PadAct act);
  void look();

  QList<QAction*> acts_;
  JogPad& pad_;
  QTableWidget *keys_, *buttons_;
  QLabel *says_, *pad_says_;
  std::optional<PadAct> waits_for_;
};

}  // namespace ypsi::app
