#pragma once
// Drawings written by the tests themselves.
#include <fmt/format.h>

#include <numbers>
#include <string>

namespace ypsi::drawing_text {

/// A DXF file of these entities, blocks and layers; `units` as $INSUNITS has them, below 0: not said.
inline std::string dxf(const std::string& entities, int units = 4, const std::string& blocks = {},
                       const std::string& layers = {}) {
  std::string text = "0\nSECTION\n2\nHEADER\n9\n$ACADVER\n1\nAC1015\n";
  if (units >= 0) text += fmt::format("9\n$INSUNITS\n70\n{:>6}\n", units);
  text += "0\nENDSEC\n";
  if (!layers.empty()) text += "0\nSECTION\n2\nTABLES\n0\nTABLE\n2\nLAYER\n70\n9\n" + layers + "0\nENDTAB\n0\nENDSEC\n";
  if (!blocks.empty()) text += "0\nSECTION\n2\nBLOCKS\n" + blocks + "0\nENDSEC\n";
  return text + "0\nSECTION\n2\nENTITIES\n" + entities + "0\nENDSEC\n0\nEOF\n";
}

inline std::string layer(const std::string& name, int colour, int flags = 0) {
  return fmt::format("0\nLAYER\n2\n{}\n70\n{}\n62\n{}\n6\nCONTINUOUS\n", name, flags, colour);
}

inline std::string line(double x0, double y0, double x1, double y1, const std::string& layer = "cut") {
  return fmt::format("0\nLINE\n8\n{}\n10\n{}\n20\n{}\n11\n{}\n21\n{}\n", layer, x0, y0, x1, y1);
}

/// As four lines, from its lower left corner.
inline std::string rectangle(double x, double y, double width, double height, const std::string& layer = "cut") {
  return line(x, y, x + width, y, layer) + line(x + width, y, x + width, y + height, layer) +
         line(x + width, y + height, x, y + height, layer) + line(x, y + height, x, y, layer);
}
inline std::string square(double x, double y, double side, const std::string& layer = "cut") {
  return rectangle(x, y, side, side, layer);
}

inline std::string circle(double x, double y, double r, const std::string& more = {}) {
  return fmt::format("0\nCIRCLE\n8\ncut\n10\n{}\n20\n{}\n40\n{}\n{}", x, y, r, more);
}

inline std::string block(const std::string& name, double x, double y, const std::string& entities) {
  return fmt::format("0\nBLOCK\n8\n0\n2\n{0}\n70\n0\n10\n{1}\n20\n{2}\n30\n0\n3\n{0}\n", name, x, y) + entities +
         "0\nENDBLK\n8\n0\n";
}

inline std::string insert(const std::string& name, double x, double y, const std::string& more = {}) {
  return fmt::format("0\nINSERT\n8\ncut\n2\n{}\n10\n{}\n20\n{}\n30\n0\n{}", name, x, y, more);
}

inline std::string svg(const std::string& inside,
                       const std::string& page = "width=\"100mm\" height=\"80mm\" viewBox=\"0 0 100 80\"") {
  return "<?xml version=\"1.0\"?>\n<svg xmlns=\"http://www.w3.org/2000/svg\" " + page + ">\n" + inside + "\n</svg>\n";
}

}  // namespace ypsi::drawing_text
