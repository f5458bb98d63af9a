// A drawing of 100,000 entities read, mended and looked over, as DXF and as SVG.
#include <benchmark/benchmark.h>
#include <fmt/format.h>

#include <random>

#include "core/book/machine_kinds.h"
#include "core/drawing_in/drawing_report.h"
#include "core/drawing_in/mend.h"

namespace {

using namespace ypsi;

struct HugeDrawing {
  std::string dxf = "0\nSECTION\n2\nHEADER\n9\n$INSUNITS\n70\n4\n0\nENDSEC\n0\nSECTION\n2\nENTITIES\n";
  std::string svg = "<svg xmlns='http://www.w3.org/2000/svg' width='1000mm' height='1000mm' viewBox='0 0 1000 1000'>\n";
};

const HugeDrawing& huge_drawing() {
  static const HugeDrawing drawing = [] {
    HugeDrawing made;
    std::mt19937 random(1);
    std::uniform_real_distribution<double> place(0, 990);
    for (int i = 0; i < 25'000; ++i) {
      double x = place(random), y = place(random);
      made.dxf += fmt::format("0\nLINE\n8\ncut\n10\n{}\n20\n{}\n11\n{}\n21\n{}\n", x, y, x + 3, y + 2);
      made.svg += fmt::format("<line x1='{}' y1='{}' x2='{}' y2='{}'/>\n", x, y, x + 3, y + 2);
      x = place(random), y = place(random);
      made.dxf += fmt::format("0\nCIRCLE\n8\ncut\n10\n{}\n20\n{}\n40\n1.5\n", x, y);
      made.svg += fmt::format("<circle cx='{}' cy='{}' r='1.5'/>\n", x, y);
      x = place(random), y = place(random);
      made.dxf += fmt::format("0\nARC\n8\ncut\n10\n{}\n20\n{}\n40\n2\n50\n10\n51\n120\n", x, y);
      made.svg += fmt::format("<path d='M{} {} a2 2 0 0 1 2 2'/>\n", x, y);
      x = place(random), y = place(random);
      made.dxf += fmt::format("0\nLWPOLYLINE\n8\ncut\n90\n3\n70\n0\n10\n{}\n20\n{}\n10\n{}\n20\n{}\n10\n{}\n20\n{}\n",
                              x, y, x + 2, y, x + 2, y + 2);
      made.svg += fmt::format("<polyline points='{},{} {},{} {},{}'/>\n", x, y, x + 2, y, x + 2, y + 2);
    }
    made.dxf += "0\nENDSEC\n0\nEOF\n";
    made.svg += "</svg>\n";
    return made;
  }();
  return drawing;
}

void read_a_drawing(benchmark::State& state, const std::string& bytes) {
  const MachineSetup table = machine_kind("cutting_table").usual;
  for (auto _ : state) {
    auto drawing = read_drawing(bytes);
    if (!drawing) return state.SkipWithError(drawing.error().message.c_str());
    const Mended mended = mend(*drawing);
    benchmark::DoNotOptimize(look_over(*drawing, mended, table).size());
  }
}
void read_100000_entities_of_dxf(benchmark::State& state) {
  read_a_drawing(state, huge_drawing().dxf);
}
BENCHMARK(read_100000_entities_of_dxf)->Unit(benchmark::kMillisecond);
void read_100000_entities_of_svg(benchmark::State& state) {
  read_a_drawing(state, huge_drawing().svg);
}
BENCHMARK(read_100000_entities_of_svg)->Unit(benchmark::kMillisecond);

}  // namespace
