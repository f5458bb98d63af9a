#include "core/calibration/periodic_error.h"

#include <cmath>
#include <map>
#include <numbers>
#include <utility>

#include "core/metrology/common_errors.h"
#include "core/metrology/readings_fit.h"

namespace ypsi {

Result<PeriodicError> evaluate_periodic(const std::vector<PeriodicReading>& readings, double period,
                                        const Instrument& instrument) {
  constexpr std::size_t fewest = 6;
  if (readings.size() < fewest) return fail("too_few", "Six readings over two turns are the least.", "readings");
  std::map<int, Eigen::Index> column;
  for (const PeriodicReading& r : readings) column.try_emplace(r.stroke, static_cast<Eigen::Index>(column.size()));
  const auto n = static_cast<Eigen::Index>(readings.size());
  const auto slope = static_cast<Eigen::Index>(column.size()), sine = slope + 1, cosine = slope + 2;
  ReadingsModel model{Eigen::MatrixXd::Zero(n, slope + 3),
                      Eigen::VectorXd(n),
                      Eigen::VectorXd::Constant(n, instrument.own_part_mm2()),
                      {},
                      {}};
  std::vector<std::pair<double, int>> place;
  for (Eigen::Index i = 0; i < n; ++i) {
    const auto& [at, reading, stroke] = readings[static_cast<std::size_t>(i)];
    const double angle = 2 * std::numbers::pi * at / period;
    model.design(i, column.at(stroke)) = 1;
    model.design(i, slope) = at;
    model.design(i, sine) = std::sin(angle);
    model.design(i, cosine) = std::cos(angle);
    model.observed(i) = reading;
    place.emplace_back(at, stroke);
  }
  model.common = common_errors(instrument, place, std::vector<double>(readings.size(), 0.0));
  const auto fit = fit_readings(model);
  if (!fit) return tl::make_unexpected(fit.error());
  if (fit->fit.rank < static_cast<int>(slope) + 3)
    return fail("degenerate",
                "These places cannot tell the slope from the periodic error; read at places a small part of a turn "
                "apart, over two turns at least.",
                "readings");
  const double p = fit->fit.parameters(sine), q = fit->fit.parameters(cosine);
  PeriodicError out;
  out.amplitude = std::hypot(p, q);
  out.phase = std::atan2(q, p);
  out.slope = fit->fit.parameters(slope);
  out.k = fit->coverage.k;
  out.dof = fit->coverage.dof;
  const Eigen::Vector2d along = out.amplitude > 0 ? Eigen::Vector2d(p, q) / out.amplitude : Eigen::Vector2d(1, 0);
  out.U = out.k * std::sqrt(std::max(0.0, along.dot(fit->fit.covariance.block<2, 2>(sine, sine) * along)));
  out.residuals.assign(fit->fit.residuals.begin(), fit->fit.residuals.end());
  return out;
}

double wave_at(const PeriodicError& error, double period, double at) {
  return error.amplitude * std::sin(2 * std::numbers::pi * at / period + error.phase);
}

}  // namespace ypsi
