#include "app/session/described_controllers.h"

#include <QDir>
#include <QFileInfo>
#include <QRegularExpression>
#include <QStandardPaths>
#include <algorithm>

#include "app/session/text_file.h"
#include "app/shipped.h"
#include "app/to_q.h"

namespace ypsi::app {
namespace {

constexpr QLatin1String ending(".controller.json");

QString path_of(const QString& id) {
  const QString own = own_controllers_folder() + "/" + id + ending;
  return QFileInfo::exists(own) ? own : shipped_folder(QStringLiteral("controllers")) + "/" + id + ending;
}

}  // namespace

QString own_controllers_folder() {
  return QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + QStringLiteral("/controllers");
}

std::vector<DescribedController> described_controllers() {
  std::vector<DescribedController> all;
  for (const bool own : {true, false}) {
    const QString folder = own ? own_controllers_folder() : shipped_folder(QStringLiteral("controllers"));
    if (folder.isEmpty()) continue;
    for (const QFileInfo& file : QDir(folder).entryInfoList({"*" + ending}, QDir::Files)) {
      const QString id = file.fileName().chopped(ending.size());
      if (std::any_of(all.begin(), all.end(), [&](const DescribedController& each) { return each.id == id; })) continue;
      if (const auto read = read_described(id)) all.push_back({id, to_q(read->name), own});
    }
  }
  std::sort(all.begin(), all.end(), [](const auto& a, const auto& b) { return a.name < b.name; });
  return all;
}

Result<link::ControllerDescription> read_described(const QString& id) {
  const auto text = read_file(path_of(id));
  if (!text) return tl::make_unexpected(text.error());
  return link::read_controller(*text);
}

Result<QString> keep_described(const link::ControllerDescription& description) {
  QString id = to_q(description.name).toLower();
  id.replace(QRegularExpression(QStringLiteral("[^a-z0-9]+")), QStringLiteral("-"));
  if (id.isEmpty() || id == "-") id = QStringLiteral("controller");
  const QString folder = own_controllers_folder();
  if (!QDir().mkpath(folder))
    return fail("unwritable", "The folder “" + folder.toStdString() + "” cannot be made; see who may write there.");
  if (auto ok = write_file(folder + "/" + id + ending, link::write_controller(description)); !ok)
    return tl::make_unexpected(ok.error());
  return id;
}

}  // namespace ypsi::app
