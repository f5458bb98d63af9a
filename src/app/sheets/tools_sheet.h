#pragma once
#include <QTableWidget>

#include "app/sheets/references/rack_page.h"
#include "app/sheets/references/tool_drawing.h"
#include "app/sheets/sheet.h"
#include "app/sheets/sheet_pages.h"
#include "core/procedures/setter_touch.h"

namespace ypsi::app {

/// The tools with their dimensions, offsets against the reference tool, and slots; measured on the setter.
class ToolsSheet : public Sheet {
  Q_OBJECT
 public:
  explicit ToolsSheet(Session& session);
  void refresh() override;
  void refresh_status() override;
  /// "tools" or "rack".
  void show_part(const QString& part) override;

 private:
  std::optional<std::size_t> chosen() const;  ///< of the book's tools
  void take(int row);
  void add_tool();
  void take_out();
  void put_in();
  void measure();
  void keep_measured();
  Result<void> take_table(const std::string& text);
  void show_finding();

  SheetPages* pages_;
  RackPage* rack_;
  QTableWidget* table_;
  ToolDrawing* drawing_;
  LengthField* touches_;
  QPushButton *put_in_, *circuit_button_, *measure_, *take_out_;
  QLabel *hint_, *lead_, *figure_, *spread_, *verdict_, *text_;
  bool showing_ = false;
  std::shared_ptr<SetterTouch> touch_ = std::make_shared<SetterTouch>();
  int measured_tool_ = 0;
};

}  // namespace ypsi::app
