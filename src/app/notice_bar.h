#pragma once
#include <QFrame>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QTimer>
#include <vector>

#include "app/session/notices.h"

namespace ypsi::app {

/// What happened, why, what to do, and the acts that do it. Stays until it is put away or replaced, or its reason is
/// gone; an act whose world has changed goes before.
class NoticeBar : public QFrame {
  Q_OBJECT
 public:
  explicit NoticeBar(QWidget* parent);
  void show_notice(const Notice& notice);

 private:
  /// Takes away what no longer holds; false where that was the notice itself.
  bool look_again();
  QLabel *mark_, *text_;
  QHBoxLayout* actions_;
  QTimer good_news_, look_again_;
  Notice shown_;
  std::vector<QPushButton*> buttons_;  ///< of its acts, in their order
};

}  // namespace ypsi::app
