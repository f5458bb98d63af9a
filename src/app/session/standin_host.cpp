#include "app/session/standin_host.h"

#include <QSaveFile>
#include <algorithm>

#include "app/session/book_store.h"

namespace ypsi::app {
namespace {
constexpr int tick_ms = 20;
constexpr double free_running_slice_s = 2.0;  // of the machine's time at once, so that the program can feed it
constexpr qint64 free_running_budget_ms = 12;
}  // namespace

Result<std::unique_ptr<StandInHost>> StandInHost::start(const QString& scenario_path, const QString& settings_path) {
  const auto text = read_file(scenario_path);
  if (!text) return tl::make_unexpected(text.error());
  auto scenario = standin::read_scenario(*text);
  if (!scenario) return tl::make_unexpected(scenario.error());
  return std::unique_ptr<StandInHost>(new StandInHost(std::move(*scenario), settings_path));
}

StandInHost::StandInHost(standin::Scenario scenario, QString settings_path)
    : machine_(std::make_unique<standin::StandIn>(std::move(scenario))), settings_path_(std::move(settings_path)) {
  if (const auto text = read_file(settings_path_)) {
    machine_->restore_settings(*text);
    saved_settings_ = *text;
  }
  timer_.setTimerType(Qt::PreciseTimer);
  connect(&timer_, &QTimer::timeout, this, &StandInHost::tick);
  timer_.start(tick_ms);
  elapsed_.start();
}

void StandInHost::tick() {
  const double passed = std::min(0.2, static_cast<double>(elapsed_.restart()) / 1000);
  if (speed_ > 0) {
    // In short slices, so that the program is fed in between and its look-ahead never runs dry.
    for (double left = passed * speed_; left > 0; left -= 0.1) {
      machine_->advance(std::min(left, 0.1));
      emit ticked();
    }
    return;
  }
  QElapsedTimer budget;
  budget.start();
  do {
    machine_->advance(free_running_slice_s / 20);
    emit ticked();
  } while (budget.elapsed() < free_running_budget_ms);
}

void StandInHost::save_settings() {
  const std::string text = machine_->settings();
  if (text == saved_settings_) return;
  QSaveFile file(settings_path_);
  if (file.open(QIODevice::WriteOnly) &&
      file.write(text.data(), static_cast<qint64>(text.size())) == static_cast<qint64>(text.size()) && file.commit())
    saved_settings_ = text;
}

}  // namespace ypsi::app
