#include "app/session/lent_file.h"

#include <QFile>
#include <nlohmann/json.hpp>

#include "app/session/text_file.h"

namespace ypsi::app {

std::vector<LentSetting> LentFile::left(const Line& line) {
  std::vector<LentSetting> lent;
  const auto text = read_file(path_);
  if (!text) return lent;
  const auto in = nlohmann::json::parse(*text, nullptr, false);
  try {
    if (in.at("line") != line.to_text().toStdString()) return lent;
    for (const auto& each : in.at("lent")) lent.push_back({each.at("name"), each.at("found")});
  } catch (const nlohmann::json::exception&) {
    lent.clear();  // cut short: nothing in it can be relied on
  }
  kept_ = lent;
  return lent;
}

void LentFile::keep(const Line& line, const std::vector<LentSetting>& lent) {
  if (lent == kept_) return;
  kept_ = lent;
  if (lent.empty()) {
    QFile::remove(path_);
    return;
  }
  nlohmann::json out{{"line", line.to_text().toStdString()}, {"lent", nlohmann::json::array()}};
  for (const LentSetting& each : lent) out["lent"].push_back({{"name", each.name}, {"found", each.found}});
  (void)write_file(path_, out.dump() + "\n");  // on a full disk nothing is remembered, and nothing else is lost
}

}  // namespace ypsi::app
