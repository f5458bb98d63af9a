#pragma once
// Books that an earlier Ypsilograph wrote are open as they are: what stands elsewhere today is put there first.
#include <nlohmann/json_fwd.hpp>

namespace ypsi {

/// `book`: a whole document but for its record; what is of another kind than it should be is left for its reader to
/// refuse. Moved are the layers of a plate, which stood in the worksheet of its trial, to the materials.
void bring_up_to_date(nlohmann::json& book);

}  // namespace ypsi
