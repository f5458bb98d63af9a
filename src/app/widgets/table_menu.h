#pragma once
#include <QPushButton>
#include <functional>

#include "app/session/session.h"
#include "core/result.h"

namespace ypsi::app {

/// Readings taken elsewhere: a table read from a file, and the sheet's own written to one.
class TableMenu : public QPushButton {
  Q_OBJECT
 public:
  /// `take` uses a table's text, or says why not; `give` makes the text.
  TableMenu(Session& session, QWidget* parent, std::function<Result<void>(std::string)> take,
            std::function<std::string()> give);
  /// One more thing to write, under its own words.
  void add_writer(const QString& words, const QString& kind, const QString& suffix, std::function<std::string()> give);
  void read_file(const QString& path);
  void write_file(const QString& path, const std::string& text);

 private:
  Session& session_;
  std::function<Result<void>(std::string)> take_;
};

}  // namespace ypsi::app
