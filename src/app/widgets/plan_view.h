#pragma once
// Plan: the machine's travel with limits, or the stock alone, with program, zero and tool. Armed, it takes arrow keys.
#include <QPixmap>
#include <QPushButton>
#include <QTimer>
#include <QTransform>
#include <QWidget>

#include "app/drawing/path_layer.h"
#include "app/session/session.h"
#include "app/widgets/jog_keys.h"

namespace ypsi::app {

class PlanView : public QWidget {
  Q_OBJECT
 public:
  enum class Subject { travel, program, cut };
  PlanView(Session& session, Subject subject, QWidget* parent);
  /// Book, program or theme changed: the cached path is drawn anew.
  void invalidate();
  /// Shows all of it again.
  void show_all();
  void set_armable(bool armable);
  bool armed() const { return armed_; }
  /// Lines before this one are shown as cut.
  void set_done_line(std::uint32_t line);
  /// Places that something is found at, work frame.
  void set_marks(std::vector<WorkPosition> marks);

 signals:
  void arming_changed(bool armed);

 protected:
  void paintEvent(QPaintEvent*) override;
  void resizeEvent(QResizeEvent*) override;
  void mousePressEvent(QMouseEvent*) override;
  void mouseMoveEvent(QMouseEvent*) override;
  void mouseReleaseEvent(QMouseEvent*) override;
  void mouseDoubleClickEvent(QMouseEvent*) override;
  void wheelEvent(QWheelEvent*) override;
  void keyPressEvent(QKeyEvent*) override;
  void keyReleaseEvent(QKeyEvent*) override;
  void focusOutEvent(QFocusEvent*) override;

 private:
  QRectF world() const;  ///< what must fit, mm, in work coordinates
  void update_map();
  void zoom(double factor, QPointF about);
  void view_changed();
  void draw_path_layer();
  void draw_base();
  void draw_travel(class Draft& draft);
  void draw_clamps(class Draft& draft);
  void draw_homing_way(class Draft& draft);
  QRectF stock() const;  ///< in the work frame; empty where its size is not known
  void arm(bool on);
  double width_of(int tool) const;  ///< of the tool itself, mm
  bool zero_known() const;

  Session& session_;
  Subject subject_;
  QTransform map_;   ///< work mm to px
  QTransform view_;  ///< what zooming and moving have made of it, px to px
  QPointF dragged_from_;
  bool dragging_ = false;
  PathLayer* path_;
  CutWidths widths_;
  QTimer settle_;  ///< after zooming or moving the path is drawn anew
  QTransform base_map_, done_map_;
  QPixmap base_;
  QPixmap done_;
  std::size_t done_motions_ = 0;
  std::uint32_t done_line_ = 0;
  bool stale_ = true, armable_ = false, armed_ = false;
  HeldJog jog_{session_};
  QTimer disarm_;
  QVector<QPushButton*> arrows_;  ///< left, right, up, down on the screen
  WorkZero drawn_zero_;
  std::vector<WorkPosition> marks_;
};

}  // namespace ypsi::app
