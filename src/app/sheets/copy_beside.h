#pragma once
#include <QString>
#include <functional>
#include <optional>
#include <string_view>

#include "app/session/session.h"
#include "core/program/corrected_copy.h"

class QWidget;

namespace ypsi::app {

/// What becomes lines in a copy is within this of what it was.
constexpr double lines_within_mm = 0.005;

struct CopyMade {
  QString path;
  CorrectedCopy copy;
};

/// The program that is loaded, or where there is none one that is asked for, as `make` makes it of its text: written
/// beside it under its name with `ending` ("-corrected"). What goes wrong is said; none then, or where it was called
/// off.
std::optional<CopyMade> copy_beside(Session& session, QWidget* parent, const QString& ending,
                                    const std::function<Result<CorrectedCopy>(std::string_view)>& make);

}  // namespace ypsi::app
