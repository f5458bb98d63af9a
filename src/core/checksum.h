#pragma once
#include <string>
#include <string_view>

namespace ypsi {

/// CRC-32 (ISO 3309, reflected, as in ITU-T V.42), eight hexadecimal digits in lower case: "123456789" gives
/// "cbf43926".
std::string checksum(std::string_view bytes);

}  // namespace ypsi
