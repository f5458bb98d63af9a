#pragma once
#include <QCheckBox>
#include <QWidget>
#include <functional>
#include <optional>
#include <vector>

#include "app/sheets/sheet.h"
#include "core/book/drawing_job.h"

namespace ypsi::app {

/// What is said of the chosen layer beside its row in the table: tabs and the way in of what is cut, the lines of what
/// is hatched. Hidden for every other act.
class LayerMore : public QWidget {
  Q_OBJECT
 public:
  LayerMore(Session& session, QWidget* parent);
  void show_act(const std::optional<LayerAct>& act, bool by_z);

 signals:
  void changed(const ypsi::LayerAct& act);

 private:
  void take(const std::function<void(LayerAct&)>& how);

  Session& session_;
  std::optional<LayerAct> act_;
  bool by_z_ = true;
  QLabel* layer_;
  struct Number {
    WordedField worded;
    double LayerAct::*value;
    bool hatch;
    bool mm;
    bool by_z_alone;
  };
  std::vector<Number> numbers_;
  WordedField tabs_{};
  QCheckBox *one_way_, *bare_;
};

}  // namespace ypsi::app
