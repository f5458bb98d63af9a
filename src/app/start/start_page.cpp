#include "app/start/start_page.h"

#include <QDir>
#include <QFileDialog>
#include <QPainter>
#include <QScrollArea>
#include <QVBoxLayout>

#include "app/demo.h"
#include "app/drawing/draft.h"
#include "app/session/book_store.h"
#include "app/sheets/sheet.h"
#include "app/to_q.h"
#include "core/book/machine_kinds.h"

namespace ypsi::app {
namespace {

/// What is next, with the mark of how it stands.
class NextLine : public QWidget {
 public:
  NextLine(const KnownMachine& machine, QWidget* parent) : QWidget(parent), machine_(machine) {
    setFixedHeight(20);
    setAccessibleName(machine.next);
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    QPainter painter(this);
    Draft draft(painter);
    const Mark mark = mark_of(machine_.standing);
    draft.mark({6, 10}, mark);
    draft.text({20, 15}, machine_.next, machine_.standing == Standing::out_of_date ? theme().ochre : theme().second_ink,
               12);
  }

 private:
  KnownMachine machine_;
};

}  // namespace

KindSketch::KindSketch(const QString& kind, QWidget* parent) : QWidget(parent), kind_(kind) {
  setFixedSize(96, 62);
  setAccessibleName(kind);
}

void KindSketch::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  Draft draft(painter);
  const QRectF bed(8, 8, 80, 46);
  if (kind_ == QLatin1String("cutting_table")) {
    draft.box(bed, theme().ink, theme().stock, 1.4);
    draft.box(QRectF(43, 4, 10, 54), theme().ink, theme().paper, 1.4);
    draft.box(QRectF(41, 24, 14, 14), theme().teal, theme().teal_soft, 1.4);
  } else if (machine_kind(kind_.toStdString()).form == MachineForm::moving_bed) {
    draft.box(QRectF(24, 30, 48, 24), theme().ink, theme().stock, 1.4);
    draft.line({10, 54}, {10, 10}, theme().ink, 1.4);
    draft.line({86, 54}, {86, 10}, theme().ink, 1.4);
    draft.box(QRectF(6, 12, 84, 9), theme().ink, theme().paper, 1.4);
    draft.box(QRectF(41, 8, 14, 24), theme().ink, theme().teal_soft, 1.4);
  } else {
    draft.line({10, 8}, {10, 54}, theme().ink, 1.4);
    draft.line({86, 8}, {86, 54}, theme().ink, 1.4);
    draft.line({10, 54}, {86, 54}, theme().ink, 1.4);
    draft.box(QRectF(6, 22, 84, 9), theme().ink, theme().paper, 1.4);
    draft.box(QRectF(41, 14, 14, 26), theme().ink, theme().teal_soft, 1.4);
  }
}

StartPage::StartPage(const MyMachines& machines, QWidget* parent) : QWidget(parent), machines_(machines) {
  setObjectName("start-page");
  setAttribute(Qt::WA_StyledBackground);
  auto* page = new QVBoxLayout(this);
  page->setContentsMargins(48, 20, 48, 16);
  page->setSpacing(4);
  auto* title = make_label("start-title", "title", tr("Which machine?"), this);
  title->setStyleSheet("font-size: 28px;");
  page->addWidget(title);
  page->addWidget(
      make_label("start-hint", "task", tr("Each has a book of its own. Nothing moves before you ask for it."), this));
  said_ = make_label("start-said", "attention", "", this);
  page->addWidget(said_);
  page->addSpacing(10);
  auto* columns = new QHBoxLayout;
  columns->setSpacing(36);
  page->addLayout(columns, 1);

  auto* left = new QVBoxLayout;
  left->setSpacing(8);
  columns->addLayout(left, 6);
  left->addWidget(make_label("yours", "heading", tr("YOUR MACHINES"), this));
  none_ = make_label("no-machines", "task",
                     tr("None yet. Begin a book for yours on the right, or learn first on one that is simulated: "
                        "nothing real moves there."),
                     this);
  left->addWidget(none_);
  auto* area = new QScrollArea(this);
  area->setWidgetResizable(true);
  area->setFrameShape(QFrame::NoFrame);
  list_ = new QWidget(area);
  list_->setObjectName("machines");
  rows_ = new QVBoxLayout(list_);
  rows_->setContentsMargins(0, 0, 6, 0);
  rows_->setSpacing(10);
  rows_->addStretch();
  area->setWidget(list_);
  left->addWidget(area, 1);
  auto* files = new QHBoxLayout;
  files->setSpacing(16);
  add_act(files, "open-file", tr("Another book from a file…"), tr("A book that is kept elsewhere (Ctrl+O)"), this,
          [this] { open_a_file(); })
      ->setShortcut(QKeySequence("Ctrl+O"));
  add_act(files, "bring-back", tr("Bring one back from a copy…"),
          tr("Puts a copy, or the save before, among your machines as a book of its own"), this,
          [this] { bring_back(); });
  left->addLayout(files);
  left->addSpacing(10);
  left->addWidget(make_label("without", "heading", tr("OR WITHOUT A MACHINE"), this));
  auto* learn = make_card(this);
  auto* rows = new QVBoxLayout(learn);
  rows->setContentsMargins(18, 10, 18, 10);
  rows->setSpacing(6);
  rows->addWidget(make_label("learn-title", "strong", tr("Learn on one that is simulated; nothing real moves"), learn));
  for (const DemoMachine& machine : demo_machines()) {
    auto* row = new QHBoxLayout;
    row->addWidget(make_label("learn-" + machine.id + "-what", "small", machine.name + ": " + machine.what, learn), 1);
    auto* open = add_act(row, "learn-" + machine.id, tr("Open"), tr("%1 and its stand-in").arg(machine.name), learn,
                         [this, id = machine.id] { emit simulated_chosen(id); });
    open->setFixedHeight(30);
    rows->addLayout(row);
  }
  left->addWidget(learn);

  begin_ = new BeginCard(this);
  columns->addWidget(begin_, 5);
  page->addSpacing(8);
  page->addWidget(make_label("start-foot", "small",
                             tr("Books are files in the open, in millimetres; new ones are kept in %1.")
                                 .arg(QDir::toNativeSeparators(machines_.folder())),
                             this));
  connect(begin_, &BeginCard::begun, this, &StartPage::begin);
  refresh();
}

void StartPage::add_machine(const KnownMachine& machine, bool first) {
  auto* card = make_card(list_);
  card->setProperty("machine", machine.path);
  auto* row = new QHBoxLayout(card);
  row->setContentsMargins(14, 8, 18, 8);
  row->addWidget(new KindSketch(machine.kind_id, card));
  auto* words = new QVBoxLayout;
  words->setSpacing(1);
  auto* heading = new QHBoxLayout;
  auto* name = make_label("machine-is", "title", machine.name, card);
  name->setWordWrap(false);
  heading->addWidget(name);
  heading->addSpacing(8);
  heading->addWidget(make_label("machine-kind", "small", machine.kind, card), 1, Qt::AlignBottom);
  words->addLayout(heading);
  words->addWidget(make_label("machine-state", machine.readable ? "task" : "attention", machine.state, card));
  if (machine.readable) words->addWidget(new NextLine(machine, card));
  row->addLayout(words, 1);
  auto* open = make_button("open-machine", tr("Open"), machine.path, card, first);
  open->setEnabled(machine.readable);
  connect(open, &QPushButton::clicked, this, [this, path = machine.path] { emit book_chosen(path); });
  row->addWidget(open, 0, Qt::AlignVCenter);
  rows_->insertWidget(rows_->count() - 1, card);
}

void StartPage::refresh() {
  while (rows_->count() > 1) {
    QLayoutItem* item = rows_->takeAt(0);
    delete item->widget();
    delete item;
  }
  const QStringList books = machines_.books();
  for (const QString& path : books) add_machine(look_at(path), path == books.front());
  none_->setVisible(books.isEmpty());
}

void StartPage::say(const QString& sentence) {
  said_->setText(sentence);
}

void StartPage::open_a_file() {
  const QString path = QFileDialog::getOpenFileName(this, tr("A machine's book"), {}, book_filter());
  if (path.isEmpty()) return;
  const KnownMachine found = look_at(path);
  if (found.readable)
    emit book_chosen(path);
  else
    say(found.state);
}

void StartPage::bring_back() {
  const QString path =
      QFileDialog::getOpenFileName(this, tr("The copy, or the save before"), machines_.folder(),
                                   tr("Books and their saves before (*.ypsi *.previous);;All files (*)"));
  if (path.isEmpty()) return;
  const auto read = BookStore::load(path);
  if (!read) return say(to_q(read.error().message));
  if (read->from_later_version())
    return say(
        tr("That book was written by a later version of this program, so it cannot be copied; open it to read it."));
  const auto kept = machines_.keep_new(read->book);
  if (!kept) return say(to_q(kept.error().message));
  say(tr("It is among your machines again, as a book of its own: %1.").arg(QFileInfo(*kept).fileName()));
  refresh();
}

void StartPage::begin(BeginWay way) {
  const auto book = begin_->book();
  if (!book) {
    begin_->say(to_q(book.error().message));
    if (book.error().where == "name") begin_->name()->setFocus();
    return;
  }
  const auto kept = machines_.keep_new(*book);
  if (!kept) return begin_->say(to_q(kept.error().message));
  begin_->start_over();
  emit book_begun(*kept, way);
}

}  // namespace ypsi::app
