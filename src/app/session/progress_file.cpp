#include "app/session/progress_file.h"

#include <unistd.h>

#include "app/session/text_file.h"

namespace ypsi::app {
namespace {
constexpr qint64 sync_every_ms = 1000;
}

std::optional<Progress> ProgressFile::left() const {
  if (!QFile::exists(file_.fileName())) return std::nullopt;
  const auto bytes = read_file(file_.fileName());
  if (!bytes) return std::nullopt;
  const auto progress = read_progress(*bytes);
  return progress && !progress->ended && progress->line > 0 ? progress : std::nullopt;
}

bool ProgressFile::begin(const QString& program, const std::string& text, const CutGround& ground) {
  file_.close();
  if (!file_.open(QIODevice::WriteOnly | QIODevice::Truncate | QIODevice::Unbuffered)) return false;
  line_ = 0;
  synced_.start();
  return add(progress_begins(program.toStdString(), text)) && add(progress_ground(ground));
}

void ProgressFile::ground(const CutGround& ground) {
  if (file_.isOpen()) add(progress_ground(ground));
}

void ProgressFile::line(std::uint32_t number) {
  if (!file_.isOpen() || number == line_) return;
  line_ = number;
  add(progress_line(number));
  // What the kernel has outlives the program; a power cut only what is on the disk.
  if (synced_.elapsed() < sync_every_ms) return;
  synced_.restart();
  (void)::fdatasync(file_.handle());
}

void ProgressFile::end() {
  if (!file_.isOpen()) return;
  add(progress_ends());
  file_.close();
}

bool ProgressFile::add(const std::string& line) {
  return file_.write(line.data(), static_cast<qint64>(line.size())) == static_cast<qint64>(line.size());
}

}  // namespace ypsi::app
