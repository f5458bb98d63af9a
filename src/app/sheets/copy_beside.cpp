#include "app/sheets/copy_beside.h"

#include <QCoreApplication>
#include <QFileDialog>

#include "app/session/job_session.h"
#include "app/session/machine_session.h"
#include "app/session/text_file.h"

namespace ypsi::app {

std::optional<CopyMade> copy_beside(Session& session, QWidget* parent, const QString& ending,
                                    const std::function<Result<CorrectedCopy>(std::string_view)>& make) {
  const auto tr = [](const char* text) { return QCoreApplication::translate("copy_beside", text); };
  const auto program = session.job().program();
  const QString from =
      program ? program->path
              : QFileDialog::getOpenFileName(
                    parent, tr(QT_TRANSLATE_NOOP("copy_beside", "The program to correct")), {},
                    tr(QT_TRANSLATE_NOOP("copy_beside", "G-code (*.ngc *.nc *.gcode *.tap);;All files (*)")));
  if (from.isEmpty()) return std::nullopt;
  const auto refused = [&](const Error& error) {
    session.machine().ask(tl::make_unexpected(error));
    return std::nullopt;
  };
  const auto text = read_file(from);
  if (!text) return refused(text.error());
  auto copy = make(*text);
  if (!copy) return refused(copy.error());
  const QFileInfo file(from);
  const auto written = write_beside(file.dir().filePath(file.completeBaseName() + ending + ".ngc"), copy->text);
  if (!written) return refused(written.error());
  return CopyMade{*written, std::move(*copy)};
}

}  // namespace ypsi::app
