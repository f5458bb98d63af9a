#pragma once
#include <QFrame>
#include <QHBoxLayout>
#include <QLabel>
#include <QTimer>

#include "app/session/notices.h"

namespace ypsi::app {

/// What happened, why, what to do, and the acts that do it. Stays until it is put away or replaced.
class NoticeBar : public QFrame {
  Q_OBJECT
 public:
  explicit NoticeBar(QWidget* parent);
  void show_notice(const Notice& notice);

 private:
  QLabel *mark_, *text_;
  QHBoxLayout* actions_;
  QTimer good_news_;
};

}  // namespace ypsi::app
