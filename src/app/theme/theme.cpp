#include "app/theme/theme.h"

#include <QApplication>
#include <QFontDatabase>

#include "app/theme/large.h"

namespace ypsi::app {
namespace {

const Theme day{"#EFEBE1", "#FBF9F3", "#1D2833", "#5A6570", "#D3CCBC", "#0D6769", "#925900", "#AE2F1B",
                "#E9D9B8", "#DCE9E6", "#B08C52", "#7C5A24", "#FFFFFF", "#FFFFFF", false};
const Theme night{"#141A20", "#1C242C", "#E8E4D8", "#A7B0B8", "#3A4550", "#5CC3BE", "#E0A44A", "#F0806C",
                  "#5C4E34", "#24403F", "#8A6C3C", "#C79B57", "#11161B", "#0E1418", true};
bool night_on = false;

void load(std::initializer_list<const char*> names) {
  for (const char* name : names)
    QFontDatabase::addApplicationFont(QStringLiteral(":/fonts/%1.ttf").arg(QLatin1String(name)));
}

/// Hinting these outlines takes a third of the window's start and does not show at these sizes.
QFont plain_font(const QString& family, int px, bool bold) {
  QFont f(family);
  f.setPixelSize(px);
  f.setBold(bold);
  f.setHintingPreference(QFont::PreferNoHinting);
  return f;
}

/// What a finger in a glove has to hit.
QString large_targets() {
  const int least = least_target_px();
  if (least == 0) return {};
  return QStringLiteral(
             "QMenuBar::item { padding: %2px 9px; } "
             "QMenu::item, QListWidget::item, QComboBox QAbstractItemView::item { min-height: %1px; } "
             "QScrollBar:vertical { width: 18px; } QScrollBar:horizontal { height: 18px; } "
             "QTableView QScrollBar:vertical { width: 9px; } "
             "QScrollBar::handle { border-radius: 6px; margin: 3px; min-height: %1px; min-width: %1px; }")
      .arg(least)
      .arg((least - 16) / 2);  // beside its text
}

}  // namespace

const Theme& theme() {
  return night_on ? night : day;
}
void set_night(bool on) {
  night_on = on;
}
bool is_night() {
  return night_on;
}

QFont text_font(int px, bool bold) {
  return plain_font(QStringLiteral("Ypsilograph B612"), px, bold);
}

QFont mono_font(int px, bool bold) {
  static const bool loaded = (load({"B612Mono-Regular", "B612Mono-Bold"}), true);  // few sheets need it
  Q_UNUSED(loaded);
  return plain_font(QStringLiteral("Ypsilograph B612 Mono"), px, bold);
}

void load_fonts() {
  load({"B612-Regular", "B612-Bold"});
  QApplication::setFont(text_font(13));
}

QString style_sheet() {
  const Theme& t = theme();
  QString css = QStringLiteral(R"(
* { color: @ink; }
QMainWindow, QDialog, QWidget#start-page, QWidget#machines { background: @paper; }
QMenuBar { background: transparent; } QMenuBar::item { padding: 5px 9px; background: transparent; border-radius: 3px; }
QMenuBar::item:selected { background: @soft; }
QMenu { background: @sheet; border: 1px solid @rule; padding: 4px; } QMenu::item { padding: 5px 26px 5px 20px; }
QMenu::item:selected { background: @soft; } QMenu::item:disabled { color: @second; } QMenu::separator { height: 1px; background: @rule; margin: 4px; }
QFrame#card, QFrame#finding { background: @sheet; border: 1px solid @rule; border-radius: 3px; }
QLabel[role="title"] { font-size: 20px; font-weight: bold; } QLabel[role="task"] { color: @second; }
QLabel[role="heading"] { color: @second; font-size: 11px; font-weight: bold; letter-spacing: 1px; }
QLabel[role="caption"] { color: @second; font-size: 12px; font-weight: bold; } QLabel[role="small"] { color: @second; font-size: 12px; }
QLabel[role="big"] { color: @teal; font-size: 32px; font-weight: bold; } QLabel[role="strong"] { font-size: 14px; font-weight: bold; }
QLabel[role="attention"] { color: @ochre; font-weight: bold; } QLabel[role="danger"] { color: @red; font-weight: bold; }
QPushButton { background: @field; border: 1px solid @second; border-radius: 4px; padding: 8px 12px; font-weight: bold; }
QPushButton:hover { border-color: @teal; } QPushButton:focus { border: 2px solid @teal; } QPushButton:pressed { background: @soft; }
QPushButton:disabled { color: @second; border-color: @rule; background: @sheet; }
QPushButton[act="main"] { background: @teal; color: @onact; border-color: @teal; } QPushButton[act="main"]:hover { border-color: @ink; }
QPushButton[act="main"]:focus { border: 2px solid @ink; } QPushButton[act="main"]:disabled { background: @rule; color: @second; border-color: @rule; }
QPushButton[chip="true"] { padding: 4px 0px; } QPushButton[chip="true"]:checked { background: @teal; color: @onact; border-color: @teal; }
QListWidget { background: @field; color: @ink; border: 1px solid @rule; border-radius: 3px; } QListWidget::item:selected { background: @soft; color: @ink; } QListWidget::indicator { border: 1px solid @second; background: @sheet; width: 12px; height: 12px; } QListWidget::indicator:checked { background: @teal; }
QLineEdit, QComboBox { background: @field; border: 1px solid @second; border-radius: 3px; padding: 3px 6px; selection-background-color: @teal; selection-color: @onact; }
QLineEdit:focus, QComboBox:focus { border: 2px solid @teal; } QLineEdit[wrong="true"] { border: 2px solid @red; }
QComboBox::drop-down { border: none; width: 22px; } QComboBox::down-arrow { image: url(:/down.png); width: 10px; height: 6px; }
QComboBox QAbstractItemView { background: @sheet; border: 1px solid @rule; selection-background-color: @soft; selection-color: @ink; }
QTableView { background: @sheet; border: none; gridline-color: transparent; selection-background-color: @soft; selection-color: @ink; alternate-background-color: @sheet; outline: none; }
QHeaderView::section { background: @sheet; color: @second; border: none; border-bottom: 1px solid @rule; padding: 4px 6px; font-size: 12px; font-weight: bold; text-align: left; }
QTableCornerButton::section { background: @sheet; border: none; }
QScrollBar:vertical { background: transparent; width: 9px; } QScrollBar::handle:vertical { background: @rule; border-radius: 4px; min-height: 24px; }
QScrollBar::add-line, QScrollBar::sub-line { height: 0; width: 0; } QScrollBar:horizontal { background: transparent; height: 9px; } QScrollBar::handle:horizontal { background: @rule; border-radius: 4px; }
QToolTip { background: @sheet; color: @ink; border: 1px solid @second; padding: 4px; }
QSlider::groove:horizontal { height: 8px; background: @soft; border: 1px solid @second; border-radius: 3px; }
QSlider::handle:horizontal { width: 20px; margin: -8px 0; border-radius: 11px; background: @field; border: 2px solid @teal; }
QFrame[role="rule"] { background: @rule; border: none; }
QFrame#notice { background: @sheet; border: 2px solid @ochre; border-radius: 4px; } QFrame#notice[level="danger"] { border-color: @red; } QFrame#notice[level="good"] { border-color: @teal; }
QPushButton[hold="true"] { color: @red; border: 3px solid @red; border-radius: 5px; font-size: 24px; font-weight: bold; background: @field; }
QPushButton[hold="true"]:pressed { background: @red; color: @onact; }
QFrame#tray { background: @soft; border-top: 1px solid @rule; } QFrame#tray QPushButton:checked, QPushButton#simulated:checked { background: @teal; color: @onact; border-color: @teal; }
QFrame#hand-card { background: @sheet; border: 2px solid @teal; border-radius: 4px; } QFrame#hand-strip { background: @soft; border: 1px solid @teal; border-radius: 3px; }
QLabel[role="hand-heading"] { color: @teal; font-size: 11px; font-weight: bold; letter-spacing: 1px; } QFrame#hand-strip QPushButton { padding: 2px 10px; } QFrame#hand-strip QPushButton[chip="true"] { padding: 2px 0px; }
QPlainTextEdit { background: @field; border: 1px solid @second; border-radius: 3px; font-family: "Ypsilograph B612 Mono"; font-size: 14px; font-weight: bold; padding: 2px 6px; }
QPushButton#simulated { color: @ochre; border-color: @ochre; }
QListWidget#connect-lines { background: @field; border: 1px solid @second; outline: none; } QListWidget#connect-lines::item { padding: 4px 10px; border-left: 4px solid transparent; } QListWidget#connect-lines::item:selected { background: @soft; color: @ink; border-left: 4px solid @teal; }
QFrame#jog-strip { background: @soft; border-top: 1px solid @rule; } QFrame#jog-strip:focus { border: 2px solid @teal; } QFrame#rail { background: @sheet; border-top: 2px solid @ink; }
QListWidget#staff { background: @paper; border: none; outline: none; } QScrollArea, QScrollArea > QWidget > QWidget { background: transparent; border: none; }
)");
  const std::pair<const char*, QColor> roles[] = {
      {"@second", t.second_ink}, {"@ink", t.ink},     {"@paper", t.paper}, {"@sheet", t.sheet},
      {"@rule", t.rule},         {"@teal", t.teal},   {"@ochre", t.ochre}, {"@red", t.red},
      {"@soft", t.teal_soft},    {"@field", t.field}, {"@onact", t.on_act}};
  for (const auto& [role, colour] : roles) css.replace(QLatin1String(role), colour.name());
  return css + large_targets();
}

}  // namespace ypsi::app
