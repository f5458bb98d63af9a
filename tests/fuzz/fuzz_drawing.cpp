// Feeds changed drawings to their readers and to all that is made of them. A finding is a crash, a sanitizer's report,
// a hang (a small drawing that takes five seconds), an error without code or sentence, or a place that is no number.
#include <chrono>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <random>

#include "core/drawing_in/drawing_program.h"
#include "core/drawing_in/drawing_report.h"
#include "core/drawing_text.h"
#include "fuzz/door.h"
#include "fuzz/text_mutator.h"

namespace ypsi {
namespace fuzz_drawing {
namespace {

using namespace ypsi::drawing_text;

std::vector<std::string> seeds() {
  const std::string spline =
      "0\nSPLINE\n8\ncut\n70\n12\n71\n2\n72\n6\n73\n3\n74\n0\n40\n0\n40\n0\n40\n0\n40\n1\n40\n1\n40\n1\n41\n1\n41\n0."
      "7\n41\n1\n"
      "10\n50\n20\n0\n10\n50\n20\n50\n10\n0\n20\n50\n";
  const std::string polylines =
      "0\nLWPOLYLINE\n8\ncut\n90\n4\n70\n1\n10\n0\n20\n0\n10\n40\n20\n0\n42\n1\n10\n40\n20\n20\n10\n0\n20\n20\n42\n1\n"
      "0\nPOLYLINE\n8\ncut\n66\n1\n70\n1\n0\nVERTEX\n8\ncut\n10\n0\n20\n0\n42\n-0."
      "4\n0\nVERTEX\n8\ncut\n10\n10\n20\n10\n"
      "0\nVERTEX\n8\ncut\n10\n10\n20\n0\n0\nSEQEND\n8\ncut\n";
  const std::string others =
      "0\nARC\n8\ncut\n10\n0\n20\n0\n40\n8\n50\n300\n51\n30\n0\nELLIPSE\n8\ncut\n10\n3\n20\n4\n11\n9\n21\n2\n40\n0."
      "25\n41\n0\n42\n3\n"
      "0\nTEXT\n8\nnames\n10\n4\n20\n5\n40\n2\n1\n12\\U+"
      "00B0\n0\nMTEXT\n8\nnames\n10\n4\n20\n5\n40\n2\n1\nname\n0\nHATCH\n8\ncut\n";
  return {
      dxf(line(0, 0, 10, 0) + circle(5, 5, 2) + spline + polylines + others, 4, {}, layer("cut", 1) + layer("off", -2)),
      dxf(insert("outer", 5, 5, "41\n2\n42\n-1\n50\n30\n70\n2\n71\n2\n44\n3\n45\n4\n"), 1,
          block("inner", 1, 1, line(0, 0, 1, 1, "0")) +
              block("outer", 0, 0, insert("inner", 1, 1, "210\n0\n220\n0\n230\n-1\n"))),
      svg("<style>.a{stroke:red;fill:none}</style><g id='l' transform='translate(3) rotate(30) scale(2,-1)'><path "
          "class='a' "
          "d='M0 0h5v-3l2 2c1 1 2 2 3 0s1 1 2 2q1 1 2 0t3 1a5 3 20 1 0 4 4zm1 1h1'/><rect x='1' y='1' width='9' "
          "height='5' rx='2'/>"
          "<circle cx='5' cy='5' r='3'/><ellipse rx='4' ry='2'/><polygon points='0,0 3,0 3,3'/></g>"
          "<use href='#l' x='5'/><text x='3'>word<tspan>s</tspan></text>"),
      svg("<svg x='1' y='1' width='50%' height='20' viewBox='0 0 10 10'><line x2='5' y2='5' stroke='#f00'/></svg>",
          "width='4in' height='72pt' viewBox='-5 -5 100 80'")};
}

int run(double seconds, std::uint64_t seed) {
  std::mt19937_64 random(seed);
  const auto now = [] { return std::chrono::steady_clock::now(); };
  const auto begin = now();
  const auto drawings = seeds();
  const std::vector<std::string_view> pieces = {"0\n",
                                                "8\n",
                                                "10\n",
                                                "70\n64\n",
                                                "-1",
                                                "1e9",
                                                "1e-12",
                                                "0\nSEQEND\n",
                                                "0\nENDSEC\n",
                                                "42\n9",
                                                "nan",
                                                "inf",
                                                "<g>",
                                                "</g>",
                                                "'/>",
                                                "d='",
                                                "M0 0A",
                                                "1 1 0 0 1",
                                                "%",
                                                "&#0;",
                                                "Z",
                                                "scale(0)",
                                                "matrix(",
                                                "url(#a)",
                                                "\xff\xfe",
                                                "0\nINSERT\n2\nouter\n",
                                                "90\n-5\n",
                                                "74\n99\n",
                                                "<use href='#l'/>",
                                                "1000000"};
  TextMutator mutator(random, {.pieces = pieces, .most_changes = 5, .longest_cut = 12, .longest_twice = 60});
  Book book;
  book.job.stock_size = {100, 100, 3};
  std::size_t read = 0, taken = 0;
  while (std::chrono::duration<double>(now() - begin).count() < seconds) {
    std::string text = drawings[mutator.below(drawings.size())];
    mutator.change(text);
    const auto start = now();
    auto drawing = read_drawing(text);
    ++read;
    if (!drawing) {
      if (drawing.error().code.empty() || drawing.error().message.empty())
        return std::fprintf(stderr, "refused without words: %s\n", text.c_str()), 1;
    } else {
      ++taken;
      const Mended mended = mend(*drawing);
      DrawingJob job;
      for (const DrawnLayer& l : drawing->layers) {
        LayerAct& act = job.acts.emplace_back();
        act.layer = l.name;
        act.act = DrawnAct::on_line;
        act.depth_mm = 1;
      }
      for (const DrawnContour& c : drawing->contours)
        for (const PlanPoint& p : c.points)
          if (!std::isfinite(p.real()) || !std::isfinite(p.imag()))
            return std::fprintf(stderr, "no number: %s\n", text.c_str()), 1;
      for (const DrawingFinding& f : look_over(*drawing, mended, book.machine))
        if (f.code.empty() || f.message.empty())
          return std::fprintf(stderr, "found without words: %s\n", text.c_str()), 1;
      if (const auto made = drawing_program(book, *drawing, job); !made && made.error().message.empty())
        return std::fprintf(stderr, "not made without words: %s\n", text.c_str()), 1;
    }
    if (std::chrono::duration<double>(now() - start).count() > 5)
      return std::fprintf(stderr, "took too long: %s\n", text.c_str()), 1;
  }
  std::printf("%zu drawings, %zu taken\n", read, taken);
  return taken > 0 ? 0 : 1;
}

const fuzz::Door door("drawing", run);

}  // namespace
}  // namespace fuzz_drawing
}  // namespace ypsi
