#include "app/sheets/work_zero/touching_page.h"

#include "app/sheets/references/circuit_words.h"

namespace ypsi::app {
namespace {
constexpr int edge_touches = 3;
}

RecordJson trigger_readings(const std::vector<double>& triggers, Axis axis) {
  RecordJson all = RecordJson::from_text("[]");
  for (const double t : triggers) all.push_back({{"axis", std::string(1, letter(axis))}, {"trigger_mm", t}});
  return all;
}

double known_plate(Session& session) {
  const auto& plates = session.book().plates;
  if (!plates.empty() && plates.front().thickness > 0) return plates.front().thickness;
  session.notify(
      {NoticeLevel::attention,
       TouchingPage::tr("The book has no touch plate yet: nobody knows how thick it is."),
       {{TouchingPage::tr("Go to the touch plate"), [&session] { emit session.sheet_wanted("touch_plate"); }}}});
  return 0;
}

void TouchingPage::touch(Axis axis, bool towards_plus) {
  if (!session_.link()) return;
  if (touch_.running()) return touch_.cancel();
  if (!circuit_works()) {
    session_.ask(circuit_.start(*session_.link()));
    return refresh_status();
  }
  const MachinePosition& at = session_.status().position;
  place_ = {{at.x, at.y}, axis, towards_plus, {}};
  TouchWay way;
  way.axis = axis;
  way.towards_plus = towards_plus;
  way.touches = edge_touches;
  session_.ask(touch_.start(*session_.link(), way));
  refresh_status();
}

void TouchingPage::cancel() {
  circuit_.forget();
  touch_.cancel();
}

bool TouchingPage::can_touch() const {
  return touch_.running() || (session_.standing_ready() && session_.status().all_homed() && !circuit_.waiting());
}

QString TouchingPage::asked(const QString& otherwise) const {
  if (touch_.running()) return tr("It touches; keep a finger on Hold.");
  if (const QString words = circuit_words(circuit_.stage()); !words.isEmpty()) return words;
  if (!session_.status().all_homed()) return tr("Home the machine first (Ctrl+H).");
  return circuit_works() ? otherwise : tr("First the circuit: plate and tool touched by hand.");
}

void TouchingPage::refresh_status() {
  circuit_.tick(session_.status());
  const auto before = touch_.stage();
  touch_.tick();
  if (touch_.stage() == before) return;
  if (touch_.stage() == Touch::Stage::done) {
    place_.across = touch_.triggers();
    touched(place_);
  } else if (touch_.stage() == Touch::Stage::failed) {
    session_.notify({NoticeLevel::attention, to_q(touch_.error().message), {}});
    circuit_.forget();
  }
}

}  // namespace ypsi::app
