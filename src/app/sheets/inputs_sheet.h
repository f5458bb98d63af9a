#pragma once
#include "app/sheets/sheet.h"
#include "core/book/record_json.h"
#include "core/procedures/input_watch.h"

namespace ypsi::app {

/// The machine with every input where it sits, its lamp, and what has been seen of it.
class InputsDrawing : public QWidget {
  Q_OBJECT
 public:
  InputsDrawing(Session& session, QWidget* parent);
  void show(const InputWatch& watch);
  QSize minimumSizeHint() const override { return {390, 300}; }

 signals:
  void chosen(ypsi::InputId input);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;

 private:
  QPointF place_of(InputId input) const;
  QRectF plan() const;
  Session& session_;
  InputWatch watch_;
};

/// Inputs: press every switch, the probe and the emergency stop, and see each change before anything moves.
class InputsSheet : public Sheet {
  Q_OBJECT
 public:
  explicit InputsSheet(Session& session);
  void refresh() override;
  void refresh_status() override;

 private:
  void ask(InputId input);
  void keep_when_complete();
  void invert();
  std::optional<InputId> to_invert() const;

  InputWatch watch_;
  bool kept_ = false, begun_ = false;  ///< in the record; asking for one after the other
  std::size_t stops_pressed_ = 0;      ///< of several emergency stops
  nlohmann::json as_found_ = nlohmann::json::object(), as_left_ = nlohmann::json::object();
  InputsDrawing* drawing_;
  QLabel *asked_, *what_, *last_;
  QPushButton *begin_, *nothing_, *invert_, *over_;
};

QString input_name(InputId input);
/// "X's switch never changed. Look at its plug and cable." Empty for what works or was not tried.
QString input_sentence(const InputWatch& watch, InputId input);

}  // namespace ypsi::app
