#include "app/sheets/beam_checks.h"

#include <QGridLayout>

#include "app/session/machine_session.h"
#include "app/sheets/sheet.h"

namespace ypsi::app {

BeamChecks::BeamChecks(Session& session, int columns, QWidget* parent) : QWidget(parent), session_(session) {
  setObjectName("beam-checks");
  auto* grid = new QGridLayout(this);
  grid->setContentsMargins(0, 0, 0, 0);
  grid->setSpacing(6);
  auto* what = make_label("beam-checks-what", "small", tr("Before the beam shines, see to each:"), this);
  what->setWordWrap(false);
  grid->addWidget(what, 0, 0, 1, columns);
  const struct {
    BeamPoint point;
    const char* name;
    QString words, tip;
  } all[] = {
      {BeamPoint::glasses, "beam-glasses", tr("Glasses on"), tr("Everybody who can see the beam wears glasses for it")},
      {BeamPoint::lid, "beam-lid", tr("Lid closed"), tr("Or whatever keeps the beam from leaving the machine")},
      {BeamPoint::extraction, "beam-extraction", tr("Fumes drawn off"), tr("The extraction runs, and leads outside")},
      {BeamPoint::fire, "beam-fire", tr("Extinguisher at hand"),
       tr("Something to put a fire out is within reach, and somebody stays with the machine")}};
  int at = 0;
  for (const auto& each : all) {
    auto* chip = make_chip(each.name, each.words, each.tip, this);
    chip->setAutoExclusive(false);
    connect(chip, &QPushButton::clicked, this,
            [this, point = each.point](bool on) { session_.machine().see_to(point, on); });
    grid->addWidget(chip, 1 + at / columns, at % columns);
    chips_.push_back(chip);
    ++at;
  }
  grid->setColumnStretch(columns, 1);
  refresh_status();
}

void BeamChecks::refresh_status() {
  for (std::size_t i = 0; i < chips_.size(); ++i) {
    const bool seen = session_.machine().beam_points().seen(all_beam_points[i]);
    chips_[i]->setChecked(seen);
    chips_[i]->setEnabled(session_.machine().up());
  }
}

}  // namespace ypsi::app
