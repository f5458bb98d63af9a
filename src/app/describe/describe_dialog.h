#pragma once
// The bench at which a controller is described: the line in hand, the parts found out one after the other, what is then
// left to the owner.
#include <QComboBox>
#include <QDialog>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QScrollArea>
#include <map>
#include <memory>

#include "app/describe/example_view.h"
#include "app/session/lines_found.h"
#include "app/session/session.h"
#include "link/describing/part.h"

namespace ypsi::app {

class LineLogView;
class PartPage;

class DescribeDialog : public QDialog {
  Q_OBJECT
 public:
  DescribeDialog(Session& session, QWidget* parent);
  ~DescribeDialog() override;

  void done(int result) override;
  /// What is written now.
  const link::ControllerDescription& draft() const { return *draft_; }
  /// The line in hand; null where none is.
  Connection* connection() { return connection_.get(); }

 private:
  QWidget* make_head();
  QWidget* make_parts();
  QHBoxLayout* make_foot();
  void list_lines();
  void show_way();
  std::optional<Line> wanted_line() const;
  void open_or_close();
  void close_line();
  void follow();
  void begin_with(int row);
  void show_part();
  void draft_changed();
  void show_states();
  void try_part();
  void begin_try(link::Part part);
  void save();
  bool may_leave();
  void save_log();
  void say(const QString& text);

  Session& session_;
  std::shared_ptr<link::ControllerDescription> draft_;
  std::unique_ptr<Connection> connection_;
  QString id_;  ///< under which it is kept; empty: it is not yet
  std::map<link::Part, Example> examples_;
  std::map<link::Part, bool> tried_;
  std::string saved_;  ///< as it was last saved, or begun with
  bool was_up_ = false, trying_ = false;
  QLineEdit *name_, *address_;
  QComboBox *begin_with_, *line_, *baud_;
  QPushButton* open_;
  QLabel *status_, *leaves_;
  QListWidget* parts_;
  QScrollArea* page_box_;
  PartPage* page_ = nullptr;
  LineLogView* log_;
};

}  // namespace ypsi::app
