#pragma once
#include <QLabel>
#include <QMainWindow>
#include <QPushButton>
#include <QStackedWidget>
#include <functional>
#include <map>

#include "app/session/session.h"
#include "app/sheets/task_views.h"

namespace ypsi::app {

class HandStrip;
class JogPad;
class JogStrip;
class NoticeBar;
class PositionsPage;
class Rail;
class SheetArea;
class Tray;
class Staff;

/// Menu bar, staff, sheet with its finding, rail.
class MainWindow : public QMainWindow {
  Q_OBJECT
 public:
  explicit MainWindow(Session& session);
  MainWindow(Session& session, const TaskViews& views);
  ~MainWindow() override;
  void open_sheet(const QString& id);
  /// Machines whose books were opened before, name and path, the last one first. Asked when the menu opens, since each
  /// book is read for its name.
  using RecentMachines = std::vector<std::pair<QString, QString>>;
  void set_recent(std::function<RecentMachines()> machines) { recent_ = std::move(machines); }
  QString current_sheet() const { return current_; }

 signals:
  void another_machine_wanted();
  void book_wanted(const QString& path);

 protected:
  bool eventFilter(QObject* object, QEvent* event) override;
  void closeEvent(QCloseEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;

 private:
  void make_menus();
  void refresh();
  void refresh_status();
  void retheme();
  void show_name();
  void show_positions_only(bool only);
  Sheet* sheet(const QString& id);
  void toggle_jog_strip();
  void open_another_book();
  void save_a_copy();

  Session& session_;
  const TaskViews& views_;
  Staff* staff_;
  Rail* rail_;
  NoticeBar* notice_;
  SheetArea* area_;
  PositionsPage* positions_;
  QStackedWidget* stack_;
  HandStrip* hand_strip_;
  JogStrip* jog_strip_;
  JogPad* jog_pad_;
  Tray* tray_;
  QPushButton* simulated_;
  QLabel *title_, *link_label_;
  QString name_;  ///< of the machine, in full
  std::function<RecentMachines()> recent_;
  std::map<QString, Sheet*> sheets_;
  QString current_;
  Qt::WindowStates usual_state_;  ///< before the positions filled the screen
  bool homed_shown_ = false;
  bool closing_ = false;  ///< once what is under way has ended
};

}  // namespace ypsi::app
