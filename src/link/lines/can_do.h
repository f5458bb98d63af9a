#pragma once
// What a described controller can be trusted with: said when it is connected and on the certificate.
#include <utility>
#include <vector>

#include "link/lines/controller_description.h"

namespace ypsi::link {

/// What is worst to be without comes first.
enum class CanDo {
  stops_by_line,      ///< else only its emergency stop does
  holds_on_path,      ///< a hold slows down at once and loses no step; else the blocks that it has taken are done first
  has_limits,         ///< its own; else the program's are all there are
  tells_place,        ///< where it stands; else it is reckoned from what it took
  ends_jogs,          ///< else jogs are sent in short steps
  keeps_place,        ///< after a stop; else it is homed anew
  homes_by_line,      ///< else its owner homes it and says so
  probes,             ///< and tells where it touched
  takes_settings,     ///< steps per mm of every axis; else its owner types them there
  resumes_after_loss  ///< it tells where it stands after the line was lost, so that a program can go on from there
};

/// All of them in their order, and whether it can. Example: {{CanDo::tells_place, true}, …} for one that reports.
std::vector<std::pair<CanDo, bool>> what_it_can_do(const ControllerDescription& description);

}  // namespace ypsi::link
