#include "app/pad/keys_dialog.h"

#include <QHeaderView>
#include <QKeySequenceEdit>
#include <QVBoxLayout>

#include "app/pad/own_keys.h"
#include "app/sheets/sheet.h"

namespace ypsi::app {
namespace {
constexpr int keys_row = 32;

QTableWidget* make_table(const QString& name, const QString& what, const QStringList& heads, QWidget* parent) {
  auto* table = new QTableWidget(0, static_cast<int>(heads.size()), parent);
  table->setObjectName(name);
  table->setAccessibleName(what);
  table->setHorizontalHeaderLabels(heads);
  table->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
  table->verticalHeader()->hide();
  table->verticalHeader()->setDefaultSectionSize(keys_row);
  table->setSelectionMode(QAbstractItemView::NoSelection);
  table->setEditTriggers(QAbstractItemView::NoEditTriggers);
  return table;
}
}  // namespace

KeysDialog::KeysDialog(const QList<QAction*>& acts, JogPad& pad, QWidget* parent)
    : QDialog(parent), acts_(acts), pad_(pad) {
  setObjectName("keys-dialog");
  setAttribute(Qt::WA_DeleteOnClose);
  setWindowTitle(tr("Keys and pad"));
  resize(880, 600);
  auto* rows = new QVBoxLayout(this);
  rows->setContentsMargins(20, 16, 20, 16);
  rows->setSpacing(8);
  rows->addWidget(make_label("keys-title", "title", tr("Keys and pad"), this));
  auto* task =
      make_label("keys-task", "task",
                 tr("Give an act another key, or a button of the pad another act. Hold keeps Ctrl+Space, Pause "
                    "and a button of its own, whatever you choose."),
                 this);
  task->setWordWrap(true);
  rows->addWidget(task);
  auto* both = new QHBoxLayout;
  both->setSpacing(14);
  keys_ = make_table("keys-table", tr("Acts and their keys"), {tr("act"), tr("its key")}, this);
  both->addWidget(keys_, 3);
  auto* right = new QVBoxLayout;
  buttons_ = make_table("keys-pad-table", tr("What the pad's buttons do"), {tr("on the pad"), tr("its button")}, this);
  right->addWidget(buttons_, 1);
  pad_says_ = make_label("keys-pad-says", "small", "", this);
  pad_says_->setWordWrap(true);
  pad_says_->setMinimumHeight(keys_row);
  right->addWidget(pad_says_);
  both->addLayout(right, 3);
  rows->addLayout(both, 1);
  says_ = make_label("keys-says", "strong", "", this);
  says_->setWordWrap(true);
  says_->setMinimumHeight(keys_row);
  rows->addWidget(says_);
  auto* foot = new QHBoxLayout;
  add_act(foot, "keys-usual", tr("All as they were at first"), tr("Gives every act the key that it came with"), this,
          [this] {
            for (QAction* each : acts_) give_key(*each, usual_key(*each));
            show_keys();
          });
  foot->addStretch(1);
  add_act(foot, "keys-close", tr("Close"), tr("What was chosen holds at once (Escape)"), this, [this] { accept(); });
  rows->addLayout(foot);
  for (auto* each : findChildren<QPushButton*>()) each->setAutoDefault(false);
  connect(&pad_, &JogPad::looked, this, &KeysDialog::look);
  show_keys();
  show_pad();
}

void KeysDialog::show_keys() {
  keys_->setRowCount(static_cast<int>(acts_.size()));
  for (int row = 0; row < keys_->rowCount(); ++row) {
    QString words = acts_[row]->text();
    keys_->setItem(row, 0, new QTableWidgetItem(words.remove('&')));
    auto* edit = new QKeySequenceEdit(acts_[row]->shortcut(), keys_);
    edit->setObjectName("key-" + acts_[row]->objectName());
    edit->setAccessibleName(tr("Key of “%1”").arg(words));
    connect(edit, &QKeySequenceEdit::editingFinished, this, [this, row, edit] { key_typed(row, edit->keySequence()); });
    keys_->setCellWidget(row, 1, edit);
  }
}

void KeysDialog::key_typed(int row, const QKeySequence& key) {
  QAction* const act = acts_[row];
  if (key == act->shortcut()) return;
  auto* edit = qobject_cast<QKeySequenceEdit*>(keys_->cellWidget(row, 1));
  if (const KeyTaken other = taken(key, act, acts_)) {
    says_->setText(other.holds ? tr("That key is Hold's, and stays so.")
                               : tr("That key has “%1” already. Give that another one first.").arg(other.by->text()));
    edit->setKeySequence(act->shortcut());
    return;
  }
  give_key(*act, key);
  says_->setText(key.isEmpty() ? tr("“%1” has no key now.").arg(act->text())
                               : tr("“%1” has %2 now.").arg(act->text(), key.toString(QKeySequence::NativeText)));
}

void KeysDialog::show_pad() {
  const PadButtons kept = PadButtons::kept();
  buttons_->setRowCount(static_cast<int>(all_pad_acts.size()));
  for (int row = 0; row < buttons_->rowCount(); ++row) {
    const PadAct act = all_pad_acts[static_cast<std::size_t>(row)];
    buttons_->setItem(row, 0, new QTableWidgetItem(pad_act_words(act)));
    auto* button = make_button(QStringLiteral("pad-button-%1").arg(row),
                               waits_for_ == act  ? tr("press it on the pad…")
                               : kept.of(act) < 0 ? tr("none")
                                                  : tr("button %1").arg(kept.of(act)),
                               tr("Press this, then the button on the pad"), buttons_);
    button->setProperty("chip", true);
    button->setAutoDefault(false);
    connect(button, &QPushButton::clicked, this, [this, act] { wait_for_button(act); });
    buttons_->setCellWidget(row, 1, button);
  }
  look();
}

void KeysDialog::wait_for_button(PadAct act) {
  waits_for_ = act;
  if (!pad_.reading().there) says_->setText(tr("There is no pad. Plug one in."));
  show_pad();
}

/// What is pressed now, and whether it is what was waited for.
void KeysDialog::look() {
  const PadReading& now = pad_.reading();
  QStringList pressed;
  for (int i = 0; i < static_cast<int>(now.buttons.size()); ++i)
    if (now.pressed(i)) pressed << QString::number(i);
  set_text(pad_says_, !now.there        ? tr("No pad is plugged in.")
                      : pressed.empty() ? tr("%1: nothing is pressed.").arg(now.name)
                                        : tr("%1: pressed %2.").arg(now.name, pressed.join(QStringLiteral(", "))));
  if (!waits_for_ || pressed.size() != 1) return;
  const PadAct act = *std::exchange(waits_for_, std::nullopt);
  PadButtons kept = PadButtons::kept();
  if (kept.assign(act, pressed.front().toInt())) {
    kept.keep();
    pad_.take_buttons();
    says_->setText(tr("Button %1: %2.").arg(pressed.front(), pad_act_words(act)));
  } else {
    says_->setText(tr("That button is Hold's. Give Hold another one first."));
  }
  show_pad();
}

}  // namespace ypsi::app
