#include "app/pad/pad_buttons.h"

#include <QCoreApplication>
#include <QSettings>

namespace ypsi::app {
namespace {

struct PadWords {
  Q_DECLARE_TR_FUNCTIONS(pad)
};
constexpr int no_button = -1;

struct Default {
  const char* key;
  PadAct act;
  int button;
};
constexpr Default defaults[] = {{"guard", PadAct::guard, 9},      {"hold", PadAct::hold, 1},
                                {"x_minus", PadAct::x_minus, 13}, {"x_plus", PadAct::x_plus, 14},
                                {"y_minus", PadAct::y_minus, 12}, {"y_plus", PadAct::y_plus, 11},
                                {"z_minus", PadAct::z_minus, 0},  {"z_plus", PadAct::z_plus, 3}};

QString key_of(const Default& each) {
  return QStringLiteral("pad/") + each.key;
}

}  // namespace

QString pad_act_words(PadAct act) {
  switch (act) {
    case PadAct::guard:
      return PadWords::tr("The guard, to be held");
    case PadAct::hold:
      return PadWords::tr("Hold");
    case PadAct::x_minus:
      return PadWords::tr("A step to X−");
    case PadAct::x_plus:
      return PadWords::tr("A step to X+");
    case PadAct::y_minus:
      return PadWords::tr("A step to Y−");
    case PadAct::y_plus:
      return PadWords::tr("A step to Y+");
    case PadAct::z_minus:
      return PadWords::tr("A step down");
    case PadAct::z_plus:
      return PadWords::tr("A step up");
  }
  return {};
}

std::optional<JogKey> step_of(PadAct act) {
  switch (act) {
    case PadAct::guard:
    case PadAct::hold:
      return std::nullopt;
    case PadAct::x_minus:
      return JogKey{Axis::x, -1};
    case PadAct::x_plus:
      return JogKey{Axis::x, 1};
    case PadAct::y_minus:
      return JogKey{Axis::y, -1};
    case PadAct::y_plus:
      return JogKey{Axis::y, 1};
    case PadAct::z_minus:
      return JogKey{Axis::z, -1};
    case PadAct::z_plus:
      return JogKey{Axis::z, 1};
  }
  return std::nullopt;
}

PadButtons PadButtons::kept() {
  PadButtons buttons;
  const QSettings settings;
  for (const Default& each : defaults) buttons.numbers_[each.act] = settings.value(key_of(each), each.button).toInt();
  if (buttons.numbers_[PadAct::hold] < 0) buttons.numbers_[PadAct::hold] = 1;
  return buttons;
}

void PadButtons::keep() const {
  QSettings settings;
  for (const Default& each : defaults) settings.setValue(key_of(each), numbers_.at(each.act));
}

bool PadButtons::assign(PadAct act, int button) {
  if (button < 0 && act == PadAct::hold) return false;
  for (auto& [other, number] : numbers_) {
    if (other == act || number != button || button < 0) continue;
    if (other == PadAct::hold) return false;
    number = no_button;
  }
  numbers_[act] = button;
  return true;
}

}  // namespace ypsi::app
