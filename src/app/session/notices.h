#pragma once
// What the owner is told, and what a sheet asks of the window: to be led elsewhere, the jog strip. Whoever has a window
// shows it.
#include <QObject>
#include <QString>
#include <functional>
#include <vector>

#include "app/to_q.h"

namespace ypsi::app {

enum class NoticeLevel { good, attention, danger };

struct NoticeAction {
  QString label;
  std::function<void()> act;
  /// Whether the world is still what it is about; once it is not, its button goes. Empty: it always is.
  std::function<bool()> holds{};
};

struct Notice {
  NoticeLevel level = NoticeLevel::attention;
  QString text;
  std::vector<NoticeAction> actions;
  /// Whether its reason still stands; once it does not, the notice goes. Empty: until it is put away.
  std::function<bool()> holds{};
};

class Notices : public QObject {
  Q_OBJECT
 public:
  void notify(const Notice& notice) { emit noticed(notice); }
  /// Leads to a sheet, or to a part of one ("build#controller").
  void lead_to(const QString& place) { emit sheet_wanted(place); }

 signals:
  void noticed(const ypsi::app::Notice& notice);
  void sheet_wanted(const QString& place);
  void jog_wanted();  ///< somebody needs the tool elsewhere
};

}  // namespace ypsi::app
