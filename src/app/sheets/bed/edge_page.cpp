#include "app/sheets/bed/edge_page.h"

#include <QButtonGroup>
#include <QKeyEvent>
#include <algorithm>
#include <cmath>

#include "app/drawing/draft.h"
#include "app/session/book_editor.h"
#include "app/session/entry_text.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/sheets/page_foot.h"
#include "app/to_q.h"
#include "app/widgets/plain_table.h"
#include "core/book/worksheets/bed.h"
#include "core/tasks/bed_spindle.h"

namespace ypsi::app {

EdgeDrawing::EdgeDrawing(QWidget* parent) : QWidget(parent) {
  setObjectName("edge-drawing");
  setAccessibleName(EdgePage::tr("Readings along the edge and the line through them"));
  setMinimumHeight(170);
}

void EdgeDrawing::show(const BedWorksheet& sheet, const std::optional<EdgeRun>& run, LengthUnit unit) {
  sheet_ = sheet;
  run_ = run;
  unit_ = unit;
  update();
}

void EdgeDrawing::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  Draft draft(painter);
  const QRectF r(70, 30, width() - 130.0, height() - 70.0);
  draft.text({8, 16}, EdgePage::tr("The edge from above, its lean drawn large"), theme().second_ink, 11);
  draft.line({r.left(), r.center().y()}, {r.right(), r.center().y()}, theme().second_ink, 1, Qt::DashLine);
  draft.text({r.right() + 6, r.center().y() + 4}, sheet_.edge_along_y ? "Y" : "X", theme().second_ink, 12, true);
  if (sheet_.edge.empty()) {
    draft.text(r.center() + QPointF(0, -14), EdgePage::tr("Positions and readings will stand here."),
               theme().second_ink, 12, false, Qt::AlignHCenter);
    return;
  }
  const auto ends = std::minmax_element(sheet_.edge.begin(), sheet_.edge.end(),
                                        [](const auto& a, const auto& b) { return a.position_mm < b.position_mm; });
  double middle = 0, reach = 0.02;
  for (const auto& p : sheet_.edge) middle += p.reading_mm / static_cast<double>(sheet_.edge.size());
  for (const auto& p : sheet_.edge) reach = std::max(reach, std::fabs(p.reading_mm - middle) * 1.15);
  const double span = std::max(1e-9, ends.second->position_mm - ends.first->position_mm);
  const auto at = [&](double position, double reading) {
    return QPointF(r.left() + (position - ends.first->position_mm) / span * r.width(),
                   r.center().y() - (reading - middle) / reach * r.height() / 2);
  };
  if (run_) {
    double mean_position = 0;
    for (const auto& p : sheet_.edge) mean_position += p.position_mm / static_cast<double>(sheet_.edge.size());
    const auto on_line = [&](double position) {
      return at(position, middle + run_->slope * (position - mean_position));
    };
    draft.line(on_line(ends.first->position_mm), on_line(ends.second->position_mm), theme().teal, 3);
    const QPointF end = on_line(ends.second->position_mm), true_end(end.x(), r.center().y());
    if (std::fabs(end.y() - true_end.y()) > 6) {
      draft.line(end + QPointF(16, 0), true_end + QPointF(16, 0), theme().red, 2);
      draft.arrow_head(true_end + QPointF(16, 0), true_end - end, theme().red, 9);
    }
  }
  for (const auto& p : sheet_.edge) {
    painter.setPen(QPen(theme().ink, 1.4));
    painter.setBrush(theme().teal);
    painter.drawEllipse(at(p.position_mm, p.reading_mm), 5, 5);
  }
  painter.setBrush(Qt::NoBrush);
  draft.text({r.left(), r.bottom() + 22}, to_q(format_length(ends.first->position_mm, unit_, 0)), theme().second_ink,
             11, false, Qt::AlignHCenter);
  draft.text({r.right(), r.bottom() + 22},
             to_q(format_length(ends.second->position_mm, unit_, 0) + " " + unit_name(unit_)), theme().second_ink, 11,
             false, Qt::AlignHCenter);
}

EdgePage::EdgePage(Session& session) : BedPage(session) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  auto* card = make_card(this);
  auto* inside = new QVBoxLayout(card);
  inside->setContentsMargins(14, 10, 14, 10);
  drawing_ = new EdgeDrawing(card);
  inside->addWidget(drawing_, 3);
  PageFoot foot(inside, card);
  auto *row = foot.settings(), *acts = foot.acts();
  auto* one_of = new QButtonGroup(this);  // the sheet's own chips are another group
  const auto chip = [&](const char* name, const QString& text, bool y) {
    auto* button = make_chip(name, text, tr("The edge lies along this axis"), card, one_of);
    connect(button, &QPushButton::clicked, this, [this, y] {
      change(tr("Choose the edge's axis"), [y](BedWorksheet& w) { w.edge_along_y = y; });
      refresh();
    });
    row->addWidget(button);
    return button;
  };
  along_x_ = chip("edge-along-x", tr("along X"), false);
  along_y_ = chip("edge-along-y", tr("along Y"), true);
  position_ =
      add_field(row, "edge-position", tr("At"), tr("Where along the edge, machine position"), 1, session, card).field;
  take_ =
      make_button("edge-take", tr("Take it from the machine"), tr("Where the axis stands now (Ctrl+Shift+M)"), card);
  take_->setShortcut(QKeySequence("Ctrl+Shift+M"));
  acts->addWidget(take_);
  reading_ = add_field(acts, "edge-reading", tr("reads"), tr("What the indicator says there"), 3, session, card).field;
  table_ = make_table("edge-readings", tr("Readings along the edge"), {tr("Position"), tr("Reading")}, -1, 24, card);
  table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
  table_->setToolTip(tr("Delete takes a reading out"));
  table_->installEventFilter(this);
  inside->addWidget(table_, 2);
  column->addWidget(card, 1);

  connect(take_, &QPushButton::clicked, this, [this] {
    position_->show_value(session_.machine().status().position[along()]);
    reading_->setFocus();
  });
  connect(position_, &LengthField::next_wanted, reading_, [this] { reading_->setFocus(); });
  connect(reading_, &LengthField::committed, this, [this](double reading) {
    if (!position_->value()) {
      session_.notices().notify({NoticeLevel::attention, tr("Say first where along the edge that was read."), {}});
      return;
    }
    const double at = *position_->value();
    change(tr("Add a reading of the edge"), [&](BedWorksheet& w) { w.edge.push_back({at, reading}); });
    position_->show_value(std::nullopt);
    reading_->show_value(std::nullopt);
    position_->setFocus();
    refresh();
  });
}

bool EdgePage::eventFilter(QObject* object, QEvent* event) {
  if (object == table_ && event->type() == QEvent::KeyPress &&
      static_cast<QKeyEvent*>(event)->key() == Qt::Key_Delete && table_->currentRow() >= 0) {
    const auto row = static_cast<std::size_t>(table_->currentRow());
    change(tr("Take a reading out"), [row](BedWorksheet& w) {
      if (row < w.edge.size()) w.edge.erase(w.edge.begin() + static_cast<std::ptrdiff_t>(row));
    });
    refresh();
    return true;
  }
  return BedPage::eventFilter(object, event);
}

std::optional<EdgeRun> EdgePage::run() const {
  std::vector<EdgeReading> readings;
  for (const auto& p : worksheet().edge) readings.push_back({p.position_mm, p.reading_mm});
  const auto found = run_edge(readings);
  return found ? std::optional(*found) : std::nullopt;
}

PageFinding EdgePage::finding() const {
  PageFinding f;
  const auto found = run();
  if (!found) {
    f.lead = tr("How an edge lies");
    f.text =
        tr("You need a dial indicator on the spindle and an edge that should lie along the axis: a fence, a vice, a "
           "stop. Carry the indicator along it and type what it says at two places or more, far apart.");
    return f;
  }
  f.lead = tr("The edge leans by");
  f.figure = tr("%1 per m").arg(len(std::fabs(found->mm_per_m), 2));
  f.spread = tr("%1 readings").arg(worksheet().edge.size());
  const QString how_far = len(std::fabs(found->tap_far_end), 3);
  const QString towards = along() == Axis::x ? found->tap_far_end > 0 ? tr("the front (−Y)") : tr("the back (+Y)")
                          : found->tap_far_end > 0 ? tr("the left (−X)")
                                                   : tr("the right (+X)");
  f.verdict = tr("Tap the far end %1 towards %2.").arg(how_far, towards);
  f.text =
      tr("With the indicator rising towards + of the other axis. Tap, tighten, carry it along once more: done when "
         "the reading stays.");
  f.keep = tr("Keep this finding");
  f.can_keep = true;
  return f;
}

void EdgePage::keep() {
  const auto found = run();
  if (!found) return;
  session_.editor().change_book(
      tr("Keep the edge"),
      [&](Book& b) {
        Entry e = entry(edge_subject);
        for (const auto& p : worksheet().edge)
          e.readings.push_back({{"position_mm", p.position_mm}, {"reading_mm", p.reading_mm}});
        e.result = result_of(EdgeEntry{found->mm_per_m, found->tap_far_end});
        b.history.push_back(std::move(e));
        b.worksheets[bed_worksheet].edge.clear();
      },
      MachineFollows::no);
}

void EdgePage::refresh() {
  const LengthUnit unit = session_.editor().unit();
  (worksheet().edge_along_y ? along_y_ : along_x_)->setChecked(true);
  for (auto* f : {position_, reading_}) f->set_unit(unit);
  const auto& all = worksheet().edge;
  table_->setRowCount(static_cast<int>(all.size()));
  for (std::size_t i = 0; i < all.size(); ++i) {
    table_->setItem(static_cast<int>(i), 0, new QTableWidgetItem(to_q(format_length(all[i].position_mm, unit, 1))));
    table_->setItem(static_cast<int>(i), 1, new QTableWidgetItem(to_q(format_length(all[i].reading_mm, unit, 3))));
  }
  drawing_->show(worksheet(), run(), unit);
  refresh_status();
  emit found();
}

void EdgePage::refresh_status() {
  take_->setEnabled(session_.machine().status().homed[index(along())]);
}

}  // namespace ypsi::app
