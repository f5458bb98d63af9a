#include "app/sheets/program/drawing_page.h"

#include <QColorDialog>
#include <QFileDialog>
#include <QFileInfo>
#include <QHeaderView>
#include <algorithm>
#include <cmath>

#include "app/session/book_editor.h"
#include "app/session/job_session.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/session/text_file.h"
#include "app/sheets/page_foot.h"
#include "app/sheets/program/drawing_view.h"
#include "app/sheets/program/layer_more.h"
#include "app/sheets/program/look_view.h"
#include "app/sheets/sheet.h"
#include "app/to_q.h"
#include "app/widgets/plain_table.h"
#include "core/tasks/trials.h"
#include "core/tasks/work_zero.h"

namespace ypsi::app {

DrawingPage::DrawingPage(Session& session)
    : FindingPage(session), loader_(new DrawingLoader(this)), maker_(new DrawingMaker(this)) {
  auto* column = make_card_page(this);
  QWidget* card = column->parentWidget();
  caption_ = make_label("drawing-caption", "caption", "", card);
  column->addWidget(caption_);
  view_ = new DrawingView(card);
  look_ = new LookView(card);
  auto* views = new QHBoxLayout;
  views->addWidget(view_, 1);
  views->addWidget(look_, 1);
  column->addLayout(views, 1);
  unit_words_ = make_label("drawing-unit", "small", "", card);
  column->addWidget(unit_words_);
  layers_ = make_table(
      "drawing-layers", tr("Layers of the drawing and what is done with each"),
      {tr("Layer"), tr("What is done"), tr("With"), tr("Deep"), tr("Passes"), tr("Over"), tr("Feed"), tr("Set to")},
      layer_name, 28, card);
  const std::pair<LayerColumn, QString> tips[] = {
      {layer_act, tr("What is done with the lines of this layer; kept by the layer's name for the next drawing")},
      {layer_with, tr("The head, or the tool that hangs on it")},
      {layer_depth, tr("How deep, where the head goes down by Z")},
      {layer_passes, tr("In how many passes")},
      {layer_over, tr("How far a cut runs on past a corner, or past its start where it has none")},
      {layer_feed, tr("mm/min; empty: as is usual")},
      {layer_level, tr("On the head's gauge, where its own block takes it")}};
  for (const auto& [at, tip] : tips) layers_->horizontalHeaderItem(at)->setToolTip(tip);
  // The name takes what the others leave, so that nothing is to be pushed sideways in a narrow window.
  layers_->horizontalHeader()->setSectionResizeMode(layer_name, QHeaderView::Stretch);
  for (int at = layer_act; at <= layer_level; ++at)
    layers_->horizontalHeader()->setSectionResizeMode(at, QHeaderView::Fixed);
  fit_columns();
  layers_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  layers_->setSizeAdjustPolicy(QAbstractScrollArea::AdjustToContents);
  column->addWidget(layers_);
  more_ = new LayerMore(session, card);
  column->addWidget(more_);
  connect(layers_, &QTableWidget::currentCellChanged, this, &DrawingPage::show_more);
  connect(more_, &LayerMore::changed, this, &DrawingPage::say);
  PageFoot foot(column, card);
  auto* settings = foot.settings();
  columns_ = add_field(settings, "drawing-columns", tr("Copies"), tr("How many beside each other, 1 or more"), 0,
                       session, card)
                 .field;
  rows_ =
      add_field(settings, "drawing-rows", tr("×"), tr("How many behind each other, 1 or more"), 0, session, card).field;
  gap_ = add_field(settings, "drawing-gap", tr("apart"), tr("Room between copies"), 1, session, card).field;
  for (LengthField* f : {columns_, rows_}) {
    f->set_unit(LengthUnit::none);
    f->set_decimals(0);
    f->setFixedWidth(54);
  }
  gap_->setFixedWidth(86);
  each_ = make_chip("drawing-each", tr("A program each"),
                    tr("Each copy has a program of its own; the first is loaded, the others stand beside it"), card);
  each_->setAutoExclusive(false);
  settings->addWidget(each_);
  connect(each_, &QPushButton::clicked, this,
          [this](bool on) { change(tr("Choose one program or one each"), [&](DrawingJob& j) { j.one_each = on; }); });
  stepping_ =
      make_chip("drawing-steps", tr("Step by step"), tr("Shows it line by line, in the order of the cut"), card);
  stepping_->setAutoExclusive(false);
  settings->addWidget(stepping_);
  looking_ = make_chip("drawing-look", tr("As it will look"),
                       tr("The plate beside it, each line as wide as its tool leaves it"), card);
  looking_->setAutoExclusive(false);
  settings->addWidget(looking_);
  connect(looking_, &QPushButton::toggled, this, &DrawingPage::show_look);
  connect(look_, &LookView::colour_wanted, this, &DrawingPage::choose_colour);
  connect(stepping_, &QPushButton::toggled, this, [this] {
    show_steps();
    show_view();
  });
  corner_ = add_act(foot.acts(), "drawing-corner", tr("Zero at its corner"),
                    tr("The drawing's lower left corner lies on work zero again"), card,
                    [this] { change(tr("Choose what lies on work zero"), [](DrawingJob& j) { j.zero_mm.reset(); }); });
  number_acts({corner_});
  hint_ = foot.hint("drawing-hint", "task");
  steps_row_ = new QWidget(card);
  auto* steps = new QHBoxLayout(steps_row_);
  steps->setContentsMargins(0, 0, 0, 0);
  step_ = new QSlider(Qt::Horizontal, steps_row_);
  step_->setObjectName("drawing-step");
  step_->setAccessibleName(tr("How far it is cut"));
  step_->setMinimum(1);
  constexpr int handle_px = 24;
  step_->setMinimumHeight(handle_px);
  step_words_ = make_label("drawing-step-words", "small", "", steps_row_);
  steps->addWidget(step_, 1);
  steps->addWidget(step_words_, 1);
  column->addWidget(steps_row_);
  connect(step_, &QSlider::valueChanged, this, [this] {
    show_steps();
    show_view();
  });

  connect(maker_, &DrawingMaker::done, this, [this](std::shared_ptr<const MadeDrawing> program) {
    made_ = std::move(program);
    show_made();
    emit made();
  });
  connect(layers_, &QTableWidget::cellChanged, this, [this](int row) {
    if (!showing_)
      QMetaObject::invokeMethod(
          this, [this, row] { take_row(row); }, Qt::QueuedConnection);
  });
  connect(view_, &DrawingView::zero_chosen, this, [this](double x, double y) {
    if (!session_.editor().read_only())
      change(tr("Choose what lies on work zero"), [&](DrawingJob& j) { j.zero_mm = {x, y}; });
  });
  connect(view_->width_field(), &LengthField::committed, this, &DrawingPage::set_width);
  const auto count = [this](LengthField* field, int DrawingJob::*value) {
    connect(field, &LengthField::committed, this, [this, value](double v) {
      constexpr double most = 1000;
      if (!(v >= 1 && v <= most)) {
        session_.notices().notify({NoticeLevel::attention, tr("There are 1 to 1000 copies each way."), {}});
        return refresh();
      }
      change(tr("Say how many copies"), [&](DrawingJob& j) { j.*value = static_cast<int>(std::lround(v)); });
    });
  };
  count(columns_, &DrawingJob::columns);
  count(rows_, &DrawingJob::rows);
  connect(gap_, &LengthField::committed, this, [this](double mm) {
    if (mm < 0) return refresh();
    change(tr("Say how far copies are apart"), [&](DrawingJob& j) { j.gap_mm = mm; });
  });
  connect(loader_, &DrawingLoader::loaded, this, [this](const std::shared_ptr<const LoadedDrawing>& drawing) {
    drawing_ = drawing;
    failed_.clear();
    refresh();
    emit found();
  });
  connect(loader_, &DrawingLoader::failed, this, [this](const QString&, const QString& sentence) {
    drawing_.reset();
    failed_ = sentence;
    session_.notices().notify({NoticeLevel::attention, sentence, {}});
    refresh();
    emit found();
  });
}

bool DrawingPage::takes(const QString& path) {
  const QString ending = QFileInfo(path).suffix().toLower();
  return ending == "dxf" || ending == "svg";
}

const DrawingJob& DrawingPage::job() const {
  static const DrawingJob none;
  const auto& in_book = session_.editor().book().job.drawing;
  return in_book ? *in_book : none;
}

void DrawingPage::change(const QString& text, const std::function<void(DrawingJob&)>& how) {
  session_.editor().change_book(
      text,
      [&](Book& b) {
        if (!b.job.drawing) b.job.drawing.emplace();
        how(*b.job.drawing);
      },
      MachineFollows::no);
}

void DrawingPage::open(const QString& path) {
  asked_.clear();  // it is read again, also where it is the same
  change(tr("Open a drawing"), [&](DrawingJob& j) {
    if (j.file != path.toStdString()) {
      j.unit.clear();
      j.zero_mm.reset();
    }
    j.file = path.toStdString();
  });
  refresh();
}

void DrawingPage::second() {
  const QString start = drawing_ ? drawing_->path : QFileInfo(session_.editor().book_path()).absolutePath();
  const QString path =
      QFileDialog::getOpenFileName(this, tr("Open a drawing"), start, tr("Drawings (*.dxf *.svg);;All files (*)"));
  if (!path.isEmpty()) open(path);
}

LayerAct DrawingPage::act_of(const std::string& layer) const {
  for (const LayerAct& a : job().acts)
    if (a.layer == layer) return a;
  LayerAct none;
  none.layer = layer;
  return none;
}

/// The whole drawing is as wide as that: so large is one of its units.
void DrawingPage::set_width(double mm) {
  const auto box = drawing_ ? drawing_->drawing.extents() : std::nullopt;
  if (!box || !(mm > 0)) return refresh();
  const double is = box->high.real() - box->low.real();
  if (!(is > 0)) return refresh();
  const std::string unit = name_of_unit(drawing_->drawing.unit_mm * mm / is);
  change(tr("Say how large the drawing is"), [&](DrawingJob& j) {
    j.unit = unit;
    j.zero_mm.reset();
  });
}

const std::vector<HeadPath>& DrawingPage::paths() const {
  static const std::vector<HeadPath> none;
  return made_ ? made_->paths : none;
}

void DrawingPage::make() {
  made_.reset();
  if (!drawing_) return maker_->forget();
  maker_->make(drawing_, session_.editor().book_without_record(), named_job(), stock_turn(session_.editor().book()));
}

/// As its programs name it. Precondition: a drawing is open.
DrawingJob DrawingPage::named_job() const {
  DrawingJob of = job();
  of.file = QFileInfo(drawing_->path).fileName().toStdString();
  return of;
}

void DrawingPage::show_made() {
  show_steps();
  show_look();
  show_view();
}

bool DrawingPage::write() {
  if (!made_) return false;
  if (!made_->program) {
    session_.notices().notify({NoticeLevel::attention, to_q(made_->program.error().message), {}});
    return false;
  }
  const QFileInfo file(drawing_->path);
  const QString beside = file.absolutePath() + "/" + file.completeBaseName();
  const DrawingJob of = named_job();
  if (!of.one_each || of.columns * of.rows == 1) return write_and_load({made_->program->text}, beside);
  const auto programs = drawing_programs(session_.editor().book_without_record(), drawing_->drawing, of);
  if (!programs) {
    session_.notices().notify({NoticeLevel::attention, to_q(programs.error().message), {}});
    return false;
  }
  std::vector<std::string> texts;
  for (const HeadProgram& p : *programs) texts.push_back(p.text);
  return write_and_load(texts, beside);
}

/// The first is loaded.
bool DrawingPage::write_and_load(const std::vector<std::string>& texts, const QString& beside) {
  QStringList names;
  QString first;
  for (std::size_t i = 0; i < texts.size(); ++i) {
    const QString number = texts.size() > 1 ? QString("-part-%1").arg(i + 1) : QString();
    const auto written = write_beside(beside + number + ".ngc", texts[i]);
    if (!written) {
      session_.machine().ask(tl::make_unexpected(written.error()));
      return false;
    }
    if (i == 0) first = *written;
    names << QFileInfo(*written).fileName();
  }
  session_.job().load_program(first);
  session_.notices().notify({NoticeLevel::good,
                             texts.size() == 1 ? tr("Written and loaded: “%1”.").arg(names.front())
                                               : tr("%1 programs written, “%2” to “%3”, all from the same work zero. "
                                                    "The first is loaded.")
                                                     .arg(texts.size())
                                                     .arg(names.front(), names.back()),
                             {}});
  return true;
}

void DrawingPage::show_steps() {
  const int n = static_cast<int>(paths().size());
  stepping_->setEnabled(n > 0);
  const bool on = stepping_->isChecked() && n > 0;
  steps_row_->setVisible(on);
  if (!on) return;
  if (step_->maximum() != n) {
    const QSignalBlocker quiet(step_);
    step_->setRange(1, n);
  }
  const HeadPath& path = paths()[static_cast<std::size_t>(step_->value() - 1)];
  const auto& heads = session_.editor().book().machine.heads;
  const QString by = path.head < heads.size() ? to_q(heads[path.head].name) : tr("spindle");
  set_text(
      step_words_,
      path.tool > 0
          ? tr("%1 of %2: %3, by the %4 with T%5").arg(step_->value()).arg(n).arg(to_q(path.remark), by).arg(path.tool)
          : tr("%1 of %2: %3, by the %4").arg(step_->value()).arg(n).arg(to_q(path.remark), by));
}

void DrawingPage::show_look() {
  const Book& book = session_.editor().book();
  looking_->setVisible(engraves(book.machine));
  const bool on = looking_->isVisibleTo(this) && looking_->isChecked();
  look_->setVisible(on);
  if (!on) return;
  const Material plate = material_named(book.job.materials, book.job.stock_name);
  LookView::Shown shown;
  if (made_) shown.look = made_->look;
  shown.corner = {book.job.stock_corner[0], book.job.stock_corner[1]};
  shown.size = {book.job.stock_size[0], book.job.stock_size[1]};
  shown.cap = plate.cap_mm;
  shown.cap_colour = QColor(to_q(plate.cap_colour));
  shown.core_colour = QColor(to_q(plate.core_colour));
  look_->show(std::move(shown));
}

void DrawingPage::choose_colour(bool of_cap) {
  const Job& on = session_.editor().book().job;
  const Material plate = material_named(on.materials, on.stock_name);
  const QColor chosen = QColorDialog::getColor(QColor(to_q(of_cap ? plate.cap_colour : plate.core_colour)), this,
                                               of_cap ? tr("The colour of the cap") : tr("The colour of the core"));
  if (!chosen.isValid()) return;
  session_.editor().change_book(
      tr("Say what colour the plate is"),
      [&](Book& b) {
        Material& m = describe_material(b.job.materials, b.job.stock_name);
        (of_cap ? m.cap_colour : m.core_colour) = chosen.name().toStdString();
      },
      MachineFollows::no);
}

void DrawingPage::show_view() {
  const Book& book = session_.editor().book();
  DrawingView::Shown shown;
  shown.drawing = drawing_;
  if (drawing_) {
    const Drawing& d = drawing_->drawing;
    for (std::size_t i = 0; i < d.layers.size(); ++i) shown.acts[i] = act_of(d.layers[i].name).act;
    const auto box = d.extents();
    shown.zero = job().zero_mm ? PlanPoint((*job().zero_mm)[0], (*job().zero_mm)[1]) : box ? box->low : PlanPoint();
    const HeadPath* before = nullptr;
    for (const HeadPath& p : paths()) {
      const bool hatched = act_of(p.remark).act == DrawnAct::hatch;
      // Lines of one hatch have one number: their first's.
      const bool goes_on = hatched && before && before->remark == p.remark;
      shown.begins.push_back(goes_on ? shown.begins.back() : p.points.front() + shown.zero);
      before = &p;
      if (!hatched) continue;
      shown.hatch.push_back(p.points);
      for (PlanPoint& at : shown.hatch.back()) at += shown.zero;
    }
    if (stepping_->isChecked() && !paths().empty())
      for (std::size_t i = 0; i < static_cast<std::size_t>(step_->value()) && i < paths().size(); ++i) {
        shown.cut.push_back(paths()[i].points);
        for (PlanPoint& p : shown.cut.back()) p += shown.zero;
      }
    shown.stock_corner = shown.zero + PlanPoint(book.job.stock_corner[0], book.job.stock_corner[1]);
    shown.stock_size = {book.job.stock_size[0], book.job.stock_size[1]};
    const auto &x = book.job.zero(Axis::x), &y = book.job.zero(Axis::y);
    if (x && y && made_ && made_->held && *made_->held)
      for (std::size_t i = 0; i < book.machine.vacuum.zones.size(); ++i) {
        const VacuumZone& zone = book.machine.vacuum.zones[i];
        Outline outline = rectangle({zone.x_mm, zone.y_mm}, {zone.width_mm, zone.depth_mm});
        for (PlanPoint& p : outline)
          p = (p - PlanPoint(x->mm, y->mm)) * std::polar(1.0, -stock_turn(book)) + shown.zero;
        shown.zones.push_back({std::move(outline), to_q(zone.name), (*made_->held)->zones[i].open});
      }
  }
  view_->show(std::move(shown), session_.editor().unit());
}

void DrawingPage::fit_columns() {
  constexpr int roomy_from_px = 500;
  const bool narrow = width() < roomy_from_px;
  constexpr int passes_px = 47;  // the longest of the narrow ones' names
  const int act_px = narrow ? 128 : 130, with_px = narrow ? 84 : 96, number_px = narrow ? 42 : passes_px;
  layers_->horizontalHeader()->setMinimumSectionSize(number_px);
  for (int at = layer_act; at <= layer_level; ++at)
    layers_->setColumnWidth(at, at == layer_act      ? act_px
                                : at == layer_with   ? with_px
                                : at == layer_passes ? passes_px
                                                     : number_px);
}

void DrawingPage::resizeEvent(QResizeEvent* event) {
  FindingPage::resizeEvent(event);
  fit_columns();
}

void DrawingPage::refresh() {
  const DrawingJob& j = job();
  const QString path = to_q(j.file);
  if (path != asked_ || j.unit != asked_unit_) {
    asked_ = path;
    asked_unit_ = j.unit;
    if (path.isEmpty())
      drawing_.reset();
    else
      loader_->load(path, j.unit, session_.editor().book().machine);
  }
  make();
  show_layers();
  show_more();
  if (!made_) show_made();
  set_text(caption_, loader_->busy() ? tr("Reading…")
                     : drawing_
                         ? tr("%1 on its stock, by what each layer says").arg(QFileInfo(drawing_->path).fileName())
                         : tr("A drawing, layer by layer"));
  set_text(unit_words_,
           !drawing_ ? QString()
           : drawing_->drawing.unit_from == UnitFrom::owner
               ? tr("So wide as you said: one of its units is %1 mm.").arg(drawing_->drawing.unit_mm, 0, 'g', 6)
               : tr("Is it so wide? %1. Where not, measure it and type how wide the whole is.")
                     .arg(to_q(drawing_->drawing.unit_words)));
  columns_->show_value(j.columns);
  rows_->show_value(j.rows);
  gap_->set_unit(session_.editor().unit());
  gap_->show_value(j.gap_mm);
  each_->setVisible(j.columns * j.rows > 1);
  each_->setChecked(j.one_each);
  const bool writable = !session_.editor().read_only();
  corner_->setVisible(j.zero_mm.has_value());
  corner_->setEnabled(writable);
  for (QWidget* w : {static_cast<QWidget*>(columns_), static_cast<QWidget*>(rows_), static_cast<QWidget*>(gap_),
                     static_cast<QWidget*>(view_->width_field())})
    w->setEnabled(writable);
  set_text(hint_, drawing_
                      ? tr("Numbers show where lines are begun, in their order. Click a corner to lay it on work zero.")
                      : tr("Open a drawing, or drop one on this sheet."));
}

}  // namespace ypsi::app
