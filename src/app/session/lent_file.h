#pragma once
#include <QString>
#include <vector>

#include "app/session/connection.h"
#include "core/procedures/procedure.h"

namespace ypsi::app {

/// What a controller is lent, beside the book for as long as it is: who is killed meanwhile leaves it there.
class LentFile {
 public:
  explicit LentFile(const QString& book_path) : path_(book_path + QStringLiteral(".lent")) {}
  /// What an earlier run has left at the machine that this line leads to; kept until the next keep().
  std::vector<LentSetting> left(const Line& line);
  /// Written where it is another than before; nothing lent: the file goes.
  void keep(const Line& line, const std::vector<LentSetting>& lent);

 private:
  QString path_;
  std::vector<LentSetting> kept_;
};

}  // namespace ypsi::app
