#pragma once
// Plan: the machine's travel with limits, or the stock alone, with program, zero and tool. Armed, it takes arrow keys.
#include <QPixmap>
#include <QPushButton>
#include <QTimer>
#include <QTransform>
#include <QWidget>

#include "app/session/session.h"

namespace ypsi::app {

class PlanView : public QWidget {
  Q_OBJECT
 public:
  enum class Subject { travel, program, cut };
  PlanView(Session& session, Subject subject, QWidget* parent);
  /// Book, program or theme changed: the cached path is drawn anew.
  void invalidate();
  void set_armable(bool armable);
  bool armed() const { return armed_; }
  /// Lines before this one are shown as cut.
  void set_done_line(std::uint32_t line);

 signals:
  void arming_changed(bool armed);

 protected:
  void paintEvent(QPaintEvent*) override;
  void resizeEvent(QResizeEvent*) override;
  void mousePressEvent(QMouseEvent*) override;
  void keyPressEvent(QKeyEvent*) override;
  void keyReleaseEvent(QKeyEvent*) override;
  void focusOutEvent(QFocusEvent*) override;

 private:
  QRectF world() const;  ///< what must fit, mm, in work coordinates
  void update_map();
  void draw_base();
  void draw_travel(class Draft& draft);
  void arm(bool on);
  double width_of(int tool) const;
  bool zero_known() const;

  Session& session_;
  Subject subject_;
  QTransform map_;  ///< work mm to px
  QPixmap base_;
  QPixmap done_;
  std::size_t done_motions_ = 0;
  std::uint32_t done_line_ = 0;
  bool stale_ = true, armable_ = false, armed_ = false, steady_ = false;
  QTimer disarm_;
  QVector<QPushButton*> arrows_;  ///< left, right, up, down on the screen
  WorkZero drawn_zero_;
};

}  // namespace ypsi::app
