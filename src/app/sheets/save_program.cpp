#include "app/sheets/save_program.h"

#include <QCoreApplication>
#include <QFileDialog>

#include "app/session/machine_session.h"
#include "app/session/session.h"
#include "app/session/text_file.h"

namespace ypsi::app {

bool save_program(Session& session, QWidget* parent, const Result<HeadProgram>& program, const QString& title,
                  const QString& name) {
  if (!program) return session.machine().ask(tl::make_unexpected(program.error()));
  const QString path =
      QFileDialog::getSaveFileName(parent, title, name, QCoreApplication::translate("save_program", "G-code (*.ngc)"));
  return !path.isEmpty() && session.machine().ask(write_file(path, program->text));
}

}  // namespace ypsi::app
