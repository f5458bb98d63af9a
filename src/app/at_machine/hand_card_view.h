#pragma once
// The card At the machine: what to do there, what is typed or carried, and what was seen.
#include <QFrame>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QPushButton>
#include <vector>

#include "app/at_machine/hand_words.h"
#include "app/session/session.h"
#include "app/widgets/field.h"

class QCheckBox;
class QMenu;

namespace ypsi::link {
class HandLink;
}

namespace ypsi::app {

class HandCardView : public QFrame {
  Q_OBJECT
 public:
  HandCardView(Session& session, QWidget* parent);
  /// Shows what is in hand; leaves what is being typed alone while it is the same card.
  void refresh();
  /// The card of the owner's own accord: where it stands, and what it shows.
  void show_whereabouts(bool shown);
  bool shows_whereabouts() const { return own_accord_; }

 signals:
  void answered();
  void put_off();

 private:
  struct SettingRow {
    link::SettingChange change;
    QCheckBox* taken = nullptr;
    QLineEdit* called = nullptr;
    LengthField* value = nullptr;  ///< of what is looked up
  };
  void make();
  void build_whereabouts();
  void build(const link::HandCard& card, bool same);
  void build_settings(const link::HandCard& card);
  void build_answers(const std::vector<CardAnswer>& answers);
  void give(const CardAnswer& answer);
  void give_whereabouts(link::HandAnswer::Word word);
  void keep_names();
  QString called_there(const std::string& setting) const;
  void to_stick();
  MachinePosition typed(const MachinePosition& otherwise) const;
  bool another_place(const link::HandCard& card) const;
  void say(const QString& sentence);
  link::HandLink* hands() const;

  Session& session_;
  /// What is on the screen; nothing of it is built again while it is the same.
  struct Shown {
    std::uint32_t number = 0;  ///< 0: no card
    bool started = false, held = false, hold_wanted = false, own_accord = false;
    bool operator==(const Shown&) const = default;
  };
  Shown shown_;
  bool own_accord_ = false;
  QLabel *count_, *title_, *text_, *question_, *said_;
  QPlainTextEdit* block_;
  QPushButton *copy_, *stick_;
  QWidget *block_row_, *place_row_, *settings_area_, *line_box_;
  QLineEdit* line_;
  QGridLayout* settings_grid_;
  std::array<QLabel*, axis_count> letters_{};
  std::array<LengthField*, axis_count> places_{};
  std::array<QPushButton*, 3> buttons_{};
  QPushButton* others_;
  QMenu* others_menu_;
  std::vector<SettingRow> rows_;
};

}  // namespace ypsi::app
