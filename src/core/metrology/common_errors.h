#pragma once
#include <Eigen/Core>
#include <cmath>
#include <map>
#include <vector>

#include "core/metrology/instrument.h"

namespace ypsi {

/// What readings made with one instrument have in common, as columns of one standard uncertainty each: the rounding
/// that repeats, for those whose `distance` is the same; the calibration; and the relative calibration along `lengths`,
/// mm (handbook of the trade, 4). n rows; parts that are nothing are left out.
template <class Key>
Eigen::MatrixXd common_errors(const Instrument& instrument, const std::vector<Key>& distance,
                              const std::vector<double>& lengths) {
  const auto n = static_cast<Eigen::Index>(distance.size());
  const double repeating = std::sqrt(instrument.repeating_part_mm2());
  std::vector<Eigen::VectorXd> columns;
  if (repeating > 0) {
    std::map<Key, std::size_t> column;
    for (Eigen::Index i = 0; i < n; ++i) {
      const auto [at, is_new] = column.try_emplace(distance[static_cast<std::size_t>(i)], columns.size());
      if (is_new) columns.emplace_back(Eigen::VectorXd::Zero(n));
      columns[at->second](i) = repeating;
    }
  }
  if (instrument.u_cal_mm > 0) columns.emplace_back(Eigen::VectorXd::Constant(n, instrument.u_cal_mm));
  if (instrument.u_rel > 0)
    columns.emplace_back(instrument.u_rel * Eigen::Map<const Eigen::VectorXd>(lengths.data(), n));
  Eigen::MatrixXd out(n, static_cast<Eigen::Index>(columns.size()));
  for (std::size_t c = 0; c < columns.size(); ++c) out.col(static_cast<Eigen::Index>(c)) = columns[c];
  return out;
}

}  // namespace ypsi
