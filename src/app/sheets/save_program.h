#pragma once
#include <QString>

#include "core/program/head_lines.h"

class QWidget;

namespace ypsi::app {

class Session;

/// Asks for a file and writes a program of ours into it; why it cannot be made or written is said. False then, or where
/// it was called off. `title` of the dialog, `name` that it offers.
bool save_program(Session& session, QWidget* parent, const Result<HeadProgram>& program, const QString& title,
                  const QString& name);

}  // namespace ypsi::app
