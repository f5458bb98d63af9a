#include "app/describe/settings_page.h"

#include <QHeaderView>
#include <QVBoxLayout>
#include <algorithm>

#include "app/session/setting_words.h"
#include "app/sheets/sheet.h"
#include "app/theme/theme.h"
#include "app/to_q.h"

namespace ypsi::app {
namespace {
enum Column { what_column, asked_column, set_column, called_column, told_column, setting_columns };
constexpr double answer_within_s = 1, answer_after_s = 0.15;
constexpr int highest_step = 1000, usual_step = 10, what_width = 150;
constexpr const char* of_axis[] = {"steps_per_mm",       "max_rate_mm_min", "accel_mm_s2", "soft_min_mm", "soft_max_mm",
                                   "home_coordinate_mm", "home_at_max",     "pull_off_mm", "reversed"};
}  // namespace

SettingsPage::SettingsPage(link::ControllerDescription& draft, QWidget* parent) : QWidget(parent), draft_(draft) {
  for (const Axis axis : all_axes)
    for (const char* each : of_axis) names_.push_back(axis_setting(axis, each));
  for (int frame = 0; frame < static_cast<int>(work_frame_count); ++frame)
    for (const Axis axis : all_axes) names_.push_back(work_zero_setting(frame, axis));
  names_.emplace_back("work.frame");
  for (const auto& [name, setting] : draft.settings)
    if (std::find(names_.begin(), names_.end(), name) == names_.end()) names_.push_back(name);
  auto* rows = new QVBoxLayout(this);
  rows->setContentsMargins(0, 0, 0, 0);
  table_ = new QTableWidget(static_cast<int>(names_.size()), setting_columns, this);
  table_->setObjectName("describe-settings");
  table_->setAccessibleName(tr("Settings, a row each"));
  table_->setHorizontalHeaderLabels({tr("setting"), tr("asked by"), tr("set by"), tr("called"), tr("told")});
  table_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
  table_->horizontalHeader()->setSectionResizeMode(what_column, QHeaderView::Fixed);
  table_->setColumnWidth(what_column, what_width);
  table_->verticalHeader()->hide();
  rows->addWidget(table_, 1);
  auto* row = new QHBoxLayout;
  auto* word = make_label("describe-step-word", "small", tr("Y's numbers are higher than X's by"), this);
  word->setWordWrap(false);
  row->addWidget(word);
  step_ = new QSpinBox(this);
  step_->setObjectName("describe-step");
  step_->setAccessibleName(tr("How much higher the numbers of Y's settings are than those of X's"));
  step_->setRange(0, highest_step);
  step_->setValue(usual_step);
  row->addWidget(step_);
  row->addStretch();
  add_act(row, "describe-for-yz", tr("Say X's for Y and Z too"),
          tr("Writes what is said for X with Y's and Z's letter, or with higher numbers; what they have is kept"), this,
          [this] {
            link::say_for_other_axes(draft_, step_->value());
            show_draft();
            emit this->changed();
          });
  rows->addLayout(row);
  connect(table_, &QTableWidget::cellChanged, this, [this](int at) {
    if (!showing_) take_row(at);
  });
  show_draft();
}

void SettingsPage::show_draft() {
  showing_ = true;
  for (int row = 0; row < table_->rowCount(); ++row) {
    const std::string& name = names_[static_cast<std::size_t>(row)];
    const auto found = draft_.settings.find(name);
    const link::DescribedSetting setting = found == draft_.settings.end() ? link::DescribedSetting{} : found->second;
    const std::pair<Column, QString> cells[] = {{what_column, setting_words(name)},
                                                {asked_column, to_q(setting.get.block)},
                                                {set_column, to_q(setting.set)},
                                                {called_column, to_q(setting.called)}};
    for (const auto& [column, text] : cells) {
      auto* item = new QTableWidgetItem(text);
      if (column == what_column)
        item->setFlags(Qt::ItemIsEnabled);
      else
        item->setFont(mono_font(12));
      item->setToolTip(column == what_column ? tr("%1 (%2)").arg(text, to_q(name)) : text);
      table_->setItem(row, column, item);
    }
    auto* value = new QTableWidgetItem;
    value->setFlags(Qt::ItemIsEnabled);
    table_->setItem(row, told_column, value);
  }
  showing_ = false;
}

void SettingsPage::take_row(int row) {
  const std::string& name = names_[static_cast<std::size_t>(row)];
  const auto text = [&](Column column) { return table_->item(row, column)->text().trimmed().toStdString(); };
  link::DescribedSetting setting;
  if (const auto found = draft_.settings.find(name); found != draft_.settings.end()) setting = found->second;
  if (setting.get.block != text(asked_column)) setting.answer.clear();  // what came back was of another line
  setting.get.block = text(asked_column);
  setting.set = text(set_column);
  setting.called = text(called_column);
  if (setting.get.block.empty() && setting.set.empty() && setting.called.empty())
    draft_.settings.erase(name);
  else
    draft_.settings[name] = setting;
  emit changed();
}

void SettingsPage::show_told(const std::map<std::string, double>& all) {
  showing_ = true;
  for (int row = 0; row < table_->rowCount(); ++row)
    if (const auto found = all.find(names_[static_cast<std::size_t>(row)]); found != all.end())
      table_->item(row, told_column)->setText(QString::number(found->second));
  showing_ = false;
}

void SettingsPage::ask_all(link::DescribingBench* bench) {
  bench_ = bench;
  to_ask_.clear();
  asked_at_s_ = -1;
  for (const auto& [name, setting] : draft_.settings)
    if (setting.get.said() && setting.answer.empty()) to_ask_.push_back(name);
}

bool SettingsPage::go_on(double now_s) {
  if (!bench_) return false;
  if (asked_at_s_ >= 0) {
    if (now_s - asked_at_s_ < answer_after_s) return false;
    bool learned = false;
    for (const std::string& line : bench_->came_since_said())
      learned = learned || bench_->learn_setting(to_ask_.back(), line).has_value();
    if (!learned && now_s - asked_at_s_ < answer_within_s) return false;
    to_ask_.pop_back();
    asked_at_s_ = -1;
  }
  if (to_ask_.empty()) {
    bench_ = nullptr;
    emit changed();
    return true;
  }
  asked_at_s_ = now_s;
  if (!bench_->say(draft_.settings.at(to_ask_.back()).get.block)) bench_ = nullptr;
  return false;
}

}  // namespace ypsi::app
