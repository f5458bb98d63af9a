#include "app/pad/own_keys.h"

#include <QSettings>

namespace ypsi::app {
namespace {

constexpr const char* usual_kept_as = "usual-key";

QString kept_as(const QAction& act) {
  return QStringLiteral("keys/") + act.objectName();
}

}  // namespace

QList<QAction*> acts_with_keys(const QList<QAction*>& all) {
  QList<QAction*> acts;
  for (QAction* each : all)
    if (!each->objectName().isEmpty() && !each->text().isEmpty() && each->objectName() != QLatin1String("hold") &&
        each->objectName() != QLatin1String("continue"))
      acts << each;
  return acts;
}

void take_own_keys(const QList<QAction*>& acts) {
  const QSettings settings;
  for (QAction* each : acts) {
    each->setProperty(usual_kept_as, each->shortcut());
    const QVariant kept = settings.value(kept_as(*each));
    if (kept.isValid()) each->setShortcut(QKeySequence(kept.toString(), QKeySequence::PortableText));
  }
}

QKeySequence usual_key(const QAction& act) {
  return act.property(usual_kept_as).value<QKeySequence>();
}

KeyTaken taken(const QKeySequence& key, const QAction* but, const QList<QAction*>& acts) {
  if (key.isEmpty()) return {};
  for (const QKeySequence& holds : {QKeySequence("Ctrl+Space"), QKeySequence("Pause")})
    if (key.matches(holds) != QKeySequence::NoMatch || holds.matches(key) != QKeySequence::NoMatch)
      return {true, nullptr};
  for (QAction* each : acts)
    if (each != but && each->shortcut() == key) return {false, each};
  return {};
}

void give_key(QAction& act, const QKeySequence& key) {
  act.setShortcut(key);
  QSettings settings;
  if (key == usual_key(act))
    settings.remove(kept_as(act));
  else
    settings.setValue(kept_as(act), key.toString(QKeySequence::PortableText));
}

}  // namespace ypsi::app
