#include "app/sheets/work_zero/places_page.h"

#include <QPainter>

#include "app/drawing/draft.h"
#include "app/session/book_editor.h"
#include "app/session/job_session.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/sheets/page_foot.h"
#include "app/sheets/sheet.h"
#include "app/to_q.h"
#include "app/widgets/plain_table.h"

namespace ypsi::app {

/// Plan of the travel with the stored places and the one that is typed.
class PlacesDrawing : public QWidget {
 public:
  PlacesDrawing(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
    setObjectName("places-drawing");
    setAccessibleName(PlacesPage::tr("Plan of the travel with the stored places"));
    setMinimumHeight(140);
  }
  void show(std::optional<QPointF> typed, int chosen) {
    typed_ = typed;
    chosen_ = chosen;
    update();
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    QPainter painter(this);
    Draft draft(painter);
    draft.text({8, 16}, PlacesPage::tr("Plan, machine positions"), theme().second_ink, 11);
    const auto x = session_.machine().room(Axis::x), y = session_.machine().room(Axis::y);
    const double scale = std::min((width() - 80) / x.size(), (height() - 56) / y.size());
    const QPointF c(width() / 2.0, height() / 2.0 + 8);
    const auto at = [&](double px, double py) {
      return c + QPointF((px - (x.low + x.high) / 2) * scale, -(py - (y.low + y.high) / 2) * scale);
    };
    draft.box(QRectF(at(x.low, y.high), at(x.high, y.low)), theme().red, theme().paper, 1, Qt::DashLine);
    const auto& places = session_.editor().book().places;
    for (std::size_t i = 0; i < places.size(); ++i) {
      const QPointF p = at(places[i].at.x, places[i].at.y);
      const bool chosen = static_cast<int>(i) == chosen_;
      painter.setPen(QPen(theme().ink, 1.4));
      painter.setBrush(chosen ? theme().teal : theme().sheet);
      painter.drawEllipse(p, 5, 5);
      painter.setBrush(Qt::NoBrush);
      const bool left = p.x() > width() - 120;
      draft.text(p + QPointF(left ? -9 : 9, i % 2 == 0 ? -8 : 16), to_q(places[i].name), theme().ink, 11, chosen,
                 left ? Qt::AlignRight : Qt::AlignLeft);
    }
    const auto& job = session_.editor().book().job;
    if (job.zero(Axis::x) && job.zero(Axis::y)) {
      const QPointF zero = at(*job.zero(Axis::x), *job.zero(Axis::y));
      draft.zero(zero);
      draft.text(zero + QPointF(6, 16), PlacesPage::tr("work zero"), theme().red, 11, true);
    }
    if (typed_) {
      const QPointF p = at(typed_->x(), typed_->y());
      draft.line(p - QPointF(9, 0), p + QPointF(9, 0), theme().teal, 2);
      draft.line(p - QPointF(0, 9), p + QPointF(0, 9), theme().teal, 2);
    }
  }

 private:
  Session& session_;
  std::optional<QPointF> typed_;
  int chosen_ = -1;
};

PlacesPage::PlacesPage(Session& session) : session_(session) {
  auto* inside = make_card_page(this);
  auto* card = inside->parentWidget();
  drawing_ = new PlacesDrawing(session, card);
  inside->addWidget(drawing_, 3);
  table_ = make_table("places-table", tr("Stored places"), {tr("Stored place"), "X", "Y", "Z"}, 0, 24, card);
  table_->setSelectionMode(QAbstractItemView::SingleSelection);
  inside->addWidget(table_, 2);
  PageFoot foot(inside, card);
  auto* typed = foot.settings();
  const char* const names[] = {"zero-number-x", "zero-number-y", "zero-number-z"};
  const QString whats[] = {tr("X of the place, machine position"), tr("Y of the place, machine position"),
                           tr("Z of the place, machine position; empty leaves Z zero as it is")};
  for (int i = 0; i < 3; ++i) {
    numbers_[i] = add_field(typed, names[i], QString(QChar("XYZ"[i])), whats[i], 3, session, card).field;
    numbers_[i]->set_clearable(true);
    numbers_[i]->setFixedWidth(108);
    connect(numbers_[i], &LengthField::committed, this, [this] { refresh_status(); });
    connect(numbers_[i], &LengthField::cleared, this, [this] { refresh_status(); });
    connect(numbers_[i], &LengthField::next_wanted, this, [this, i] { numbers_[(i + 1) % 3]->setFocus(); });
  }
  auto* acts = foot.acts();
  take_machine_ = add_act(acts, "place-take", tr("Take it from the machine"), tr("Where the tool is now"), card,
                          [this] { show_numbers(session_.machine().status().position, true); });
  middle_ = add_act(acts, "place-middle", tr("Middle of the bed"), tr("Half way between the limits of X and of Y"),
                    card, [this] {
                      const auto x = session_.machine().room(Axis::x), y = session_.machine().room(Axis::y);
                      show_numbers({(x.low + x.high) / 2, (y.low + y.high) / 2, 0}, false);
                    });
  set_ = add_act(
      acts, "zero-by-number", tr("Set zero there"), tr("Work zero of the axes that have a number"), card,
      [this] { set_zero(); }, true);
  go_ = add_act(acts, "place-go", tr("Lift, then go there"), tr("Z up to the safe height, then across; not down"), card,
                [this] { go_there(); });
  keep_ = add_act(acts, "place-keep", tr("Keep this place"), tr("Stores the numbers above under a name"), card,
                  [this] { keep_place(); });
  remove_ = add_act(acts, "place-remove", tr("Take it out"), tr("Takes the chosen place out"), card, [this] {
    if (const auto at = chosen())
      session_.editor().change_book(
          tr("Take a place out"), [&](Book& b) { b.places.erase(b.places.begin() + static_cast<std::ptrdiff_t>(*at)); },
          MachineFollows::no);
  });
  number_acts({take_machine_, middle_, set_, go_, keep_, remove_});
  hint_ = foot.hint("places-hint");
  connect(table_, &QTableWidget::currentCellChanged, this, [this] {
    if (showing_) return;
    if (const auto at = chosen()) show_numbers(session_.editor().book().places[*at].at, true);
  });
  connect(table_, &QTableWidget::cellChanged, this, [this](int row) {
    if (!showing_)
      QMetaObject::invokeMethod(
          this, [this, row] { take(row); }, Qt::QueuedConnection);
  });
}

QString PlacesPage::len(double mm, int decimals) const {
  return to_q(format_length(mm, session_.editor().unit(), decimals));
}

std::optional<std::size_t> PlacesPage::chosen() const {
  const int row = table_->currentRow();
  if (row < 0 || static_cast<std::size_t>(row) >= session_.editor().book().places.size()) return std::nullopt;
  return static_cast<std::size_t>(row);
}

void PlacesPage::take(int row) {
  const auto at = static_cast<std::size_t>(row);
  if (at >= session_.editor().book().places.size()) return;
  const std::string name = table_->item(row, 0)->text().trimmed().toStdString();
  if (name.empty() || name == session_.editor().book().places[at].name) return refresh();
  session_.editor().change_book(
      tr("Name a place"), [&](Book& b) { b.places[at].name = name; }, MachineFollows::no);
}

void PlacesPage::keep_place() {
  if (!numbers_[0]->value() || !numbers_[1]->value()) return;
  session_.editor().change_book(
      tr("Keep a place"),
      [&](Book& b) {
        Place place;
        place.name = tr("place %1").arg(b.places.size() + 1).toStdString();
        place.at = {*numbers_[0]->value(), *numbers_[1]->value(), numbers_[2]->value().value_or(b.machine.safe_height)};
        b.places.push_back(place);
      },
      MachineFollows::no);
  table_->setCurrentCell(table_->rowCount() - 1, 0);
  table_->editItem(table_->item(table_->rowCount() - 1, 0));
}

void PlacesPage::show_numbers(const MachinePosition& at, bool with_z) {
  numbers_[0]->show_value(at.x);
  numbers_[1]->show_value(at.y);
  numbers_[2]->show_value(with_z ? std::optional(at.z) : std::nullopt);
  refresh_status();
}

void PlacesPage::set_zero() {
  std::vector<std::pair<Axis, double>> zeros;
  for (const Axis a : all_axes) {
    const auto value = numbers_[index(a)]->value();
    if (!value) continue;
    const auto room = session_.machine().room(a);
    if (*value < room.low || *value > room.high) {
      session_.notices().notify({NoticeLevel::attention,
                                 tr("%1 at %2 is outside the machine's travel, %3 to %4. Nothing was set.")
                                     .arg(QChar(letter(a)))
                                     .arg(len(*value, 1), len(room.low, 1), len(room.high, 1)),
                                 {}});
      return;
    }
    zeros.emplace_back(a, *value);
  }
  const bool with_z = numbers_[2]->value().has_value();
  if (!zeros.empty() && session_.machine().set_work_zero_at(zeros, RecordJson::from_text("[]"), "by numbers"))
    session_.notices().notify(
        {NoticeLevel::good, with_z ? tr("Work zero is there, Z too.") : tr("Work zero is there; Z is as it was."), {}});
}

void PlacesPage::go_there() {
  if (numbers_[0]->value() && numbers_[1]->value())
    session_.job().lift_then_go_over({*numbers_[0]->value(), *numbers_[1]->value(), 0});
}

void PlacesPage::refresh() {
  showing_ = true;
  const int row = table_->currentRow();
  const auto& places = session_.editor().book().places;
  table_->setRowCount(static_cast<int>(places.size()));
  for (std::size_t i = 0; i < places.size(); ++i) {
    const Place& p = places[i];
    const QString cells[] = {p.carried_over ? tr("%1 ◐ carried over, go and see").arg(to_q(p.name)) : to_q(p.name),
                             len(p.at.x, 2), len(p.at.y, 2), len(p.at.z, 2)};
    for (int c = 0; c < 4; ++c) {
      auto* item = new QTableWidgetItem(cells[c]);
      if (c > 0 || p.carried_over) item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable);
      table_->setItem(static_cast<int>(i), c, item);
    }
  }
  if (row >= 0 && row < table_->rowCount()) table_->setCurrentCell(row, 0);
  showing_ = false;
  for (auto* f : numbers_) f->set_unit(session_.editor().unit());
  refresh_status();
}

void PlacesPage::refresh_status() {
  const bool place = numbers_[0]->value() && numbers_[1]->value();
  const bool any = numbers_[0]->value() || numbers_[1]->value() || numbers_[2]->value();
  const bool ready = session_.machine().standing_ready() && session_.machine().status().all_homed();
  take_machine_->setEnabled(session_.machine().status().all_homed());
  set_->setEnabled(ready && any);
  go_->setEnabled(ready && place);
  keep_->setEnabled(place);
  remove_->setEnabled(chosen().has_value());
  set_text(hint_,
           !session_.machine().status().all_homed()
               ? tr("Home the machine first (Ctrl+H): before that its positions mean nothing.")
               : tr("Type machine positions, or take them; an axis without a number keeps its zero. A place named "
                    "G28 or G30 is where a program goes by that word."));
  drawing_->show(place ? std::optional(QPointF(*numbers_[0]->value(), *numbers_[1]->value())) : std::nullopt,
                 table_->currentRow());
}

}  // namespace ypsi::app
