#include "app/session/text_file.h"

#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QSaveFile>
#include <algorithm>
#include <array>

namespace ypsi::app {

Result<std::string> read_file(const QString& path, qint64 longest) {
  // Looked at before it is opened: opening a pipe waits for whoever writes into it.
  if (const QFileInfo info(path); info.exists() && !info.isFile())
    return fail(
        "not_a_file",
        QStringLiteral("“%1” is a folder, a pipe or a device, not a file. Choose a file.").arg(path).toStdString());
  QFile file(path);
  if (!file.open(QIODevice::ReadOnly))
    return fail("unreadable", QStringLiteral("The file “%1” cannot be opened: %2. Check its name and permissions.")
                                  .arg(path, file.errorString())
                                  .toStdString());
  // Piece by piece: asked for all at once, room is made for the longest file there may be.
  std::string text;
  text.reserve(static_cast<std::size_t>(std::clamp<qint64>(file.size(), 0, longest)));
  std::array<char, 65536> piece;
  for (qint64 got = 0; (got = file.read(piece.data(), piece.size())) > 0;) {
    text.append(piece.data(), static_cast<std::size_t>(got));
    if (static_cast<qint64>(text.size()) > longest)
      return fail("too_long", QStringLiteral("“%1” is longer than %2 MB, so it was not read. Is it the right file?")
                                  .arg(path)
                                  .arg(longest >> 20)
                                  .toStdString());
  }
  return text;
}

Result<void> write_file(const QString& path, const std::string& text) {
  QSaveFile file(path);
  if (file.open(QIODevice::WriteOnly) &&
      file.write(text.data(), static_cast<qint64>(text.size())) == static_cast<qint64>(text.size()) && file.commit())
    return {};
  return fail("not_written", QStringLiteral("“%1” could not be written: %2. Choose another place.")
                                 .arg(path, file.errorString())
                                 .toStdString());
}

Result<QString> write_beside(const QString& path, const std::string& text) {
  const QFileInfo file(path);
  QString to = path;
  for (int n = 2; QFile::exists(to); ++n) {
    if (const auto there = read_file(to); there && *there == text) return to;
    to = file.dir().filePath(QStringLiteral("%1-%2.%3").arg(file.completeBaseName()).arg(n).arg(file.suffix()));
  }
  if (auto written = write_file(to, text); !written) return tl::make_unexpected(written.error());
  return to;
}

}  // namespace ypsi::app
