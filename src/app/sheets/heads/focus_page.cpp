#include "app/sheets/heads/focus_page.h"

#include <qcustomplot.h>

#include <QVBoxLayout>
#include <algorithm>

#include "app/drawing/plot_look.h"
#include "app/session/book_editor.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/sheets/page_foot.h"
#include "app/sheets/sheet.h"
#include "app/to_q.h"
#include "app/widgets/plain_table.h"
#include "core/book/worksheets/heads.h"
#include "core/tasks/heads.h"

namespace ypsi::app {

FocusPage::FocusPage(Session& session) : FindingPage(session) {
  auto* column = make_card_page(this);
  QWidget* card = column->parentWidget();
  column->addWidget(
      make_label("focus-caption", "caption", tr("Width of the burnt lines over the head's height"), card));
  plot_ = new QCustomPlot(card);
  plot_->setObjectName("focus-plot");
  plot_->setAccessibleName(tr("Width of the burnt lines over the head's height"));
  plot_->setMinimumHeight(150);
  column->addWidget(plot_, 5);
  table_ = make_table("focus-lines", tr("Heights and widths"), {tr("machine Z"), tr("width")}, -1, 24, card);
  table_->setSelectionMode(QAbstractItemView::SingleSelection);
  column->addWidget(table_, 4);
  PageFoot foot(column, card);
  auto *settings = foot.settings(), *acts = foot.acts();
  sure_ = add_field(settings, "focus-sure", tr("Widths are read to ±"), tr("Standard uncertainty of a width"), 3,
                    session, card)
              .field;
  take_ = add_act(acts, "focus-take", tr("Take the height"), tr("A line at the height at which Z stands now"), card,
                  [this] {
                    const double z = session_.machine().status().position.z;
                    change(tr("Take a height"), [z](HeadsWorksheet& s) { s.focus.push_back({z, 0}); });
                  });
  add_ = add_act(acts, "focus-add", tr("Add a line"), tr("One more line, to type its height and width"), card,
                 [this] { change(tr("Add a line"), [](HeadsWorksheet& s) { s.focus.push_back({}); }); });
  out_ = add_act(acts, "focus-out", tr("Take it out"), tr("Takes the chosen line out"), card, [this] {
    const auto row = static_cast<std::ptrdiff_t>(table_->currentRow());
    change(tr("Take a line out"), [row](HeadsWorksheet& s) {
      if (row >= 0 && row < std::ssize(s.focus)) s.focus.erase(s.focus.begin() + row);
    });
  });
  number_acts({take_, add_, out_});
  hint_ = foot.hint("focus-hint");
  connect(sure_, &LengthField::committed, this, [this](double mm) {
    if (mm > 0) return change(tr("Say how well widths are read"), [mm](HeadsWorksheet& s) { s.u_width_mm = mm; });
    session_.notices().notify({NoticeLevel::attention, tr("That must be above zero; it was left as it is."), {}});
    refresh();
  });
  connect(table_, &QTableWidget::cellChanged, this, [this](int row, int at) {
    if (!showing_)
      QMetaObject::invokeMethod(
          this, [this, row, at] { take_cell(row, at); }, Qt::QueuedConnection);
  });
}

void FocusPage::change(const QString& text, const std::function<void(HeadsWorksheet&)>& how) {
  session_.editor().change_book(
      text, [&](Book& b) { how(b.worksheets[heads_worksheet]); }, MachineFollows::no);
}

void FocusPage::take_cell(int row, int at) {
  const QTableWidgetItem* item = table_->item(row, at);
  if (!item) return;
  const auto mm = length_in(*item, session_);
  if (!mm) return refresh();
  if (!*mm || (at == 1 && **mm < 0)) {
    session_.notices().notify(
        {NoticeLevel::attention, tr("A line has a height, and a width above zero. It was left as it is."), {}});
    return refresh();
  }
  change(tr("Type a line"), [&](HeadsWorksheet& s) {
    const auto i = static_cast<std::size_t>(row);
    if (i >= s.focus.size()) return;
    if (at == 0)
      s.focus[i].z_mm = **mm;
    else
      s.focus[i].width_mm = **mm;
  });
}

PageFinding FocusPage::finding() const {
  const Book& book = session_.editor().book();
  PageFinding f;
  const auto at = chosen_head(book);
  if (!at) return f;
  const Head& head = book.machine.heads[*at];
  f.lead = tr("The %1 is narrowest at").arg(to_q(head.name));
  f.text =
      tr("Burn short lines at heights well to both sides of where it looks best, and measure their widths. Repeat "
         "around what comes out until it is the middle of your heights.");
  const auto found = evaluate_focus(book);
  if (!found) {
    if (head.focus_z_mm) {
      f.figure = tr("Z %1").arg(session_.editor().length(*head.focus_z_mm, 2));
      f.spread = tr("±%1, in the book").arg(session_.editor().length(head.U_focus_mm.value_or(0), 2));
    } else {
      f.verdict = tr("○ Not measured yet");
    }
    return f;
  }
  if (found->z) {
    f.figure = tr("Z %1").arg(session_.editor().length(*found->z, 2));
    f.spread = tr("±%1").arg(session_.editor().length(found->U.value_or(0), 2));
  }
  switch (found->verdict) {
    case FocusVerdict::ok:
      f.verdict = tr("● It lies in the middle of your heights");
      f.can_keep = true;
      break;
    case FocusVerdict::recentre:
      f.verdict = tr("◐ It lies to one side of your heights");
      f.text = tr("Burn another row around Z %1, as far to both sides.")
                   .arg(session_.editor().length(found->z.value_or(0), 1));
      break;
    case FocusVerdict::no_minimum:
      f.verdict = tr("◐ The widths do not turn");
      f.text = tr("Spread the heights further: the line must become clearly wider to both sides.");
      break;
  }
  return f;
}

void FocusPage::keep() {
  const auto found = evaluate_focus(session_.editor().book());
  if (!found || !found->z || found->verdict != FocusVerdict::ok) return;
  session_.editor().change_book(
      tr("Keep the focus"), [&](Book& b) { keep_focus(b, *found, session_.editor().now().toStdString()); },
      MachineFollows::no);
}

void FocusPage::draw() {
  const LengthUnit unit = session_.editor().unit();
  const auto& lines = session_.editor().book().worksheets[heads_worksheet].focus;
  plot_->clearPlottables();
  plot_->clearItems();
  QVector<double> z, w;
  for (const FocusLine& l : lines)
    if (l.width_mm > 0) {
      z << in_unit(l.z_mm, unit);
      w << in_unit(l.width_mm, unit);
    }
  if (z.isEmpty()) {
    say_in(*plot_, tr("The widths will stand here, from the first line on."));
  } else {
    auto* points = plot_->addGraph();
    points->setData(z, w);
    points->setLineStyle(QCPGraph::lsNone);
    points->setScatterStyle(QCPScatterStyle(QCPScatterStyle::ssDisc, theme().ink, 7));
    const auto [z0, z1] = std::minmax_element(z.begin(), z.end());
    const double high = *std::max_element(w.begin(), w.end()), room = std::max((*z1 - *z0) * 0.1, in_unit(0.5, unit));
    plot_->xAxis->setRange(*z0 - room, *z1 + room);
    plot_->yAxis->setRange(0, high * 1.2);
    if (const auto found = evaluate_focus(session_.editor().book()); found && found->z) {
      const double at = in_unit(*found->z, unit);
      auto* line = plot_->addGraph();
      line->setData({at, at}, {0, high * 1.2});
      line->setPen(QPen(theme().teal, 2, Qt::DashLine));
    }
  }
  dress(*plot_);
  plot_->xAxis->setLabel(tr("machine Z, %1").arg(to_q(unit_name(unit))));
  plot_->yAxis->setLabel(tr("width, %1").arg(to_q(unit_name(unit))));
  plot_->replot();
}

void FocusPage::refresh() {
  const LengthUnit unit = session_.editor().unit();
  const HeadsWorksheet& s = session_.editor().book().worksheets[heads_worksheet];
  sure_->set_unit(unit);
  sure_->show_value(s.u_width_mm);
  showing_ = true;
  table_->setRowCount(static_cast<int>(s.focus.size()));
  for (std::size_t i = 0; i < s.focus.size(); ++i) {
    const int row = static_cast<int>(i);
    table_->setItem(row, 0, new QTableWidgetItem(to_q(format_length(s.focus[i].z_mm, unit, 2))));
    table_->setItem(
        row, 1,
        new QTableWidgetItem(s.focus[i].width_mm > 0 ? to_q(format_length(s.focus[i].width_mm, unit, 3)) : QString()));
  }
  showing_ = false;
  draw();
  refresh_status();
}

void FocusPage::refresh_status() {
  const bool writable = !session_.editor().read_only();
  take_->setEnabled(writable && session_.machine().standing_ready() && session_.machine().status().all_homed());
  add_->setEnabled(writable);
  out_->setEnabled(writable && table_->currentRow() >= 0 && table_->rowCount() > 0);
  set_text(hint_, tr("Stay below the power that you allowed; glasses on, lid shut, extraction running."));
}

}  // namespace ypsi::app
