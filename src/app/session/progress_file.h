#pragma once
#include <QElapsedTimer>
#include <QFile>
#include <optional>

#include "core/program/progress.h"

namespace ypsi::app {

/// How far the cut has come, beside the book: written as it goes, so that what is killed can be resumed.
class ProgressFile {
 public:
  explicit ProgressFile(const QString& book_path) : file_(book_path + ".progress") {}
  /// What an earlier run has left and not ended.
  std::optional<Progress> left() const;
  /// False where it cannot be written; then line() and end() do nothing.
  bool begin(const QString& program, const std::string& text, const CutGround& ground);
  void ground(const CutGround& ground);  ///< has changed, by the owner's word
  void line(std::uint32_t number);
  void end();
  bool open() const { return file_.isOpen(); }

 private:
  bool add(const std::string& line);
  QFile file_;
  QElapsedTimer synced_;
  std::uint32_t line_ = 0;
};

}  // namespace ypsi::app
