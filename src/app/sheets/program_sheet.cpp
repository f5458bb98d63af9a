#include "app/sheets/program_sheet.h"

#include <QComboBox>
#include <QDragEnterEvent>
#include <QFileDialog>
#include <QFileInfo>
#include <QLineEdit>
#include <QMimeData>
#include <QProcess>
#include <QStandardPaths>
#include <QUrl>
#include <set>

#include "app/session/book_editor.h"
#include "app/session/job_session.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/sheets/program/clamps_table.h"
#include "app/sheets/program/drawing_page.h"
#include "app/sheets/program/layers_row.h"
#include "app/to_q.h"
#include "app/widgets/elevation_view.h"
#include "core/book/machine_kinds.h"
#include "core/program/rests_on.h"
#include "core/program/tip.h"
#include "core/program/tool_shape.h"
#include "core/tasks/stock_program.h"
#include "core/tasks/trials.h"

namespace ypsi::app {
namespace {
/// Hands a file to the desktop's editor for plain text, whatever the desktop takes a file of this name for; `none`
/// where it knows none.
void open_in_text_editor(const QString& path, QObject* owner, const std::function<void()>& none) {
  auto* asked = new QProcess(owner);
  QObject::connect(asked, &QProcess::errorOccurred, owner, [asked, none](QProcess::ProcessError error) {
    if (error != QProcess::FailedToStart) return;  // what comes after that ends as finished
    asked->deleteLater();
    none();
  });
  QObject::connect(asked, &QProcess::finished, owner, [asked, path, none] {
    const QString entry = QString::fromUtf8(asked->readAllStandardOutput()).trimmed();
    const QString editor =
        entry.isEmpty() ? QString() : QStandardPaths::locate(QStandardPaths::ApplicationsLocation, entry);
    asked->deleteLater();
    if (editor.isEmpty() || !QProcess::startDetached("gio", {"launch", editor, path})) none();
  });
  asked->start("xdg-mime", {"query", "default", "text/plain"});
}

constexpr const char* stock_words[] = {QT_TRANSLATE_NOOP("ypsi::app::ProgramSheet", "Stock along X"),
                                       QT_TRANSLATE_NOOP("ypsi::app::ProgramSheet", "Stock along Y"),
                                       QT_TRANSLATE_NOOP("ypsi::app::ProgramSheet", "Stock's thickness")};
constexpr const char* stock_names[] = {"stock-x", "stock-y", "stock-z"};
}  // namespace

ProgramSheet::ProgramSheet(Session& session)
    : Sheet(session, stock_program_task(),
            tr("Say how large the stock is, and load what is to be cut: open it, or drop the file here.")) {
  setAcceptDrops(true);
  auto* card = make_card();
  drawing_ = new DrawingPage(session);
  pages_ = new SheetPages(this, "part-");
  pages_->add("program", tr("Program"), tr("A program that was written elsewhere"), card);
  pages_->add("drawing", tr("Drawing"), tr("A drawing, of which a program is made"), drawing_);
  auto* layout = new QVBoxLayout(card);
  layout->setContentsMargins(18, 12, 18, 12);
  auto* sizes = new QHBoxLayout;
  sizes->addWidget(make_label("stock-caption", "caption", tr("Stock"), card));
  for (std::size_t i = 0; i < 3; ++i) {
    stock_[i] = new LengthField(stock_names[i], tr(stock_words[i]), card);
    stock_[i]->setFixedWidth(104);
    if (i > 0) sizes->addWidget(make_label("times", "small", "×", card));
    sizes->addWidget(stock_[i]);
    connect(stock_[i], &LengthField::committed, this, [this, i](double mm) { set_stock(i, mm); });
    connect(stock_[i], &LengthField::refused, this, [this](const QString& why) {
      session_.notices().notify({NoticeLevel::attention, why, {}});
    });
    connect(stock_[i], &LengthField::next_wanted, this, [this, i] { stock_[(i + 1) % 3]->setFocus(); });
  }
  auto* where = new QComboBox(card);
  where->setObjectName("zero-on-stock");
  where->setAccessibleName(tr("Where the program's zero is on the stock"));
  where->setToolTip(tr("Where the program's X and Y zero is on the stock"));
  where->addItems({tr("zero front left"), tr("zero in the middle"), tr("zero front right"), tr("zero back left"),
                   tr("zero back right")});
  where_ = where;
  connect(where, &QComboBox::activated, this, &ProgramSheet::set_where);
  sizes->addStretch();
  layout->addLayout(sizes);
  layers_ = new LayersRow(session, card);
  layout->addWidget(layers_);
  auto* over_plan = new QHBoxLayout;
  over_plan->addWidget(make_label("plan-caption", "caption", tr("Cut brown, way teal, rapids dotted"), card), 1);
  over_plan->addWidget(where);
  layout->addLayout(over_plan);
  plan_ = new PlanView(session, PlanView::Subject::program, card);
  plan_->setMinimumHeight(118);  // all must fit in a low window
  layout->addWidget(plan_, 4);
  layout->addWidget(make_label("elevation-caption", "caption", tr("Front elevation: how deep"), card));
  elevation_ = new ElevationView(session, false, card);
  elevation_->setMinimumHeight(86);
  layout->addWidget(elevation_, 1);
  clamps_ = new ClampsTable(session, card);
  layout->addWidget(clamps_);
  body()->addWidget(pages_, 1);
  connect(drawing_, &FindingPage::found, this, [this] { refresh(); });
  connect(drawing_, &DrawingPage::made, this, [this] {
    if (shows_drawing()) show_drawing_finding();
  });

  finding()->add_label("finding-heading", "heading", tr("PROGRAM"));
  name_ = finding()->add_label("program-name", "title");
  size_ = finding()->add_label("program-size", "strong");
  details_ = finding()->add_label("program-details", "small");
  finding()->box()->addSpacing(8);
  held_heading_ = finding()->add_label("held-heading", "heading", tr("HELD DOWN BY"));
  held_ = finding()->add_label("drawing-held", "task");
  finding()->box()->addSpacing(8);
  places_heading_ = finding()->add_label("places-heading", "heading", tr("EACH HEAD'S PLACE"));
  places_ = finding()->add_label("drawing-places", "task");
  progress_ = new QProgressBar(this);
  progress_->setObjectName("progress");
  progress_->setRange(0, 100);
  progress_->hide();
  finding()->add(progress_);
  cancel_ = finding()->add_button("cancel-loading", tr("Stop reading"), tr("The program that was there stays"));
  cancel_->hide();
  material_ = new QComboBox(this);
  material_->setObjectName("stock-material");
  material_->setAccessibleName(tr("Material of the stock"));
  material_->setToolTip(tr("What was tried with it on the sheet Trials is compared with what the program sets"));
  material_->setEditable(true);
  material_->setInsertPolicy(QComboBox::NoInsert);
  material_->lineEdit()->setObjectName("stock-material-name");
  material_->lineEdit()->setAccessibleName(material_->accessibleName());
  material_->lineEdit()->setPlaceholderText(tr("material"));
  const auto take_material = [this] {
    const std::string said = material_->currentText().trimmed().toStdString();
    if (said != session_.editor().book().job.stock_name)
      session_.editor().change_book(
          tr("Say what the stock is"),
          [&](Book& b) {
            if (b.job.stock_name.empty()) name_material(b.job.materials, said);
            b.job.stock_name = said;
            double& thickness = b.job.stock_size[2];
            if (!(thickness > 0)) thickness = material_named(b.job.materials, said).total_mm;
          },
          MachineFollows::no);
  };
  connect(material_->lineEdit(), &QLineEdit::editingFinished, this, take_material);
  connect(material_, &QComboBox::activated, this, take_material);
  of_material_ = new QWidget(this);
  auto* of_what = new QHBoxLayout(of_material_);
  of_what->setContentsMargins(0, 0, 0, 0);
  of_what->addWidget(make_label("word", "small", tr("Stock of"), of_material_));
  of_what->addWidget(material_, 1);
  finding()->add(of_material_);
  finding()->add_rule();
  recent_heading_ = finding()->add_label("recent-heading", "heading", tr("RECENT"));
  recent_ = new QVBoxLayout;
  recent_->setSpacing(4);
  finding()->box()->addLayout(recent_);
  finding()->add_stretch();
  open_ = finding()->add_button("open-program", tr("Open a program…"), tr("G-code: .ngc, .nc, .gcode, .tap (Ctrl+O)"),
                                true);
  next_ = finding()->add_button("queue-program", tr("Cut another after it…"),
                                tr("One more program on the same zero, offered when this one has ended (Ctrl+1)"));
  edit_ = finding()->add_button("edit-program", tr("Open in the text editor"),
                                tr("Hands the file to the desktop's own editor; what changes is noticed (Ctrl+2)"));
  next_->setShortcut(QKeySequence("Ctrl+1"));
  edit_->setShortcut(QKeySequence("Ctrl+2"));
  write_ = finding()->add_button("drawing-write", tr("Write and load it"),
                                 tr("Writes the program beside the drawing and loads it (Ctrl+Return)"), true);
  write_->setShortcut(QKeySequence("Ctrl+Return"));
  another_ = finding()->add_button("drawing-another", tr("Another drawing…"), tr("A DXF or an SVG file"));
  connect(write_, &QPushButton::clicked, this, [this] {
    if (drawing_->write()) show_part("program");
  });
  connect(another_, &QPushButton::clicked, this, [this] { drawing_->second(); });
  connect(next_, &QPushButton::clicked, this, &ProgramSheet::queue_file);
  connect(edit_, &QPushButton::clicked, this, [this] {
    if (const auto p = session_.job().program())
      open_in_text_editor(p->path, this, [this, path = p->path] {
        session_.notices().notify(
            {NoticeLevel::attention, tr("The desktop knows no editor for plain text to open “%1” in.").arg(path), {}});
      });
  });
  connect(open_, &QPushButton::clicked, this, &ProgramSheet::choose_file);
  connect(cancel_, &QPushButton::clicked, this, [this] { session_.job().loader().cancel(); });
  connect(&session_.job().loader(), &ProgramLoader::progressed, this, [this](int percent) {
    progress_->setVisible(session_.job().loader().busy());
    cancel_->setVisible(session_.job().loader().busy());
    progress_->setValue(percent);
  });
  connect(&session_.job(), &JobSession::program_changed, this, [this] {
    progress_->hide();
    cancel_->hide();
  });
  // Where drawings are what is cut nobody has to look for them.
  const Book& book = session_.editor().book();
  if (cuts_drawings(book.machine.kind) && book.job.program.empty()) pages_->turn_to("drawing");
}

QString ProgramSheet::ask_for_program(const QString& title) {
  const QString start = session_.job().program() ? session_.job().program()->path
                                                 : QFileInfo(session_.editor().book_path()).absolutePath();
  return QFileDialog::getOpenFileName(this, title, start,
                                      tr("Programs (*.ngc *.nc *.gcode *.tap *.txt);;All files (*)"));
}

void ProgramSheet::choose_file() {
  if (const QString path = ask_for_program(tr("Open a program")); !path.isEmpty()) take_file(path);
}

/// A program, or a drawing by its name's ending.
void ProgramSheet::take_file(const QString& path) {
  if (!DrawingPage::takes(path)) {
    session_.job().load_program(path);
    return;
  }
  show_part("drawing");
  drawing_->open(path);
}

void ProgramSheet::show_part(const QString& part) {
  if (pages_->turn_to(part)) refresh();
}

void ProgramSheet::queue_file() {
  if (const QString path = ask_for_program(tr("Cut another after it")); !path.isEmpty()) queue(path);
}

void ProgramSheet::queue(const QString& path) {
  session_.editor().change_book(
      tr("Cut another program after it"), [&](Book& b) { b.job.queue.push_back(path.toStdString()); },
      MachineFollows::no);
}

/// The stock's front left corner in the work frame, from where zero is on it.
void ProgramSheet::set_where(int choice) {
  session_.editor().change_book(tr("Say where zero is on the stock"), [choice](Book& b) {
    const auto& size = b.job.stock_size;
    const double x = choice == 1                  ? size[0] / 2
                     : choice == 2 || choice == 4 ? size[0]
                                                  : 0,
                 y = choice == 1                  ? size[1] / 2
                     : choice == 3 || choice == 4 ? size[1]
                                                  : 0;
    b.job.stock_corner = {-x, -y};
  });
}

void ProgramSheet::dragEnterEvent(QDragEnterEvent* event) {
  if (event->mimeData()->hasUrls() && event->mimeData()->urls().front().isLocalFile()) event->acceptProposedAction();
}

void ProgramSheet::dropEvent(QDropEvent* event) {
  if (event->mimeData()->hasUrls()) take_file(event->mimeData()->urls().front().toLocalFile());
}

void ProgramSheet::set_stock(std::size_t which, double mm) {
  if (!(mm > 0)) {
    session_.notices().notify({NoticeLevel::attention, tr("A stock's size must be above zero."), {}});
    return;
  }
  const int where = where_->currentIndex();
  session_.editor().change_book(tr("Change the stock"), [&](Book& b) { b.job.stock_size[which] = mm; });
  if (which < 2 && where > 0) set_where(where);
}

void ProgramSheet::refresh() {
  const bool drawing = shows_drawing();
  for (QWidget* w : {static_cast<QWidget*>(open_), static_cast<QWidget*>(next_), static_cast<QWidget*>(edit_),
                     of_material_, static_cast<QWidget*>(recent_heading_)})
    w->setVisible(!drawing);
  for (int i = 0; i < recent_->count(); ++i) recent_->itemAt(i)->widget()->setVisible(!drawing);
  for (QWidget* w : {write_, another_}) w->setVisible(drawing);
  if (!drawing)
    for (QLabel* l : {held_heading_, held_, places_heading_, places_}) l->hide();
  drawing ? show_drawing() : show_program();
}

void ProgramSheet::show_drawing() {
  drawing_->refresh();
  show_drawing_finding();
}

void ProgramSheet::show_drawing_finding() {
  const PageFinding f = drawing_->finding();
  name_->setText(f.lead);
  size_->setText(f.spread.isEmpty() ? f.figure : f.figure + ", " + f.spread);
  details_->setText(f.verdict.isEmpty() ? f.text : f.verdict + "\n\n" + f.text);
  const auto section = [](QLabel* heading, QLabel* label, const QString& words) {
    heading->setVisible(!words.isEmpty());
    label->setVisible(!words.isEmpty());
    set_text(label, words);
  };
  section(held_heading_, held_, drawing_->held_words());
  section(places_heading_, places_, drawing_->places_words());
  write_->setEnabled(f.can_keep);
  set_text(another_, f.second.isEmpty() ? tr("Open a drawing…") : f.second);
  another_->setEnabled(!session_.editor().read_only());
}

void ProgramSheet::show_program() {
  const Book& book = session_.editor().book();
  const LengthUnit unit = session_.editor().unit();
  for (std::size_t i = 0; i < 3; ++i) {
    stock_[i]->set_unit(unit);
    stock_[i]->show_value(book.job.stock_size[i] > 0 ? std::optional(book.job.stock_size[i]) : std::nullopt);
  }
  if (!material_->lineEdit()->hasFocus()) {
    material_->clear();
    for (const std::string& m : known_materials(book)) material_->addItem(to_q(m));
    material_->setCurrentText(to_q(book.job.stock_name));
  }
  material_->setEnabled(!session_.editor().read_only());
  layers_->refresh();
  const auto& corner = book.job.stock_corner;
  const bool right = -corner[0] > 0.75 * book.job.stock_size[0], back = -corner[1] > 0.75 * book.job.stock_size[1];
  where_->setCurrentIndex(corner == std::array<double, 2>{} ? 0 : right && back ? 4 : right ? 2 : back ? 3 : 1);
  clamps_->refresh();
  edit_->setEnabled(session_.job().program() != nullptr);
  plan_->invalidate();
  elevation_->update();
  const auto loaded = session_.job().program();
  if (!loaded) {
    name_->setText(tr("None loaded"));
    size_->setText({});
    details_->setText(
        tr("A program is a text file in G-code, as your drawing software exports it. It is read whole or not at all; "
           "nothing moves until you start it on the sheet Cut."));
  } else {
    const Program& p = loaded->program;
    name_->setText(QFileInfo(loaded->path).fileName());
    const auto len = [&](double mm, int d = 1) { return to_q(format_length(mm, unit, d)); };
    std::set<int> tools;
    const double top = book.job.stock_top_z();
    const double deepest = p.cut.empty() ? 0 : deepest_tip(p, TipDrop(p, book, session_.machine().status().tool));
    double widest = 0;
    for (const Event& e : p.events)
      if (e.kind == EventKind::tool_change) tools.insert(static_cast<int>(e.value));
    if (tools.empty()) tools.insert(session_.machine().status().tool);
    for (const int t : tools)
      if (const Tool* tool = book.tool(t))
        widest = std::max(widest, 2 * radius_at(*tool, std::max(0.0, top - deepest)));
    QStringList lines, names;
    for (const int t : tools)
      names << (book.tool(t) ? tr("T%1 %2").arg(t).arg(to_q(book.tool(t)->name))
                             : tr("T%1, not among your tools").arg(t));
    if (p.cut.empty()) {
      size_->setText(tr("It cuts nothing."));
    } else {
      const double w = p.cut.high.x - p.cut.low.x, h = p.cut.high.y - p.cut.low.y;
      size_->setText(tr("Cuts %1 × %2 %3").arg(len(w + widest), len(h + widest), to_q(unit_name(unit))));
      lines << tr("The tool's centre travels %1 × %2, X %3 to %4, Y %5 to %6.")
                   .arg(len(w), len(h), len(p.cut.low.x), len(p.cut.high.x), len(p.cut.low.y), len(p.cut.high.y));
      lines << tr("Deepest %1, highest %2.").arg(len(deepest, 2), len(p.centre.high.z, 1));
    }
    lines << tr("About %1, %2 of it cutting.")
                 .arg(to_q(format_duration(loaded->time.total_s)), to_q(format_duration(loaded->time.cutting_s)));
    lines << tr("%1 lines, %2 moves%3.")
                 .arg(p.lines)
                 .arg(p.motions.size())
                 .arg(p.in_inches ? tr(", in inches") : QString());
    lines << names.join("\n");
    const auto& s = book.job.stock_size;
    if (s[0] > 0 && !p.cut.empty() &&
        (p.cut.low.x - widest / 2 < corner[0] || p.cut.low.y - widest / 2 < corner[1] ||
         p.cut.high.x + widest / 2 > corner[0] + s[0] || p.cut.high.y + widest / 2 > corner[1] + s[1]))
      lines << tr("◐ With zero where it is on the stock it runs past the stock's edge.");
    QStringList after;
    for (const auto& path : book.job.queue) after << QFileInfo(to_q(path)).fileName();
    if (!after.isEmpty()) lines << tr("After it: %1").arg(after.join(", "));
    constexpr int comments_shown = 3;
    int shown = 0;
    for (const Comment& c : p.comments)
      if (shown < comments_shown && !rests_on(c.text)) {
        lines << tr("“%1”").arg(to_q(c.text).trimmed());
        ++shown;
      }
    const bool on_bed = book.job.used().on_bed, board = book.job.board_mm > 0;
    if (const double below = book.job.lies_on_z() - deepest; s[2] > 0 && !p.cut.empty() && below > 0)
      lines << (board    ? tr("◐ It cuts %1 into the board below.")
                : on_bed ? tr("◐ With zero on the bed it cuts %1 into it.")
                         : tr("◐ With zero on the stock's top it cuts %1 into the bed."))
                   .arg(len(below, 2));
    details_->setText(lines.join("\n\n"));
  }
  QStringList recent;
  const auto program = session_.job().program();  // what is loaded need not be offered
  for (const auto& path : book.job.recent_programs)
    if (recent.size() < 4 && !(program && program->path == to_q(path))) recent << to_q(path);
  if (recent != shown_recent_) {
    shown_recent_ = recent;
    while (QLayoutItem* item = recent_->takeAt(0)) {
      item->widget()->deleteLater();
      delete item;
    }
    for (int i = 0; i < recent.size(); ++i) {
      const QString path = recent[i];
      auto* button = make_button(QString("recent-%1").arg(i), QFileInfo(path).fileName(), path, this);
      connect(button, &QPushButton::clicked, this, [this, path] { session_.job().load_program(path); });
      recent_->addWidget(button);
    }
  }
}

}  // namespace ypsi::app
