#include "core/calibration/fence.h"

#include <cmath>

#include "core/metrology/common_errors.h"
#include "core/metrology/readings_fit.h"

namespace ypsi {

Result<FenceResult> evaluate_fence(const FenceTest& test, const Instrument& instrument) {
  if (test.measured.empty()) return fail("too_few", "Measure one piece at least.", "measured_mm");
  const auto n = static_cast<Eigen::Index>(test.measured.size());
  const std::vector<double> lengths(test.measured.size(), test.expected);
  const ReadingsModel model{Eigen::MatrixXd::Ones(n, 1),
                            Eigen::Map<const Eigen::VectorXd>(test.measured.data(), n),
                            Eigen::VectorXd::Constant(n, instrument.own_part_mm2()),
                            {},
                            common_errors(instrument, lengths, lengths)};
  const auto fit = fit_readings(model);
  if (!fit) return tl::make_unexpected(fit.error());
  FenceResult out;
  out.mean = fit->fit.parameters(0);
  out.U = fit->expanded(0);
  out.k = fit->coverage.k;
  const double off = out.mean - test.expected;
  out.done = std::fabs(off) <= out.U && out.U <= test.tolerance / 2;
  if (!out.done) out.correction = -(test.adds ? off : -off) / test.test;
  out.new_offset = test.offset + out.correction;
  return out;
}

}  // namespace ypsi
