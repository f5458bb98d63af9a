#include "app/demo.h"

#include <QCoreApplication>
#include <QDir>
#include <QFile>

#include "app/session/book_store.h"

namespace ypsi::app {

const std::vector<DemoMachine>& demo_machines() {
  struct Words {
    Q_DECLARE_TR_FUNCTIONS(demo)
  };
  static const std::vector<DemoMachine> all{
      {QStringLiteral("oriel"), QStringLiteral("Oriel"),
       Words::tr("A bench router with some of its work done, wrong in ways that only measuring finds.")},
      {QStringLiteral("tansy"), QStringLiteral("Tansy"),
       Words::tr("A small engraver, new: nothing was ever looked at. Its screws repeat an error with every turn.")},
      {QStringLiteral("fathom"), QStringLiteral("Fathom"),
       Words::tr("A cutting table of two metres and a half, a few weeks into its work: racks, slack, and lengths that "
                 "no ruler spans.")}};
  return all;
}

Result<DemoFiles> prepare_demo(const QString& data, const QString& folder, bool fresh, const QString& machine) {
  if (data.isEmpty())
    return fail("unreadable",
                "The demo's files are not beside the program; install it again, or open a book of your own.");
  if (!QDir().mkpath(folder))
    return fail(
        "unreadable",
        QStringLiteral("The folder “%1” cannot be made; choose another with --folder.").arg(folder).toStdString());
  const QString of = folder + "/" + machine;
  const DemoFiles files{of + ".ypsi", of + ".scenario.json", of + ".controller.json", folder + "/dial-blank.ngc"};
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
