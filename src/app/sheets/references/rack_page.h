#pragma once
#include <QLabel>
#include <QPushButton>

#include "app/session/session.h"
#include "app/widgets/field.h"
#include "core/book/rack.h"

namespace ypsi::app {

class RackDrawing;

/// The tool rack: its slots from two captured end places, its heights, and what stands against using it.
class RackPage : public QWidget {
  Q_OBJECT
 public:
  explicit RackPage(Session& session);
  void refresh();
  void refresh_status();

 private:
  void change(const QString& text, const std::function<void(ToolRack&)>& how);
  std::vector<RackFinding> findings() const;
  QString words(const RackFinding& finding) const;

  Session& session_;
  RackDrawing* drawing_;
  LengthField *slots_, *grip_, *clear_, *height_;
  QPushButton *first_, *last_, *take_grip_, *go_;
  QLabel *result_, *words_, *hint_;
};

}  // namespace ypsi::app
