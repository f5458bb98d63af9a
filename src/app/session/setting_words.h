#pragma once
// A controller's settings as a person says them.
#include <QString>

#include "core/book/controller_settings.h"
#include "core/units/length.h"

namespace ypsi::app {

QString setting_words(const std::string& name);                                    ///< "steps per mm of X"
QString setting_value(const BookSetting& setting, double value, LengthUnit unit);  ///< "80.37", "6000 mm/min"

}  // namespace ypsi::app
