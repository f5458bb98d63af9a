#include "app/session/described_controllers.h"

#include <QCoreApplication>
#include <QDir>
#include <QFileInfo>
#include <QStandardPaths>
#include <algorithm>

#include "app/session/text_file.h"
#include "app/shipped.h"
#include "app/to_q.h"
#include "link/lines/can_do.h"

namespace ypsi::app {
namespace {

struct LineWords {
  Q_DECLARE_TR_FUNCTIONS(described)
};

QString left_undone(link::CanDo what) {
  using link::CanDo;
  switch (what) {
    case CanDo::tells_place:
      return LineWords::tr("It tells no place: where it stands is reckoned from what it took.");
    case CanDo::holds_on_path:
      return LineWords::tr("Hold ends what it has taken first.");
    case CanDo::ends_jogs:
      return LineWords::tr("Jogs go in short steps.");
    case CanDo::stops_by_line:
      return LineWords::tr("Only its own emergency stop stops it at once.");
    case CanDo::keeps_place:
      return LineWords::tr("After a stop it is homed anew.");
    case CanDo::has_limits:
      return LineWords::tr("It has no limits of its own: every block is checked before it is sent.");
    case CanDo::homes_by_line:
      return LineWords::tr("You home it, and say so on a card.");
    case CanDo::probes:
      return LineWords::tr("It does not probe.");
    case CanDo::takes_settings:
      return LineWords::tr("You set its settings; a card says which.");
    case CanDo::resumes_after_loss:
      return LineWords::tr("After a lost line a program begins again.");
  }
  return {};
}

constexpr QLatin1String file_ending(".controller.json");

QString own_folder() {
  return QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + QStringLiteral("/controllers");
}

QString path_of(const QString& id) {
  const QString own = own_folder() + "/" + id + file_ending;
  return QFileInfo::exists(own) ? own : shipped_folder(QStringLiteral("controllers")) + "/" + id + file_ending;
}

}  // namespace

std::vector<DescribedController> described_controllers() {
  std::vector<DescribedController> all;
  for (const bool own : {true, false}) {
    const QString folder = own ? own_folder() : shipped_folder(QStringLiteral("controllers"));
    if (folder.isEmpty()) continue;
    for (const QFileInfo& file : QDir(folder).entryInfoList({"*" + file_ending}, QDir::Files)) {
      const QString id = file.fileName().chopped(file_ending.size());
      if (std::any_of(all.begin(), all.end(), [&](const DescribedController& each) { return each.id == id; })) continue;
      const auto read = read_described(id);
      all.push_back({id, read ? to_q(read->name) : id, own});
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

Result<QString> keep_described(const link::ControllerDescription& description, const QString& was) {
  if (auto flaw = link::flaw_of(description)) return tl::make_unexpected(std::move(*flaw));
  QString id;
  for (const QChar c : to_q(description.name).toLower())
    if (c.isLetterOrNumber())
      id += c;
    else if (!id.isEmpty() && !id.endsWith('-'))
      id += '-';
  while (id.endsWith('-')) id.chop(1);
  if (id.isEmpty()) id = QStringLiteral("controller");
  const QString path = own_folder() + "/" + id + file_ending;
  if (id != was && QFileInfo::exists(path))
    return fail(
        "taken",
        LineWords::tr("There is a description of that name already. Give this one another name.").toStdString());
  QDir().mkpath(own_folder());
  if (auto written = write_file(path, link::write_controller(description)); !written)
    return tl::make_unexpected(written.error());
  return id;
}

QStringList what_its_line_leaves(const link::ControllerDescription& description) {
  QStringList sentences;
  for (const auto& [what, can] : link::what_it_can_do(description))
    if (!can) sentences << left_undone(what);
  return sentences;
}

}  // namespace ypsi::app
