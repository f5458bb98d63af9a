#pragma once
// Which machine: what is there to connect to, the last one first, and in words why it did not work.
#include <QCheckBox>
#include <QComboBox>
#include <QDialog>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>

#include "app/session/connection.h"
#include "app/session/session.h"

namespace ypsi::app {

class ConnectDialog : public QDialog {
  Q_OBJECT
 public:
  ConnectDialog(Session& session, QWidget* parent);

  void done(int result) override;

 private:
  void list_lines();
  void show_chosen();
  void list_controllers();
  void list_bauds();
  void say_what_it_leaves();
  std::optional<Line> chosen() const;
  void connect_now();
  void open_chosen();
  /// Opens the line at each speed until the controller answers.
  void find_speed();
  void try_next_speed();
  void follow(std::unique_ptr<Connection> connection);
  void watch_opening();
  void take(std::unique_ptr<Connection> connection);

  Session& session_;
  QListWidget* lines_;
  QLineEdit *address_, *token_;
  QComboBox *baud_, *talks_;
  QLabel *hint_, *talks_hint_, *leaves_, *status_;
  QPushButton *connect_, *find_speed_;
  QCheckBox* stays_up_;
  std::vector<int> untried_;  ///< speeds, while one is sought
  bool seeks_ = false;
  std::unique_ptr<Connection> opening_;
};

}  // namespace ypsi::app
