#include "app/sheets/program/layer_more.h"

#include <QLabel>
#include <algorithm>

#include "app/session/book_editor.h"
#include "app/session/notices.h"
#include "app/session/session.h"
#include "app/to_q.h"
#include "app/widgets/wrapped_row.h"

namespace ypsi::app {

LayerMore::LayerMore(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
  setObjectName("layer-more");
  auto* row = new WrappedRow;
  row->setContentsMargins(0, 0, 0, 0);
  setLayout(row);
  layer_ = make_label("layer-more-name", "strong", "", this);
  row->addWidget(layer_);
  constexpr int count_px = 46, number_px = 82;
  tabs_ = add_field(row, "layer-tabs", tr("Tabs"), tr("How many each closed line leaves; none: 0"), 0, session, this);
  tabs_.field->set_unit(LengthUnit::none);
  tabs_.field->setFixedWidth(count_px);
  connect(tabs_.field, &LengthField::committed, this, [this](double n) {
    take([&](LayerAct& a) {
      a.tabs = static_cast<int>(std::clamp(n, 0.0, 100.0));
      if (a.tabs > 0 && !(a.tab_mm > 0)) a.tab_mm = 6;
    });
  });
  const struct {
    const char* name;
    QString word, what;
    double LayerAct::*value;
    bool hatch, mm, by_z_alone;
  } all[] = {
      {"layer-tab-mm", tr("long"), tr("How long each tab stays, beside the cutter's width"), &LayerAct::tab_mm, false,
       true, false},
      {"layer-tab-high", tr("high"), tr("How much of the depth stays there; empty: all of it"), &LayerAct::tab_high_mm,
       false, true, true},
      {"layer-lead-in", tr("Lead-in"), tr("The way into a closed line from the waste; empty: straight down on it"),
       &LayerAct::lead_in_mm, false, true, false},
      {"layer-hatch-mm", tr("Lines apart"), tr("Empty: by the tool's width, so that no ridge is left"),
       &LayerAct::hatch_mm, true, true, false},
      {"layer-hatch-deg", tr("at °"), tr("Counter-clockwise from +X"), &LayerAct::hatch_deg, true, false, false}};
  for (const auto& f : all) {
    const WordedField worded = add_field(row, f.name, f.word, f.what, 2, session, this);
    worded.field->setFixedWidth(number_px);
    worded.field->set_clearable(true);
    if (!f.mm) worded.field->set_unit(LengthUnit::none);
    const auto put = [this, value = f.value, any = !f.mm](double v) {
      if (v < 0 && !any) {
        session_.notices().notify({NoticeLevel::attention, tr("It must not be below zero; it was left as it is."), {}});
        return show_act(act_, by_z_);
      }
      take([&](LayerAct& a) { a.*value = v; });
    };
    connect(worded.field, &LengthField::committed, this, put);
    connect(worded.field, &LengthField::cleared, this, [put] { put(0); });
    numbers_.push_back({worded, f.value, f.hatch, f.mm, f.by_z_alone});
  }
  one_way_ = new QCheckBox(tr("one way"), this);
  one_way_->setObjectName("layer-one-way");
  one_way_->setToolTip(tr("Every line towards the same side"));
  bare_ = new QCheckBox(tr("no outline"), this);
  bare_->setObjectName("layer-bare");
  bare_->setToolTip(tr("The lines alone; else the outline is gone round too"));
  row->addWidget(one_way_);
  row->addWidget(bare_);
  connect(one_way_, &QCheckBox::clicked, this, [this](bool on) { take([&](LayerAct& a) { a.hatch_one_way = on; }); });
  connect(bare_, &QCheckBox::clicked, this, [this](bool on) { take([&](LayerAct& a) { a.hatch_bare = on; }); });
  hide();
}

void LayerMore::take(const std::function<void(LayerAct&)>& how) {
  if (!act_) return;
  LayerAct act = *act_;
  how(act);
  if (act != *act_) emit changed(act);
}

void LayerMore::show_act(const std::optional<LayerAct>& act, bool by_z) {
  act_ = act;
  by_z_ = by_z;
  const bool hatched = act && act->act == DrawnAct::hatch;
  const bool cut =
      act && (act->act == DrawnAct::on_line || act->act == DrawnAct::outside || act->act == DrawnAct::inside);
  setVisible(hatched || cut);
  if (!hatched && !cut) return;
  set_text(layer_, to_q(act->layer) + ":");
  tabs_.set_visible(cut);
  tabs_.field->show_value(act->tabs);
  const LengthUnit unit = session_.editor().unit();
  for (const Number& n : numbers_) {
    const bool of_tab = n.value == &LayerAct::tab_mm || n.value == &LayerAct::tab_high_mm;
    n.worded.set_visible(n.hatch == hatched && (!of_tab || act->tabs > 0) && (!n.by_z_alone || by_z));
    if (n.mm) n.worded.field->set_unit(unit);
    const double value = (*act).*(n.value);
    n.worded.field->show_value(value != 0 || !n.mm ? std::optional(value) : std::nullopt);
  }
  one_way_->setVisible(hatched);
  bare_->setVisible(hatched);
  one_way_->setChecked(act->hatch_one_way);
  bare_->setChecked(act->hatch_bare);
  const bool writable = !session_.editor().read_only();
  for (QWidget* w : findChildren<QWidget*>()) w->setEnabled(writable || qobject_cast<QLabel*>(w));
  updateGeometry();  // what was hidden before it was shown takes no room
}

}  // namespace ypsi::app
