#pragma once
#include <QScrollArea>
#include <functional>
#include <map>

#include "app/drawing/machine_view.h"
#include "app/sheets/build/build_draft.h"
#include "app/sheets/sheet.h"
#include "app/sheets/sheet_pages.h"

namespace ypsi::app {

/// Build: what the machine is made of, drawn; and what the controller has of it.
class BuildSheet : public Sheet {
  Q_OBJECT
 public:
  explicit BuildSheet(Session& session);
  void refresh() override;
  void refresh_status() override;
  /// "machine", "x", "y", "z", "spindle", "heads", "bed", "instruments", "controller".
  void show_part(const QString& part) override;

 private:
  /// Its page is made when it is first shown, since together they take their time.
  struct Part {
    QScrollArea* area = nullptr;
    std::function<BuildPage*()> make;
    BuildPage* page = nullptr;
  };
  void add_page(const QString& part, const QString& title, std::function<BuildPage*()> make);
  QString words() const;
  QStringList changes() const;
  BuildDraft draft_;
  MachineView* view_;
  SheetPages* pages_;
  std::map<QString, Part> parts_;
  QLabel *lead_, *what_, *changes_heading_, *changes_, *last_;
  QPushButton *keep_, *drop_;
};

}  // namespace ypsi::app
