#include "app/keys_list.h"

#include <QCoreApplication>
#include <QDialog>
#include <QHBoxLayout>
#include <QLabel>
#include <QVBoxLayout>

#include "app/pad/own_keys.h"
#include "app/sheets/sheet.h"

namespace ypsi::app {
namespace {

struct KeyWords {
  Q_DECLARE_TR_FUNCTIONS(KeyWords)
};

}  // namespace

void show_keys(const QList<QAction*>& acts, QWidget* parent) {
  auto* dialog = new QDialog(parent);
  dialog->setAttribute(Qt::WA_DeleteOnClose);
  dialog->setObjectName("keys");
  dialog->setWindowTitle(KeyWords::tr("Keys"));
  auto* layout = new QVBoxLayout(dialog);
  const std::pair<QString, QString> keys[] = {
      {"Ctrl+Space, Pause", KeyWords::tr("Hold")},
      {"F9", KeyWords::tr("Start")},
      {"F10", KeyWords::tr("Continue")},
      {"Ctrl+H", KeyWords::tr("Home")},
      {"Ctrl+J", KeyWords::tr("The jog strip: arrows move while it has the focus")},
      {"Alt+C, O, W", KeyWords::tr("Worked by hand: show the card, put it off, tell a place")},
      {KeyWords::tr("Enter on the plan"), KeyWords::tr("Arm the arrow keys; Escape disarms")},
      {KeyWords::tr("Arrows"), KeyWords::tr("Move X and Y by a step; held down: steadily")},
      {KeyWords::tr("Shift+↑ ↓"), KeyWords::tr("Move Z")},
      {"Ctrl+0", KeyWords::tr("Set zero here")},
      {"Ctrl+Shift+0", KeyWords::tr("Set Z for the tool that is in the spindle now")},
      {"Ctrl+1 to 9", KeyWords::tr("The acts of a page, in their order")},
      {"Ctrl+G", KeyWords::tr("Lift, then go to zero")},
      {"Ctrl+M", KeyWords::tr("Move and mark; arrive; put the marks down; make the test cut")},
      {"Ctrl+K", KeyWords::tr("Check the probe's circuit")},
      {"Ctrl+B", KeyWords::tr("Touch the edge here")},
      {"Ctrl+E", KeyWords::tr("Let the axis go to its end")},
      {"Ctrl+, and Ctrl+.", KeyWords::tr("One slow step back, one out")},
      {"Ctrl+Shift+M", KeyWords::tr("Take it from the machine; one more mark here")},
      {"Ctrl+Shift+C", KeyWords::tr("Write a corrected copy; turn the program")},
      {"Ctrl+D", KeyWords::tr("Add a distance")},
      {"Ctrl+Shift+N", KeyWords::tr("Add a size of the part")},
      {"Alt+1, 2", KeyWords::tr("A page of the certificate")},
      {"Ctrl+Shift+E", KeyWords::tr("Over other edges")},
      {"Ctrl+R", KeyWords::tr("Read the stand-in's instrument")},
      {"Ctrl+Return", KeyWords::tr("Apply; keep what was found")},
      {"Alt+X, Y, Z", KeyWords::tr("Choose the axis")},
      {"Ctrl+O", KeyWords::tr("Open a program")},
      {"Ctrl+Shift+B", KeyWords::tr("Open a book")},
      {"Ctrl+Shift+O", KeyWords::tr("Another machine")},
      {"Ctrl+Z, Ctrl+Shift+Z", KeyWords::tr("Undo, redo")},
      {"Ctrl+PgUp, PgDown", KeyWords::tr("The sheet before, the next sheet")},
      {"Ctrl+L", KeyWords::tr("Connect to a machine")},
      {"Ctrl+T", KeyWords::tr("The simulated machine's tray")},
      {"Ctrl+N", KeyWords::tr("Night theme")},
      {"Ctrl++, Ctrl+-", KeyWords::tr("Everything larger, smaller")},
      {"F11", KeyWords::tr("Positions only; Escape leaves them")},
      {"F1", KeyWords::tr("This list")},
      {KeyWords::tr("Edit › Keys and pad…"), KeyWords::tr("Give acts other keys, and the jog pad's buttons")}};
  for (const auto& [key, what] : keys) {
    auto* row = new QHBoxLayout;
    QString shown = key;
    for (const QAction* each : acts)
      if (usual_key(*each).toString() == key) shown = each->shortcut().toString();
    auto* k = make_label("key", "strong", shown, dialog);
    k->setFixedWidth(180);
    row->addWidget(k);
    row->addWidget(make_label("what", "task", what, dialog), 1);
    layout->addLayout(row);
  }
  dialog->resize(520, 480);
  dialog->show();
}

}  // namespace ypsi::app
