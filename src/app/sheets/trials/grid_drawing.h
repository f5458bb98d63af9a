#pragma once
#include <QWidget>

#include "core/book/worksheets/trials.h"
#include "core/tasks/power_speed.h"

namespace ypsi::app {

/// The grid as it lies on the stock: powers to the right, speeds upwards. A click, or arrow keys and Space, say of a
/// square that it came out as wanted.
class GridDrawing : public QWidget {
  Q_OBJECT
 public:
  explicit GridDrawing(QWidget* parent);
  void show(const std::optional<BeamGrid>& grid, const std::vector<BeamSetting>& wanted,
            const std::optional<BeamSetting>& chosen, const QString& power_words);

 signals:
  void marked(ypsi::BeamSetting square);

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  bool event(QEvent* event) override;

 private:
  QRectF square(std::size_t column, std::size_t row) const;
  BeamSetting setting(std::size_t column, std::size_t row) const;
  std::optional<std::pair<std::size_t, std::size_t>> at(QPointF place) const;
  std::optional<BeamGrid> grid_;
  std::vector<BeamSetting> wanted_;
  std::optional<BeamSetting> chosen_;
  QString power_words_;
  std::size_t column_ = 0, row_ = 0;  ///< that the keys are at
};

}  // namespace ypsi::app
