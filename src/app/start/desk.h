#pragma once
// What is on the desk: the start page, or one machine's window. Another machine is another session: nothing of the
// first is left in it.
#include <QObject>
#include <functional>
#include <memory>

#include "app/demo.h"
#include "app/main_window.h"
#include "app/session/connection.h"
#include "app/start/start_page.h"

namespace ypsi::app {

class Desk : public QObject {
  Q_OBJECT
 public:
  /// `demo_folder`: where the demo's files live.
  Desk(MyMachines machines, QString demo_folder);
  ~Desk() override;

  void show_start(const QString& said = {});
  /// A book that is there.
  void open_book(const QString& path, BeginWay way = BeginWay::later);
  /// One of demo_machines() with its stand-in; error: those of prepare_demo().
  Result<void> open_demo(bool fresh = false, const QString& machine = QStringLiteral("oriel"));
  StartPage* start_page() { return start_.get(); }
  MainWindow* window() { return window_.get(); }
  Session* session() { return session_.get(); }

 private:
  void show_machine(const QString& book, std::unique_ptr<Connection> connection,
                    const std::optional<StandInFiles>& stand_in);
  /// The window goes, unless what is under way at its machine says that it must not.
  bool put_away();
  void put_away_later(const std::function<void()>& then);

  MyMachines machines_;
  QString demo_folder_;
  std::unique_ptr<StartPage> start_;
  std::unique_ptr<Session> session_;
  std::unique_ptr<MainWindow> window_;
};

}  // namespace ypsi::app
