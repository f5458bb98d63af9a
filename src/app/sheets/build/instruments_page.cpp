#include "app/sheets/build/instruments_page.h"

#include <QHeaderView>

#include "app/session/book_editor.h"
#include "app/session/notices.h"
#include "app/sheets/sheet.h"
#include "app/to_q.h"
#include "app/widgets/wrapped_row.h"
#include "core/book/worksheets/scale.h"
#include "core/metrology/coverage.h"

namespace ypsi::app {
namespace {

enum InstrumentColumn { name_column, resolution, ends, scatter, calibration, relative, worth, instrument_columns };
constexpr double example_mm = 300;

QString plain_number(double value) {
  return QString::number(value, 'g', 6);
}

}  // namespace

InstrumentsPage::InstrumentsPage(BuildDraft& draft) : BuildPage(draft) {
  setObjectName("build-page-instruments");
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  table_ = new QTableWidget(0, instrument_columns, this);
  table_->setObjectName("instruments");
  table_->setAccessibleName(tr("Instruments on hand"));
  table_->setHorizontalHeaderLabels({tr("Instrument"), tr("Reads to"), tr("Ends"), tr("Scatter s"), tr("Calibration u"),
                                     tr("per m"), tr("One reading")});
  table_->horizontalHeaderItem(resolution)->setToolTip(tr("The smallest step that is read, mm"));
  table_->horizontalHeaderItem(ends)->setToolTip(tr("Ends that are read: ruler and tape 2, caliper 1"));
  table_->horizontalHeaderItem(scatter)->setToolTip(
      tr("Standard deviation when the same thing is read again, mm; empty: the usual one"));
  table_->horizontalHeaderItem(calibration)->setToolTip(tr("Uncertainty common to all its readings, mm"));
  table_->horizontalHeaderItem(relative)->setToolTip(tr("Uncertainty in proportion to the length, mm per m"));
  table_->horizontalHeaderItem(worth)->setToolTip(tr("Of %1 mm, for about 95 %").arg(example_mm));
  table_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
  table_->horizontalHeader()->setSectionResizeMode(name_column, QHeaderView::Stretch);
  table_->horizontalHeader()->setMinimumSectionSize(46);
  table_->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
  table_->verticalHeader()->hide();
  table_->verticalHeader()->setDefaultSectionSize(26);
  table_->setShowGrid(false);
  column->addWidget(table_, 1);
  auto* acts = new WrappedRow;
  auto* add = make_button("instrument-add", tr("Add an instrument"), tr("One more instrument on hand"), this);
  auto* remove = make_button("instrument-remove", tr("Take it out"), tr("Takes the chosen instrument out"), this);
  acts->addWidget(add);
  acts->addWidget(remove);
  column->addLayout(acts);
  column->addWidget(make_label("instruments-hint", "small",
                               tr("Lengths in mm. Double-click to change; what is not known stays empty or 0."), this));
  connect(table_, &QTableWidget::cellChanged, this, [this](int row) {
    if (!showing_)
      QMetaObject::invokeMethod(
          this, [this, row] { take(row); }, Qt::QueuedConnection);
  });
  connect(add, &QPushButton::clicked, this, [this] {
    session().editor().change_book(tr("Add an instrument"), [](Book& b) {
      Instrument i;
      int n = 1;
      do i.name = tr("instrument %1").arg(n++).toStdString();
      while (b.instrument(i.name));
      b.instruments.push_back(i);
    });
  });
  connect(remove, &QPushButton::clicked, this, [this] {
    const int row = table_->currentRow();
    if (row >= 0)
      session().editor().change_book(tr("Take out an instrument"),
                                     [row](Book& b) { b.instruments.erase(b.instruments.begin() + row); });
  });
}

void InstrumentsPage::take(int row) {
  const auto at = static_cast<std::size_t>(row);
  if (at >= session().editor().book().instruments.size()) return;
  Instrument i = session().editor().book().instruments[at];
  QString why;
  const auto cell = [&](int column) { return table_->item(row, column)->text().trimmed(); };
  const auto number = [&](int column, double least, bool above) -> std::optional<double> {
    const auto value = parse_number(cell(column).toStdString());
    if (value && (above ? *value > least : *value >= least)) return *value;
    why = value ? tr("“%1” is too small there.").arg(cell(column)) : to_q(value.error().message);
    return std::nullopt;
  };
  const auto r = number(resolution, 0, true), e = number(ends, 1, false), c = number(calibration, 0, false),
             rel = number(relative, 0, false);
  std::optional<double> s;
  if (!cell(scatter).isEmpty()) s = number(scatter, 0, false);
  i.name = cell(name_column).toStdString();
  const Instrument* same = session().editor().book().instrument(i.name);
  if (i.name.empty()) why = tr("An instrument needs a name.");
  if (same && same != &session().editor().book().instruments[at]) why = tr("There is already one of that name.");
  if (!why.isEmpty()) {
    session().notices().notify({NoticeLevel::attention, tr("%1 It was left as it is.").arg(why), {}});
    refresh();
    return;
  }
  i.resolution_mm = *r;
  i.ends = static_cast<int>(*e);
  i.s_mm = s;
  i.u_cal_mm = *c;
  i.u_rel = *rel / 1000;
  session().editor().change_book(tr("Change an instrument"), [&](Book& b) {
    const std::string before = b.instruments[at].name;
    b.instruments[at] = i;
    for (auto& w : b.worksheets[scale_worksheets])
      if (w.instrument == before) w.instrument = i.name;
  });
}

void InstrumentsPage::refresh() {
  showing_ = true;
  const auto& all = session().editor().book().instruments;
  table_->setRowCount(static_cast<int>(all.size()));
  for (std::size_t n = 0; n < all.size(); ++n) {
    const Instrument& i = all[n];
    const auto set = [&](int column, const QString& text, bool editable = true) {
      auto* item = new QTableWidgetItem(text);
      if (!editable) item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable);
      table_->setItem(static_cast<int>(n), column, item);
    };
    set(name_column, to_q(i.name));
    set(resolution, plain_number(i.resolution_mm));
    set(ends, QString::number(i.ends));
    set(scatter, i.s_mm ? plain_number(*i.s_mm) : QString());
    set(calibration, plain_number(i.u_cal_mm));
    set(relative, plain_number(i.u_rel * 1000));
    const double U = i.u_mm(example_mm) * t95(claim_degrees_of_freedom);
    set(worth, tr("±%1 mm").arg(to_q(format_number(U, decimals_for(U, 2)))), false);
  }
  showing_ = false;
}

}  // namespace ypsi::app
