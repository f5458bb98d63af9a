#include "app/sheets/work_zero/height_page.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/drawing/draft.h"
#include "app/session/book_editor.h"
#include "app/session/job_session.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/sheets/page_foot.h"
#include "core/book/tool_change.h"
#include "core/metrology/spread.h"
#include "core/tasks/work_zero.h"

namespace ypsi::app {

/// Front elevation: the plate on the stock and beside it on the bed, and what was found of either.
class HeightDrawing : public QWidget {
 public:
  explicit HeightDrawing(QWidget* parent) : QWidget(parent) {
    setObjectName("height-drawing");
    setAccessibleName(HeightPage::tr("The stock's top and the bed, touched through the plate"));
    setMinimumHeight(156);
  }
  struct Shown {
    std::optional<QString> top, bed, between;
    bool zero_known = false, zero_on_bed = false, spot = false;
  };
  void show(Shown shown, LengthField* thickness) {
    shown_ = std::move(shown);
    field_ = thickness;
    place();
    update();
  }

 protected:
  void resizeEvent(QResizeEvent*) override { place(); }
  void paintEvent(QPaintEvent*) override {
    QPainter painter(this);
    Draft draft(painter);
    draft.text({8, 16}, HeightPage::tr("Front elevation"), theme().second_ink, 11);
    const double top = top_y(), bed = bed_y(), left = 40, right = stock_right();
    const QRectF stock(left, top, right - left, bed - top), under(16, bed, width() - 32.0, 12);
    draft.box(under, theme().ink, theme().paper, 1.4);
    draft.hatch(under, theme().second_ink, 8);
    draft.box(stock, theme().ink, theme().stock, 1.4);
    draft.hatch(stock, theme().rule);
    draft.text({left + 10, bed - 10}, HeightPage::tr("stock"), theme().ink, 11);
    draft.text({width() - 24.0, bed + 28}, HeightPage::tr("bed"), theme().second_ink, 11, false, Qt::AlignRight);
    const auto plate = [&](double x, double y, const std::optional<QString>& found, bool words_left) {
      draft.box(QRectF(x - 34, y - 14, 68, 14), theme().ink, found ? theme().teal : theme().teal_soft, 1.4);
      draft.tool_elevation({x, y - 18}, 12, 34, 24);
      if (found)
        draft.text({words_left ? x + 34 : x + 42, words_left ? y - 78 : y - 8}, *found, theme().teal, 12, true,
                   words_left ? Qt::AlignRight : Qt::AlignLeft);
    };
    plate(left + (right - left) * 0.3, top, shown_.top, false);
    plate(right + (width() - right) * 0.7, bed, shown_.bed, true);
    // The dimension between the two, which carries a field.
    const double x = right + 10;
    draft.line({x, top}, {x, bed}, theme().second_ink);
    draft.arrow_head({x, top}, {0, -1}, theme().second_ink);
    draft.arrow_head({x, bed}, {0, 1}, theme().second_ink);
    if (shown_.between)
      draft.text({right - 10, (top + bed) / 2 + 4}, *shown_.between, theme().ink, 12, true, Qt::AlignRight);
    if (shown_.zero_known) {
      const double y = shown_.zero_on_bed ? bed : top;
      draft.line({left - 16, y}, {right + 6, y}, theme().red, 1.4, Qt::DashLine);
      draft.text({left - 22, y - 5}, HeightPage::tr("Z 0"), theme().red, 11, true);
    }
    if (shown_.spot) {
      draft.line({left + 26, top - 9}, {left + 26, top}, theme().red, 2);
      draft.text({left + 12, top - 14}, HeightPage::tr("spot"), theme().red, 11);
    }
  }

 private:
  double bed_y() const { return height() - 40.0; }
  double top_y() const { return bed_y() - std::clamp(height() * 0.32, 60.0, 130.0); }
  double stock_right() const { return width() * 0.56; }
  void place() {
    if (field_)
      field_->move(static_cast<int>(stock_right()) + 18,
                   static_cast<int>(std::clamp((top_y() + bed_y()) / 2 - 34, 0.0, std::max(0.0, bed_y() - 86))));
  }
  Shown shown_;
  LengthField* field_ = nullptr;
};

HeightPage::HeightPage(Session& session) : TouchingPage(session) {
  auto* inside = make_card_page(this);
  auto* card = inside->parentWidget();
  drawing_ = new HeightDrawing(card);
  thickness_ = new LengthField("height-thickness", tr("Thickness of the stock, as it should be"), drawing_);
  thickness_->setFixedWidth(92);
  inside->addWidget(drawing_, 1);
  result_ = make_label("height-result", "strong", "", card);
  words_ = make_label("height-words", "task", "", card);
  inside->addWidget(result_);
  inside->addWidget(words_);
  PageFoot foot(inside, card);
  auto* acts = foot.acts();
  top_button_ = add_act(acts, "touch-stock-top", tr("Touch the top"), tr("The plate lies on the stock, under the tool"),
                        card, [this] { touch_surface(false); });
  bed_button_ = add_act(acts, "touch-bed", tr("Touch the bed"), tr("The plate lies on the bed, beside the stock"), card,
                        [this] { touch_surface(true); });
  auto* surface = add_act(acts, "height-surface", tr("The whole surface…"),
                          tr("The top touched on a grid, and the program that follows it"), card,
                          [this] { session_.notices().lead_to(QString(work_zero_id) + "#surface"); });
  zero_top_ = add_act(
      acts, "zero-on-top", tr("Zero on the top"), tr("Z zero is the stock's top"), card, [this] { set_zero(false); },
      true);
  zero_bed_ = add_act(acts, "zero-on-bed", tr("Zero on the bed"), tr("Z zero is what the stock lies on"), card,
                      [this] { set_zero(true); });
  mark_ = add_act(acts, "mark-spot", tr("Mark the zero spot"),
                  tr("Every tool is zeroed on this spot of the stock where there is no setter"), card,
                  [this] { mark_spot(); });
  go_ = add_act(acts, "go-to-spot", tr("Go over the spot"), tr("Z up to the safe height, then across"), card, [this] {
    if (const auto& spot = session_.editor().book().job.zero_spot)
      session_.job().lift_then_go_over({spot->x_mm, spot->y_mm, 0});
  });
  from_spot_ = add_act(acts, "zero-from-spot", tr("Zero from the spot"),
                       tr("Z alone, for the tool that touched the spot now"), card, [this] { zero_from_spot(); });
  number_acts({top_button_, bed_button_, zero_top_, zero_bed_, mark_, go_, from_spot_, surface});
  spot_ = foot.hint("spot-words");
  hint_ = foot.hint("height-hint");
  connect(thickness_, &LengthField::committed, this, [this](double mm) {
    if (!(mm > 0)) {
      session_.notices().notify({NoticeLevel::attention, tr("A stock's thickness must be above zero."), {}});
      return refresh();
    }
    session_.editor().change_book(tr("Change the stock"), [&](Book& b) { b.job.stock_size[2] = mm; });
  });
  connect(thickness_, &LengthField::refused, this, [this](const QString& why) {
    session_.notices().notify({NoticeLevel::attention, why, {}});
  });
}

void HeightPage::touch_surface(bool bed) {
  if (!(known_plate(session_) > 0)) return;
  touching_bed_ = bed;
  touch(Axis::z, false);
}

void HeightPage::touched(const Touched& place) {
  const double plate = known_plate(session_);
  (touching_bed_ ? bed_ : top_) = {place.at, mean(place.across) - plate, plate, session_.machine().status().tool,
                                   place.across};
  refresh();
}

std::optional<double> HeightPage::zero_on(bool bed, bool* carried) const {
  const auto& own = bed ? bed_ : top_;
  const auto& other = bed ? top_ : bed_;
  if (carried) *carried = !own;
  const Job& job = session_.editor().book().job;
  const auto& from = own ? own : other;
  if (!from || (!own && !(job.stock_size[2] > 0))) return std::nullopt;
  return touch_plate(mean(from->triggers), from->plate, own ? !bed : bed, bed, job.stock_size[2] + job.sheet_mm)
      .work_zero_z;
}

void HeightPage::set_zero(bool on_bed) {
  bool carried = false;
  const auto z = zero_on(on_bed, &carried);
  if (!z) return;
  const Surface& from = on_bed == carried ? *top_ : *bed_;
  if (!session_.machine().set_work_zero_at({{Axis::z, *z}}, trigger_readings(from.triggers, Axis::z), "touch plate",
                                           on_bed))
    return;
  session_.notices().notify(
      {NoticeLevel::good,
       (on_bed ? tr("Z zero is the bed. %1 Take plate and clip away.")
               : tr("Z zero is the stock's top. %1 Take plate and clip away."))
           .arg(carried ? tr("It was carried over by the stock's thickness.") : tr("It was touched.")),
       {}});
}

void HeightPage::mark_spot() {
  if (!top_ || !session_.editor().book().job.zero(Axis::z)) return;
  const double height = spot_height(mean(top_->triggers), top_->plate, *session_.editor().book().job.zero(Axis::z));
  session_.editor().change_book(tr("Mark the zero spot"), [&](Book& b) {
    b.job.zero_spot = ZeroSpot{top_->at.x, top_->at.y, height};
  });
}

void HeightPage::zero_from_spot() {
  const auto& spot = session_.editor().book().job.zero_spot;
  if (!spot || !top_) return;
  const double z = zero_by_spot(mean(top_->triggers), top_->plate, *spot);
  if (session_.machine().set_work_zero_at({{Axis::z, z}}, trigger_readings(top_->triggers, Axis::z), "zero spot"))
    session_.notices().notify(
        {NoticeLevel::good,
         tr("Z zero is set anew for T%1 by the spot; X and Y are as they were. Take plate and clip away.")
             .arg(top_->tool),
         {}});
}

void HeightPage::refresh() {
  const Job& job = session_.editor().book().job;
  const double nominal = job.stock_size[2];
  thickness_->set_unit(session_.editor().unit());
  thickness_->show_value(nominal > 0 ? std::optional(nominal) : std::nullopt);
  // What was touched with another tool tells nothing of this one.
  for (auto* surface : {&top_, &bed_})
    if (*surface && (*surface)->tool != session_.machine().status().tool) surface->reset();
  HeightDrawing::Shown shown;
  if (top_) shown.top = session_.editor().length(top_->z, 3);
  if (bed_) shown.bed = session_.editor().length(bed_->z, 3);
  if (top_ && bed_) shown.between = session_.editor().length(top_->z - bed_->z - job.sheet_mm, 2);
  shown.zero_known = job.zero(Axis::z).has_value();
  shown.zero_on_bed = job.used().on_bed;
  shown.spot = job.zero_spot.has_value();
  drawing_->show(shown, thickness_);
  QString words;
  if (top_ && bed_) {
    const double found = top_->z - bed_->z - job.sheet_mm, off = found - nominal;
    result_->setText(tr("The stock is %1 thick where it was touched").arg(session_.editor().length(found, 2)));
    words = !(nominal > 0) ? tr("Its thickness is not in the book; type it on the drawing to compare.")
            : std::fabs(off) < 0.1
                ? tr("● That is the %1 it should have, to within %2.")
                      .arg(session_.editor().length(nominal, 2), session_.editor().length(std::fabs(off), 2))
                : tr("◐ It should be %1: it is %2 %3. Zero it where the depth matters: on the top for engraving, on "
                     "the bed for cutting through.")
                      .arg(session_.editor().length(nominal, 2), session_.editor().length(std::fabs(off), 2),
                           off > 0 ? tr("thicker") : tr("thinner"));
  } else if (top_ || bed_) {
    result_->setText((top_ ? tr("The top is at %1, machine") : tr("The bed is at %1, machine"))
                         .arg(session_.editor().length(top_ ? top_->z : bed_->z, 3)));
    words = nominal > 0 ? tr("The other is told by the stock's %1, as you typed it. Touch it too to compare.")
                              .arg(session_.editor().length(nominal, 2))
                        : tr("Touch the other too, or type the stock's thickness on the drawing.");
  } else {
    result_->setText(tr("Touch the stock's top, the bed, or both"));
    words = tr("Both touched, the stock's real thickness shows, and zero goes to the one that your program expects.");
  }
  words_->setText(words);
  if (const auto& spot = job.zero_spot)
    spot_->setText(tr("Zero spot: X %1  Y %2, machine; %3 above work zero. Touch the top there with the next tool.")
                       .arg(session_.editor().length(spot->x_mm, 1), session_.editor().length(spot->y_mm, 1),
                            session_.editor().length(spot->height_mm, 3)));
  else
    spot_->setText(
        tr("No zero spot yet. Touch the top at a place that the program leaves alone, set zero, then mark it: the next "
           "tools are zeroed there."));
  refresh_status();
}

void HeightPage::refresh_status() {
  const Job& job = session_.editor().book().job;
  set_text(hint_, asked(tr("● The circuit works. Lay the plate under the tool, less than 10 mm below it.")));
  const bool ready = session_.machine().standing_ready() && session_.machine().status().all_homed() && !touching();
  for (auto* b : {top_button_, bed_button_}) b->setEnabled(can_touch());
  zero_top_->setEnabled(ready && zero_on(false));
  zero_bed_->setEnabled(ready && zero_on(true));
  mark_->setEnabled(ready && top_ && job.zero(Axis::z));
  go_->setEnabled(ready && job.zero_spot);
  from_spot_->setEnabled(ready && job.zero_spot && top_ &&
                         std::hypot(top_->at.x - job.zero_spot->x_mm, top_->at.y - job.zero_spot->y_mm) < 2);
}

}  // namespace ypsi::app
