#include "app/sheets/work_zero/touching_page.h"

#include "app/session/book_editor.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/sheets/references/circuit_words.h"
#include "core/tasks/touch_plate.h"

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
  const auto& plates = session.editor().book().plates;
  if (!plates.empty() && plates.front().thickness > 0) return plates.front().thickness;
  session.notices().notify(
      {NoticeLevel::attention,
       TouchingPage::tr("The book has no touch plate yet: nobody knows how thick it is."),
       {{TouchingPage::tr("Go to the touch plate"), [&session] { session.notices().lead_to(touch_plate_id); }}}});
  return 0;
}

TouchingPage::TouchingPage(Session& session) : session_(session) {
  connect(&session_.machine(), &MachineSession::procedure_ended, this, [this](const Procedure* p) {
    if (p != touch_.get()) return;
    if (touch_->phase() != Procedure::Phase::done) return refresh_status();
    place_.across = touch_->triggers();
    touched(place_);
  });
}

bool TouchingPage::circuit_works() const {
  return session_.machine().circuit().works();
}

void TouchingPage::touch(Axis axis, bool towards_plus) {
  if (touch_->running()) return session_.machine().end_procedure();
  if (!circuit_works()) {
    session_.machine().check_circuit();
    return refresh_status();
  }
  const MachinePosition& at = session_.machine().status().position;
  place_ = {{at.x, at.y}, axis, towards_plus, {}};
  TouchWay way;
  way.axis = axis;
  way.towards_plus = towards_plus;
  way.touches = edge_touches;
  session_.machine().start(touch_, way);
  refresh_status();
}

void TouchingPage::cancel() {
  if (touch_->running()) session_.machine().end_procedure();
  session_.machine().forget_circuit();
}

bool TouchingPage::can_touch() const {
  return touch_->running() || (session_.machine().standing_ready() && session_.machine().status().all_homed() &&
                               !session_.machine().circuit().waiting());
}

QString TouchingPage::asked(const QString& otherwise) const {
  if (touch_->running()) return tr("It touches; keep a finger on Hold.");
  if (const QString words = circuit_words(session_.machine().circuit().stage()); !words.isEmpty()) return words;
  if (!session_.machine().status().all_homed()) return tr("Home the machine first (Ctrl+H).");
  return circuit_works() ? otherwise : tr("First the circuit: plate and tool touched by hand.");
}

}  // namespace ypsi::app
