#include "app/sheets/tools_sheet.h"

#include <QHeaderView>
#include <algorithm>
#include <cmath>

#include "app/session/book_editor.h"
#include "app/session/entry_text.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/sheets/page_foot.h"
#include "app/sheets/references/circuit_words.h"
#include "app/sheets/tool_setter_sheet.h"
#include "app/to_q.h"
#include "app/widgets/plain_table.h"
#include "app/widgets/table_menu.h"
#include "core/book/readings_csv.h"
#include "core/book/tool_change.h"
#include "core/calibration/tool_setter.h"
#include "core/metrology/spread.h"
#include "core/tasks/known_scale.h"
#include "core/tasks/tool_setter.h"
#include "core/tasks/tools.h"

namespace ypsi::app {
namespace {

enum ToolColumn {
  tool_number,
  tool_name,
  tool_kind,
  tool_diameter,
  tool_angle,
  tool_tip,
  tool_flutes,
  tool_edge,
  tool_out,
  tool_plunge,
  tool_offset,
  tool_slot,
  tool_head,
  tool_columns
};
constexpr int usual_tool_touches = 3;

}  // namespace

ToolsSheet::ToolsSheet(Session& session)
    : Sheet(session, tools_task(), tr("Keep your tools with their sizes; the setter tells how long each is.")) {
  title_row()->addWidget(new TableMenu(
      session, this, [this](const std::string& text) { return take_table(text); },
      [this] { return tools_to_csv(session_.editor().book().tools); }));
  auto* card = make_card();
  auto* column = new QVBoxLayout(card);
  column->setContentsMargins(10, 10, 10, 10);
  auto* upper = new QHBoxLayout;
  table_ = make_table("tools-table", tr("Tools"),
                      {tr("T"), tr("Name"), tr("Kind"), tr("⌀"), tr("∠"), tr("Tip"), tr("Fl."), tr("Edge"), tr("Out"),
                       tr("Pl."), tr("Offset"), tr("Slot"), tr("Head")},
                      tool_name, 28, card);
  table_->horizontalHeaderItem(tool_diameter)->setToolTip(tr("Diameter, mm"));
  table_->horizontalHeaderItem(tool_angle)->setToolTip(tr("Full angle of its point, degrees"));
  table_->horizontalHeaderItem(tool_tip)->setToolTip(tr("Width of its tip, mm"));
  table_->horizontalHeaderItem(tool_flutes)->setToolTip(tr("Flutes"));
  table_->horizontalHeaderItem(tool_edge)->setToolTip(tr("Length of its cutting edges from the tip up, mm"));
  table_->horizontalHeaderItem(tool_out)->setToolTip(tr("Length out of the collet, mm"));
  table_->horizontalHeaderItem(tool_plunge)
      ->setToolTip(tr("Fastest that it may go straight down into the full, mm/min; empty: not said"));
  table_->horizontalHeaderItem(tool_offset)->setToolTip(tr("Against the reference tool, measured on the setter, mm"));
  table_->horizontalHeaderItem(tool_head)->setToolTip(tr("The head that it hangs on; empty: the first"));
  table_->horizontalHeader()->setMinimumSectionSize(30);
  table_->setSelectionMode(QAbstractItemView::SingleSelection);
  upper->addWidget(table_, 9);
  drawing_ = new ToolDrawing(card);
  upper->addWidget(drawing_, 2);
  column->addLayout(upper, 1);
  PageFoot foot(column, card);
  auto *settings = foot.settings(), *acts = foot.acts();
  auto* add = make_button("tool-add", tr("Add a tool"), tr("One more tool (Ctrl+D)"), card);
  add->setShortcut(QKeySequence("Ctrl+D"));
  take_out_ = make_button("tool-remove", tr("Take it out"), tr("Takes the chosen tool out of the table"), card);
  put_in_ = make_button("tool-put-in", tr("It is in the spindle"), tr("The chosen tool is in the collet now"), card);
  for (auto* b : {add, take_out_, put_in_}) acts->addWidget(b);
  circuit_button_ = make_button("tools-circuit", tr("Check the circuit"),
                                tr("Press the setter by hand, seen on screen (Ctrl+K)"), card);
  circuit_button_->setShortcut(QKeySequence("Ctrl+K"));
  measure_ = make_button("tool-measure", tr("Measure it"), tr("The tool in the spindle, on the setter (Ctrl+M)"), card);
  measure_->setShortcut(QKeySequence("Ctrl+M"));
  acts->addWidget(circuit_button_);
  acts->addWidget(measure_);
  touches_ = add_field(settings, "tool-touches", tr("Touches"), tr("Slow touches, 1 to 50"), 0, session, card).field;
  touches_->set_unit(LengthUnit::none);
  touches_->show_value(usual_tool_touches);
  hint_ = foot.hint("tools-hint");
  pages_ = new SheetPages(this, "tools-part-");
  pages_->add("tools", tr("Tools"), tr("The tools and their lengths"), card);
  rack_ = new RackPage(session);
  pages_->add("rack", tr("Rack"), tr("The slots they hang in"), rack_);
  body()->addWidget(pages_, 1);

  finding()->add_label("finding-heading", "heading", tr("FINDING"));
  lead_ = finding()->add_label("tool-lead", "strong");
  figure_ = finding()->add_label("tool-figure", "big");
  spread_ = finding()->add_label("tool-spread", "small");
  finding()->box()->addSpacing(4);
  verdict_ = finding()->add_label("tool-verdict", "strong");
  text_ = finding()->add_label("tool-text", "task");
  finding()->add_stretch();

  connect(table_, &QTableWidget::cellChanged, this, [this](int row) {
    if (!showing_)
      QMetaObject::invokeMethod(
          this, [this, row] { take(row); }, Qt::QueuedConnection);
  });
  connect(table_, &QTableWidget::currentCellChanged, this, [this] {
    if (!showing_) show_finding();
  });
  connect(add, &QPushButton::clicked, this, &ToolsSheet::add_tool);
  connect(take_out_, &QPushButton::clicked, this, &ToolsSheet::take_out);
  connect(put_in_, &QPushButton::clicked, this, &ToolsSheet::put_in);
  connect(circuit_button_, &QPushButton::clicked, this, [this] { session_.machine().check_circuit(); });
  connect(&session_.machine(), &MachineSession::procedure_ended, this, [this](const Procedure* p) {
    if (p != touch_.get()) return;
    if (touch_->phase() == Procedure::Phase::done) keep_measured();
    refresh_status();
  });
  connect(measure_, &QPushButton::clicked, this, &ToolsSheet::measure);
  offer_jog();
}

void ToolsSheet::show_part(const QString& part) {
  if (pages_->turn_to(part)) refresh();
}

std::optional<std::size_t> ToolsSheet::chosen() const {
  const int row = table_->currentRow();
  if (row < 0 || static_cast<std::size_t>(row) >= session_.editor().book().tools.size()) return std::nullopt;
  return static_cast<std::size_t>(row);
}

void ToolsSheet::take(int row) {
  const auto at = static_cast<std::size_t>(row);
  if (at >= session_.editor().book().tools.size()) return;
  Tool t = session_.editor().book().tools[at];
  QString why;
  const auto cell = [&](int column) { return table_->item(row, column)->text().trimmed(); };
  const auto number = [&](int column, double least, double most) {
    if (cell(column).isEmpty()) return 0.0;
    const auto value = parse_number(cell(column).toStdString());
    if (value && *value >= least && *value <= most) return *value;
    why = value ? tr("“%1” cannot be there.").arg(cell(column)) : to_q(value.error().message);
    return 0.0;
  };
  const double n = number(tool_number, 1, 65535);
  t.name = cell(tool_name).toStdString();
  t.kind = cell(tool_kind).toStdString();
  t.diameter = number(tool_diameter, 0, 1000);
  if (t.diameter != session_.editor().book().tools[at].diameter) t.diameter_reason.clear();  // it was another's
  t.angle = number(tool_angle, 0, 180);
  t.tip = number(tool_tip, 0, 1000);
  t.flutes = static_cast<int>(number(tool_flutes, 0, 100));
  t.edge_length = number(tool_edge, 0, 1000);
  t.length_out = number(tool_out, 0, 1000);
  t.max_plunge = number(tool_plunge, 0, 100000);
  t.slot = static_cast<int>(number(tool_slot, 0, 1000));
  t.head = cell(tool_head).toStdString();
  if (!t.head.empty() && !session_.editor().book().machine.head(t.head))
    why = tr("There is no head “%1” on this machine.").arg(cell(tool_head));
  if (why.isEmpty() && n != std::floor(n)) why = tr("A tool's number is a whole number.");
  if (why.isEmpty() && n < 1) why = tr("A tool needs a number.");
  for (std::size_t i = 0; i < session_.editor().book().tools.size(); ++i)
    if (i != at && session_.editor().book().tools[i].number == static_cast<int>(n))
      why = tr("There is a tool %1 already.").arg(n);
  if (!why.isEmpty()) {
    session_.notices().notify({NoticeLevel::attention, tr("%1 It was left as it is.").arg(why), {}});
    refresh();
    return;
  }
  t.number = static_cast<int>(n);
  session_.editor().change_book(
      tr("Change a tool"), [&](Book& b) { b.tools[at] = t; }, MachineFollows::no);
}

void ToolsSheet::add_tool() {
  session_.editor().change_book(
      tr("Add a tool"),
      [](Book& b) {
        Tool t;
        t.number = 1;
        while (b.tool(t.number)) ++t.number;
        t.name = tr("tool %1").arg(t.number).toStdString();
        t.kind = "flat";
        b.tools.push_back(t);
      },
      MachineFollows::no);
  table_->setCurrentCell(table_->rowCount() - 1, tool_diameter);
}

void ToolsSheet::take_out() {
  if (const auto at = chosen())
    session_.editor().change_book(
        tr("Take a tool out"), [&](Book& b) { b.tools.erase(b.tools.begin() + static_cast<std::ptrdiff_t>(*at)); },
        MachineFollows::no);
}

void ToolsSheet::put_in() {
  const auto at = chosen();
  if (!at) return;
  session_.machine().tool_put_in(session_.editor().book().tools[*at].number);
  refresh();
}

void ToolsSheet::measure() {
  if (touch_->running()) return session_.machine().end_procedure();
  const auto& setter = session_.editor().book().setter;
  if (!setter || setter->reference.empty()) {
    session_.notices().notify(
        {NoticeLevel::attention,
         tr("The reference tool was not measured on the setter yet, so there is nothing to tell this tool against."),
         {{tr("Go to the tool setter"), [this] { session_.notices().lead_to(tool_setter_id); }}}});
    return;
  }
  if (!session_.editor().book().tool(session_.machine().status().tool)) {
    session_.notices().notify({NoticeLevel::attention,
                               tr("Say first which tool is in the spindle: choose it, then “It is in the spindle”."),
                               {}});
    return;
  }
  if (!session_.machine().circuit().works()) {
    session_.notices().notify({NoticeLevel::attention,
                               tr("The circuit was not seen to work yet; without it the tool would not stop."),
                               {{tr("Check the circuit"), [this] { session_.machine().check_circuit(); }}}});
    return;
  }
  measured_tool_ = session_.machine().status().tool;
  const int touches = static_cast<int>(std::lround(touches_->value().value_or(usual_tool_touches)));
  session_.machine().start(touch_, setter_way(session_.editor().book(), touches));
  refresh_status();
}

void ToolsSheet::keep_measured() {
  const auto found =
      evaluate_setter(plain(session_.editor().book().setter->reference), {{measured_tool_, touch_->triggers()}},
                      std::nullopt, 1 / session_.editor().book().machine.axis(Axis::z).steps_per_mm);
  if (!found) {
    session_.machine().ask(tl::make_unexpected(found.error()));
    return;
  }
  const SetterToolResult& r = found->tools.front();
  const std::string setting = "tool." + std::to_string(measured_tool_) + ".offset_mm";
  std::optional<double> U;
  if (r.U) U = U_with_scale(session_.editor().book(), Axis::z, r.offset, *r.U);
  const bool set =
      session_.machine().may_set() && session_.machine().ask(session_.machine().link()->set_setting(setting, r.offset));
  session_.editor().change_book(
      tr("Measure a tool"),
      [&](Book& b) {
        Entry e;
        e.time = session_.editor().now().toStdString();
        e.sheet = tools_id;
        e.subject = "T" + std::to_string(measured_tool_);
        e.instrument = "setter";
        for (const double t : touch_->triggers()) e.readings.push_back(t);
        e.result = result_of(ToolEntry{.offset = r.offset, .U_offset = U, .s = r.s});
        for (auto& t : b.tools)
          if (t.number == measured_tool_) {
            if (t.offset) e.as_found = {{setting, *t.offset}};
            t.offset = r.offset;
            t.U_offset = U;
            t.offset_time = e.time;
          }
        e.as_left = {{setting, r.offset}};
        if (!e.as_found.contains(setting)) e.as_found = e.as_left;  // nothing stands on it yet
        b.history.push_back(std::move(e));
      },
      MachineFollows::no);
  if (set) session_.machine().keep_settings();
}

Result<void> ToolsSheet::take_table(const std::string& text) {
  auto tools = tools_from_csv(text);
  if (!tools) return tl::make_unexpected(tools.error());
  session_.editor().change_book(
      tr("Read a table of tools"),
      [&](Book& b) {
        for (auto& t : *tools) {
          const auto there =
              std::find_if(b.tools.begin(), b.tools.end(), [&](const Tool& o) { return o.number == t.number; });
          if (there == b.tools.end()) {
            b.tools.push_back(t);
          } else {
            // What was measured here stays.
            t.offset = there->offset;
            t.U_offset = there->U_offset;
            t.offset_time = there->offset_time;
            t.unknown = there->unknown;
            *there = t;
          }
        }
      },
      MachineFollows::no);
  return {};
}

void ToolsSheet::show_finding() {
  const auto at = chosen();
  const Book& book = session_.editor().book();
  drawing_->show(at ? std::optional(book.tools[*at]) : std::nullopt, session_.editor().unit());
  take_out_->setEnabled(at.has_value());
  if (!at) {
    lead_->setText(book.tools.empty() ? tr("No tools yet") : tr("%1 tools").arg(book.tools.size()));
    for (auto* l : {figure_, spread_, verdict_}) l->clear();
    text_->setText(
        tr("Enter each tool with its number and diameter. Measured on the setter, a tool change re-zeroes Z by itself "
           "and leaves X and Y alone."));
    return;
  }
  const Tool& t = book.tools[*at];
  const bool reference = book.setter && book.setter->reference_tool == t.number;
  lead_->setText(tr("T%1 %2").arg(t.number).arg(to_q(t.name)));
  figure_->setText(reference  ? tr("reference")
                   : t.offset ? to_q(format_signed(in_unit(*t.offset, session_.editor().unit()), 3) + " " +
                                     unit_name(session_.editor().unit()))
                              : QString());
  spread_->setText(reference || !t.offset ? QString()
                   : t.U_offset           ? tr("±%1, about 95 %, against T%2")
                                      .arg(length(*t.U_offset, 3))
                                      .arg(book.setter ? book.setter->reference_tool : 0)
                                : tr("touched once: no ± can be told"));
  const auto standing = session_.editor().standing(tools_id).standing;
  Entry measured;
  measured.time = t.offset_time;
  verdict_->setText(reference                           ? tr("● The others are told against it.")
                    : !t.offset                         ? tr("○ Its length was never measured.")
                    : standing == Standing::out_of_date ? tr("◐ Out of date: measure it again.")
                                                        : tr("● Measured %1.").arg(entry_date(measured)));
  QStringList words;
  if (zero_after_change(book, t.number) == ZeroAfterChange::by_length)
    words << tr("With it in the spindle, work-zero Z is %1.").arg(length(zero_by_length(book, t.number), 3));
  if (!t.diameter_reason.empty()) words << tr("Its diameter: %1").arg(to_q(t.diameter_reason));
  if (!(t.diameter > 0)) words << tr("Its diameter is not known: nothing can be said of what it cuts.");
  text_->setText(words.join("\n"));
}

void ToolsSheet::refresh() {
  rack_->refresh();
  showing_ = true;
  const auto& all = session_.editor().book().tools;
  const int row = table_->currentRow();
  table_->setRowCount(static_cast<int>(all.size()));
  for (std::size_t n = 0; n < all.size(); ++n) {
    const Tool& t = all[n];
    const auto set = [&](int column, const QString& text, bool editable = true) {
      auto* item = new QTableWidgetItem(text);
      if (!editable) item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable);
      table_->setItem(static_cast<int>(n), column, item);
    };
    set(tool_number, QString::number(t.number));
    set(tool_name, to_q(t.name));
    set(tool_kind, to_q(t.kind));
    set(tool_diameter, number_or_blank(t.diameter));
    set(tool_angle, number_or_blank(t.angle));
    set(tool_tip, number_or_blank(t.tip));
    set(tool_flutes, number_or_blank(t.flutes));
    set(tool_edge, number_or_blank(t.edge_length));
    set(tool_out, number_or_blank(t.length_out));
    set(tool_plunge, number_or_blank(t.max_plunge));
    set(tool_offset, t.offset ? to_q(format_signed(*t.offset, 3)) : QString(), false);
    set(tool_slot, number_or_blank(t.slot));
    set(tool_head, to_q(t.head));
  }
  table_->setColumnHidden(tool_head, session_.editor().book().machine.heads.empty());
  table_->setColumnHidden(tool_slot, session_.editor().book().rack.slot_count == 0);
  if (!all.empty())
    table_->setCurrentCell(std::clamp(row, 0, static_cast<int>(all.size()) - 1), std::max(0, table_->currentColumn()));
  showing_ = false;
  show_finding();
  refresh_status();
}

void ToolsSheet::refresh_status() {
  rack_->refresh_status();
  const ProbeCircuit& circuit = session_.machine().circuit();
  const bool homed = session_.machine().status().all_homed();
  const QString asked = circuit_words(circuit.stage());
  const int in = session_.machine().status().tool;
  set_text(hint_, touch_->running()  ? tr("It measures T%1; keep a finger on Hold.").arg(measured_tool_)
                  : !asked.isEmpty() ? asked
                  : !homed           ? tr("T%1 is in the spindle. Home the machine to measure it (Ctrl+H).").arg(in)
                                     : tr("T%1 is in the spindle. Lengths in mm; double-click to change.").arg(in));
  const bool ready = session_.machine().standing_ready() && homed;
  put_in_->setEnabled(chosen().has_value() && !touch_->running() &&
                      session_.machine().status().state != MachineState::cutting &&
                      session_.machine().status().state != MachineState::moving);
  circuit_button_->setEnabled(!touch_->running() && !circuit.waiting() &&
                              session_.machine().status().state != MachineState::offline);
  set_text(measure_, touch_->running() ? tr("End the measurement") : tr("Measure T%1").arg(in));
  measure_->setEnabled(touch_->running() || ready);
}

}  // namespace ypsi::app
