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

 signals:
  void chosen(const QString& id);

 protected:
  void resizeEvent(QResizeEvent* event) override;

 private:
  Session& session_;
};

}  // namespace ypsi::app
