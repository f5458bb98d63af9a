#include "core/checksum.h"

#include <fmt/format.h>

#include <boost/crc.hpp>

namespace ypsi {

std::string checksum(std::string_view bytes) {
  boost::crc_32_type crc;
  crc.process_bytes(bytes.data(), bytes.size());
  return fmt::format("{:08x}", crc.checksum());
}

}  // namespace ypsi
