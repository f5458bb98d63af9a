#include "app/drawing/toolpath.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

#include "core/program/arc.h"

namespace ypsi::app {
namespace {
constexpr double worth_a_line_px = 0.7, arc_chord_px = 4, worth_a_width_px = 0.5;
}

double CutWidths::at(int tool, double z) const {
  const auto found = cutters.find(tool);
  return found == cutters.end() ? usual_cutter_mm
                                : 2 * radius_at(found->second.tool, std::max(0.0, found->second.top - z));
}

std::size_t motion_at_line(const LoadedProgram& program, std::uint32_t line) {
  const auto& motions = program.program.motions;
  return static_cast<std::size_t>(std::lower_bound(motions.begin(), motions.end(), line,
                                                   [](const Motion& m, std::uint32_t l) { return m.line < l; }) -
                                  motions.begin());
}

void draw_path(QPainter& painter, const LoadedProgram& loaded, const QTransform& map, std::size_t from, std::size_t to,
               PathLook look, const QColor& colour, const CutWidths& widths) {
  const Program& program = loaded.program;
  const double scale = std::sqrt(std::fabs(map.determinant()));
  QPolygonF chain;
  MotionKind kind = MotionKind::rapid;
  int tool = -1;
  double width = 0;  // px
  const auto flush = [&] {
    if (chain.size() > 1) {
      if (kind == MotionKind::rapid) {
        painter.setPen(QPen(theme().second_ink, 0.8, Qt::DotLine));
      } else {
        painter.setPen(QPen(colour, width, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
      }
      if (kind != MotionKind::rapid || look == PathLook::lines) painter.drawPolyline(chain);
    }
    chain.clear();
  };
  for (std::size_t i = from; i < std::min(to, program.motions.size()); ++i) {
    const Motion& m = program.motions[i];
    const WorkPosition start = program.begin_of(i);
    const bool rapid = m.kind == MotionKind::rapid;
    // A move that goes down or up is as wide as where it is deepest.
    const double wide = look == PathLook::cut_width && !rapid
                            ? std::max(1.2, widths.at(program.tool_of(i), std::min(start.z, m.end.z)) * scale)
                            : 1.4;
    if (chain.isEmpty() || rapid != (kind == MotionKind::rapid) || program.tool_of(i) != tool ||
        std::fabs(wide - width) > worth_a_width_px) {
      flush();
      chain << map.map(QPointF(start.x, start.y));
      width = wide;
    }
    kind = m.kind;
    tool = program.tool_of(i);
    const QPointF end = map.map(QPointF(m.end.x, m.end.y));
    if (is_arc(m)) {
      const ArcWay way = arc_way(start, m, program.arc_of(m));
      const int pieces =
          std::clamp(static_cast<int>(std::fabs(way.sweep) * std::max(way.radius * scale / arc_chord_px, 2.0)), 1, 360);
      for (int k = 1; k < pieces; ++k) {
        const WorkPosition p = way.at(static_cast<double>(k) / pieces);
        chain << map.map(QPointF(p.x, p.y));
      }
      chain << end;
    } else if (std::fabs(end.x() - chain.last().x()) + std::fabs(end.y() - chain.last().y()) > worth_a_line_px ||
               i + 1 == to) {
      chain << end;
    }
    if (chain.size() > 2000) {
      const QPointF last = chain.last();
      flush();
      chain << last;
    }
  }
  flush();
}

}  // namespace ypsi::app
