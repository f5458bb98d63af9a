#pragma once
#include "app/sheets/sheet.h"
#include "core/book/record_json.h"
#include "core/procedures/direction_check.h"

namespace ypsi::app {

/// The tool with its six arrows: plan for X and Y, elevation for Z; beside a simulated machine where the eye sees it.
class ArrowsDrawing : public QWidget {
  Q_OBJECT
 public:
  ArrowsDrawing(Session& session, QWidget* parent);
  void show(const DirectionCheck& check, std::optional<std::array<double, 3>> moved);
  QSize minimumSizeHint() const override { return {390, 300}; }

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  Session& session_;
  DirectionCheck check_;
  std::optional<std::array<double, 3>> moved_;  ///< as the eye sees it, since the nudge began
};

/// Directions: nudge each axis a little, say which way it went, reverse what went the wrong way.
class DirectionsSheet : public Sheet {
  Q_OBJECT
 public:
  explicit DirectionsSheet(Session& session);
  void refresh() override;
  void refresh_status() override;

 private:
  void nudge(Axis axis);
  void answer(bool alone, bool as_the_arrow);
  void keep_when_complete();

  DirectionCheck check_;
  bool kept_ = false;
  nlohmann::json as_found_ = nlohmann::json::object(), as_left_ = nlohmann::json::object();
  std::optional<std::array<double, 3>> seen_before_;
  ArrowsDrawing* drawing_;
  std::array<QPushButton*, axis_count> nudge_{};
  QLabel *asked_, *what_, *last_;
  QPushButton *yes_, *other_way_, *another_;
};

}  // namespace ypsi::app
