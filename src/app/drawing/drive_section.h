#pragma once
// A drive train in section: motor, gears where there are any, and what turns its turns into travel.
#include "app/drawing/draft.h"
#include "core/calibration/drive.h"

namespace ypsi::app {

/// Where the parts of a drive stand in a box of at least 300 × 90 px, for fields beside them.
struct DriveParts {
  QRectF motor, gears, transmission;
};
DriveParts drive_parts(const QRectF& box);

void draw_drive(Draft& draft, const QRectF& box, const DriveTrain& drive);

/// "screw, lead 4 mm", "belt, pitch 2 mm, 20 teeth", "rotary, 360° a turn".
QString transmission_words(const Transmission& transmission);

}  // namespace ypsi::app
