#pragma once
#include <QFrame>
#include <QLabel>
#include <QPushButton>
#include <QWidget>

#include "app/start/begin_card.h"
#include "app/start/my_machines.h"

class QVBoxLayout;

namespace ypsi::app {

/// Which machine: the owner's, one that has no book yet, one from a file, a simulated one. Source: interface, start
/// page.
class StartPage : public QWidget {
  Q_OBJECT
 public:
  explicit StartPage(const MyMachines& machines, QWidget* parent = nullptr);
  /// Reads the list anew.
  void refresh();
  /// A sentence of what happened, over the list.
  void say(const QString& sentence);

 signals:
  void book_chosen(const QString& path);
  void book_begun(const QString& path, ypsi::app::BeginWay way);
  void simulated_chosen(const QString& machine);

 private:
  void add_machine(const KnownMachine& machine, bool first);
  void open_a_file();
  void bring_back();
  void begin(BeginWay way);
  const MyMachines& machines_;
  QWidget* list_;
  QVBoxLayout* rows_;
  QLabel *said_, *none_;
  BeginCard* begin_;
};

/// A machine of its kind in a few lines.
class KindSketch : public QWidget {
 public:
  KindSketch(const QString& kind, QWidget* parent);

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  QString kind_;
};

}  // namespace ypsi::app
