#include "app/demo.h"

#include <QCoreApplication>
#include <QDir>
#include <QFile>

#include "app/session/book_store.h"

namespace ypsi::app {

QString find_demo_data() {
  const QString program = QCoreApplication::applicationDirPath();
  for (const QString& candidate : {program + "/../../../data/demo", program + "/../share/ypsilograph/demo"})
    if (QFile::exists(candidate + "/oriel.ypsi")) return QDir(candidate).absolutePath();
  return {};
}

Result<DemoFiles> prepare_demo(const QString& data, const QString& folder, bool fresh) {
  if (data.isEmpty())
    return fail("unreadable",
                "The demo's files are not beside the program; install it again, or open a book of your own.");
  if (!QDir().mkpath(folder))
    return fail(
        "unreadable",
        QStringLiteral("The folder “%1” cannot be made; choose another with --folder.").arg(folder).toStdString());
  const DemoFiles files{folder + "/oriel.ypsi", folder + "/oriel.scenario.json", folder + "/oriel.controller.json",
                        folder + "/dial-blank.ngc"};
  if (fresh)
    for (const QString& path : {files.book, files.scenario, files.settings, files.program, files.book + ".previous"})
      QFile::remove(path);
  for (const QString& path : {files.book, files.scenario, files.program}) {
    if (QFile::exists(path)) continue;
    const QString source = data + path.mid(folder.size());
    if (!QFile::copy(source, path))
      return fail("unreadable",
                  QStringLiteral("“%1” could not be copied to “%2”; is there room?").arg(source, folder).toStdString());
    QFile::setPermissions(path, QFile::ReadOwner | QFile::WriteOwner | QFile::ReadGroup | QFile::ReadOther);
  }
  return files;
}

}  // namespace ypsi::app
