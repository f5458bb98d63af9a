#include "core/drawing_in/mend.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <limits>
#include <tuple>
#include <unordered_map>
#include <utility>

namespace ypsi {
namespace {

constexpr double rounding_mm = 0.005;  // gaps up to it are nothing to speak of
constexpr double least_length_mm = 1e-6;
constexpr double much_longer = 10;  // than the gap between its own ends: then a line was meant to be closed

/// Places by cells of a net, so that what is near is found without looking at all. What lies in one cell is a chain.
class Net {
 public:
  /// As far as is looked, > 0; how many places there will be at most.
  Net(double reach, std::size_t most)
      : reach_(std::max(reach, 1e-4)), first_(std::bit_ceil(2 * most + 1), none), mask_(first_.size() - 1) {
    places_.reserve(most);
  }
  void add(PlanPoint p, std::size_t what) {
    const Cell cell{column(p.real()), column(p.imag())};
    std::size_t& first = first_[hash(cell) & mask_];
    places_.push_back({p, what, cell, first});
    first = places_.size() - 1;
  }
  /// Each that is no further away than the reach, with the square of how far.
  template <class Each>
  void near(PlanPoint p, Each each) const {
    const Cell low{column(p.real() - reach_), column(p.imag() - reach_)},
        high{column(p.real() + reach_), column(p.imag() + reach_)};
    for (std::int64_t x = low.x; x <= high.x; ++x)
      for (std::int64_t y = low.y; y <= high.y; ++y)
        for (std::size_t i = first_[hash({x, y}) & mask_]; i != none; i = places_[i].next)
          if (const Place& at = places_[i]; at.cell.x == x && at.cell.y == y)
            if (const double away2 = std::norm(at.p - p); away2 <= reach_ * reach_) each(at.what, away2);
  }

 private:
  static constexpr std::size_t none = std::numeric_limits<std::size_t>::max();
  struct Cell {
    std::int64_t x, y;
  };
  struct Place {
    PlanPoint p;
    std::size_t what;
    Cell cell;
    std::size_t next;
  };
  /// Twice the reach wide, so that at most four are looked into.
  std::int64_t column(double v) const {
    constexpr double farthest = 4e18;
    return static_cast<std::int64_t>(std::clamp(std::floor(v / (2 * reach_)), -farthest, farthest));
  }
  static std::uint64_t hash(Cell c) {
    std::uint64_t mixed = static_cast<std::uint64_t>(c.x) * 0x9E3779B97F4A7C15U + static_cast<std::uint64_t>(c.y);
    mixed = (mixed ^ (mixed >> 32U)) * 0xD6E8FEB86659FD93U;
    return mixed ^ (mixed >> 32U);
  }
  double reach_;
  std::vector<std::size_t> first_;
  std::size_t mask_;
  std::vector<Place> places_;
};

double off_line(PlanPoint p, PlanPoint a, PlanPoint b) {
  const PlanPoint way = b - a;
  const double length2 = std::norm(way);
  const double part = length2 > 0 ? std::clamp(dot(p - a, way) / length2, 0.0, 1.0) : 0;
  return std::abs(p - (a + part * way));
}

/// Whether all points of one lie on the other.
bool lies_on(const DrawnContour& one, const DrawnContour& other, double within) {
  return std::all_of(one.points.begin(), one.points.end(), [&](PlanPoint p) {
    for (std::size_t i = 1; i < other.points.size(); ++i)
      if (off_line(p, other.points[i - 1], other.points[i]) <= within) return true;
    return false;
  });
}

/// The middle of all that is drawn of it, by length: the same for the same line, whichever way it is drawn.
PlanPoint centroid(const DrawnContour& c) {
  PlanPoint sum;
  double length = 0;
  for (std::size_t i = 1; i < c.points.size(); ++i) {
    const double part = std::abs(c.points[i] - c.points[i - 1]);
    sum += (c.points[i] + c.points[i - 1]) / 2.0 * part;
    length += part;
  }
  return length > 0 ? sum / length : c.points.front();
}

bool same_line(const DrawnContour& a, double a_length, const DrawnContour& b, double b_length, double within) {
  // Ends may each be off by it, and a chain of points by a little more.
  if (a.layer != b.layer || a.closed != b.closed || std::fabs(a_length - b_length) > 4 * within + 1e-4 * a_length)
    return false;
  if (!a.closed) {
    const bool ahead = std::abs(a.points.front() - b.points.front()) <= within &&
                       std::abs(a.points.back() - b.points.back()) <= within,
               back = std::abs(a.points.front() - b.points.back()) <= within &&
                      std::abs(a.points.back() - b.points.front()) <= within;
    if (!ahead && !back) return false;
  }
  if (a.points == b.points) return true;
  return lies_on(a, b, within) && lies_on(b, a, within);
}

std::size_t drop_doubles(std::vector<DrawnContour>& all, double within) {
  Net net(std::max(4 * within, 0.1), all.size());
  std::vector<double> lengths;
  std::vector<DrawnContour> kept;
  std::size_t dropped = 0;
  for (DrawnContour& c : all) {
    const double length = length_of(c);
    const PlanPoint middle = centroid(c);
    bool twin = false;
    net.near(middle, [&](std::size_t i, double) { twin = twin || same_line(c, length, kept[i], lengths[i], within); });
    if (twin) {
      ++dropped;
      continue;
    }
    net.add(middle, kept.size());
    lengths.push_back(length);
    kept.push_back(std::move(c));
  }
  all = std::move(kept);
  return dropped;
}

/// A straight line of two points that lies within another, longer one of its layer is drawn twice too.
std::size_t drop_parts(std::vector<DrawnContour>& all, double within) {
  struct Along {
    std::size_t contour;
    double from, to, off;
    std::int64_t direction;
  };
  std::unordered_map<std::size_t, std::vector<Along>> by_layer;
  constexpr double directions = 1e4;  // told apart in a radian
  for (std::size_t i = 0; i < all.size(); ++i) {
    if (all[i].points.size() != 2) continue;
    PlanPoint way = all[i].points[1] - all[i].points[0];
    if (way.imag() < 0 || (way.imag() == 0 && way.real() < 0)) way = -way;
    const PlanPoint unit = way / std::abs(way);
    const auto own_place = [&](PlanPoint p) { return std::conj(unit) * p; };
    const double a = own_place(all[i].points[0]).real(), b = own_place(all[i].points[1]).real();
    by_layer[all[i].layer].push_back({i, std::min(a, b), std::max(a, b), own_place(all[i].points[0]).imag(),
                                      std::llround(std::arg(unit) * directions)});
  }
  std::vector<bool> drop(all.size(), false);
  for (auto& [layer, lines] : by_layer) {
    std::sort(lines.begin(), lines.end(), [](const Along& a, const Along& b) {
      return std::tie(a.direction, a.off, a.contour) < std::tie(b.direction, b.off, b.contour);
    });
    for (auto from = lines.begin(); from != lines.end();) {
      // Those that lie along one line, from one end of it to the other.
      const auto to = std::find_if(from, lines.end(), [&](const Along& l) {
        return l.direction != from->direction || l.off - from->off > within;
      });
      std::sort(from, to, [](const Along& a, const Along& b) {
        return std::tie(a.from, b.to, a.contour) < std::tie(b.from, a.to, b.contour);
      });
      double reaches = -std::numeric_limits<double>::infinity();
      for (auto l = from; l != to; ++l) {
        if (l->to <= reaches + within)
          drop[l->contour] = true;
        else
          reaches = l->to;
      }
      from = to;
    }
  }
  std::size_t dropped = 0;
  std::vector<DrawnContour> kept;
  for (std::size_t i = 0; i < all.size(); ++i)
    if (drop[i])
      ++dropped;
    else
      kept.push_back(std::move(all[i]));
  all = std::move(kept);
  return dropped;
}

/// An end of an open contour: the first or the last of its points.
struct LooseEnd {
  std::size_t contour = 0;
  bool last = false;
};
PlanPoint place_of_end(const std::vector<DrawnContour>& all, const LooseEnd& e) {
  return e.last ? all[e.contour].points.back() : all[e.contour].points.front();
}

/// Of all open contours: ends 2k and 2k+1 are one contour's.
std::vector<LooseEnd> loose_ends(const std::vector<DrawnContour>& all) {
  std::vector<LooseEnd> ends;
  for (std::size_t i = 0; i < all.size(); ++i)
    if (!all[i].closed) {
      ends.push_back({i, false});
      ends.push_back({i, true});
    }
  return ends;
}

/// Pairs of ends that are each other's nearest come first: sorted by their gap, each end once.
std::vector<std::pair<std::size_t, std::size_t>> pairs_of(const std::vector<DrawnContour>& all,
                                                          const std::vector<LooseEnd>& ends, double within) {
  Net net(within, ends.size());
  for (std::size_t i = 0; i < ends.size(); ++i) net.add(place_of_end(all, ends[i]), i);
  struct Candidate {
    double gap;
    std::size_t a, b;
  };
  std::vector<Candidate> candidates;
  for (std::size_t i = 0; i < ends.size(); ++i)
    net.near(place_of_end(all, ends[i]), [&](std::size_t j, double gap2) {
      if (j <= i || all[ends[i].contour].layer != all[ends[j].contour].layer) return;
      const double gap = std::sqrt(gap2);
      // A short line's own two ends do not close it.
      if (ends[i].contour == ends[j].contour && length_of(all[ends[i].contour]) <= 3 * gap + within) return;
      if (gap <= within) candidates.push_back({gap, i, j});
    });
  std::sort(candidates.begin(), candidates.end(), [](const Candidate& a, const Candidate& b) {
    return std::tie(a.gap, a.a, a.b) < std::tie(b.gap, b.a, b.b);
  });
  std::vector<bool> taken(ends.size(), false);
  std::vector<std::pair<std::size_t, std::size_t>> pairs;
  for (const Candidate& c : candidates) {
    if (taken[c.a] || taken[c.b]) continue;
    taken[c.a] = taken[c.b] = true;
    pairs.emplace_back(c.a, c.b);
  }
  return pairs;
}

/// Whether anything was.
bool join(std::vector<DrawnContour>& all, double within, std::vector<JoinedEnds>& told) {
  const std::vector<LooseEnd> ends = loose_ends(all);
  if (ends.empty() || !(within > 0)) return false;
  // Which other end each is joined with.
  std::vector<std::size_t> partner(ends.size(), ends.size());
  const auto pairs = pairs_of(all, ends, within);
  if (pairs.empty()) return false;
  for (const auto& [a, b] : pairs) {
    partner[a] = b;
    partner[b] = a;
    const double gap = std::abs(place_of_end(all, ends[a]) - place_of_end(all, ends[b]));
    if (gap > rounding_mm)
      told.push_back(
          {(place_of_end(all, ends[a]) + place_of_end(all, ends[b])) / 2.0, gap, all[ends[a].contour].layer});
  }
  std::vector<bool> used(ends.size(), false);
  std::vector<std::pair<std::size_t, DrawnContour>> chains;  // by where the first of it stood
  const auto follow = [&](std::size_t from) {
    DrawnContour chain;
    chain.layer = all[ends[from].contour].layer;
    std::size_t first = all.size(), at = from;
    for (;;) {
      const std::size_t far = at ^ 1U;
      used[at] = used[far] = true;
      std::vector<PlanPoint> part = all[ends[at].contour].points;
      if (ends[at].last) std::reverse(part.begin(), part.end());
      if (ends[at].contour < first) {
        first = ends[at].contour;
        chain.source = all[first].source;
      }
      if (!chain.points.empty() && std::abs(chain.points.back() - part.front()) <= rounding_mm)
        chain.points.insert(chain.points.end(), part.begin() + 1, part.end());
      else
        chain.points.insert(chain.points.end(), part.begin(), part.end());
      const std::size_t next = partner[far];
      if (next == ends.size()) break;
      if (used[next]) {  // round again
        chain.closed = chain.points.size() > 2;
        if (!chain.closed) break;
        if (std::abs(chain.points.back() - chain.points.front()) <= rounding_mm)
          chain.points.back() = chain.points.front();
        else
          chain.points.push_back(chain.points.front());
        break;
      }
      at = next;
    }
    chains.emplace_back(first, std::move(chain));
  };
  for (std::size_t i = 0; i < ends.size(); ++i)
    if (!used[i] && partner[i] == ends.size()) follow(i);
  for (std::size_t i = 0; i < ends.size(); ++i)
    if (!used[i]) follow(i);
  for (std::size_t i = 0; i < all.size(); ++i)
    if (all[i].closed) chains.emplace_back(i, std::move(all[i]));
  std::sort(chains.begin(), chains.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
  all.clear();
  for (auto& [first, chain] : chains) all.push_back(std::move(chain));
  return true;
}

void find_open(const std::vector<DrawnContour>& all, std::vector<OpenEnd>& open) {
  const std::vector<LooseEnd> ends = loose_ends(all);
  for (const LooseEnd& e : ends)
    open.push_back({place_of_end(all, e), all[e.contour].layer, std::nullopt, false, all[e.contour].source});
  // In a crowded drawing most have another close by: those are not looked for far away.
  for (const double looked_for_mm : {2.0, 5.0}) {
    Net net(looked_for_mm, ends.size());
    for (std::size_t i = 0; i < ends.size(); ++i) net.add(open[i].at, i);
    for (std::size_t i = 0; i < ends.size(); ++i) {
      OpenEnd& end = open[i];
      if (end.gap) continue;
      net.near(end.at, [&](std::size_t j, double gap2) {
        if (j == i || (end.gap && gap2 >= *end.gap * *end.gap) || open[j].layer != end.layer) return;
        const double gap = std::sqrt(gap2);
        const bool own = ends[j].contour == ends[i].contour;
        if (own && length_of(all[ends[i].contour]) < much_longer * gap) return;  // a short line, meant so
        end.gap = gap;
        end.nearly_closed = own;
      });
    }
  }
}

}  // namespace

Mended mend(Drawing& drawing, const MendSetting& setting) {
  Mended m;
  std::erase_if(drawing.contours, [](const DrawnContour& c) { return !(length_of(c) > least_length_mm); });
  m.doubled = drop_doubles(drawing.contours, setting.doubled) + drop_parts(drawing.contours, setting.doubled);
  // Outlines that are whole only now may be drawn twice too.
  if (join(drawing.contours, setting.join, m.joined)) m.doubled += drop_doubles(drawing.contours, setting.doubled);
  find_open(drawing.contours, m.open);
  return m;
}

}  // namespace ypsi
