#include "app/describe/describe_dialog.h"

#include <QFileDialog>
#include <QMessageBox>
#include <QPainter>
#include <QScreen>
#include <QVBoxLayout>

#include "app/describe/line_log_view.h"
#include "app/describe/part_page.h"
#include "app/describe/part_words.h"
#include "app/drawing/draft.h"
#include "app/session/book_editor.h"
#include "app/session/described_controllers.h"
#include "app/session/machine_session.h"
#include "app/session/text_file.h"
#include "app/sheets/sheet.h"
#include "app/to_q.h"
#include "link/describing/describing_bench.h"

namespace ypsi::app {
namespace {
constexpr int parts_width = 216, log_width = 330, leaves_height = 52;
constexpr int own_role = Qt::UserRole + 1;
constexpr const char* faces[] = {"bare", "asked", "telling"};

/// As on the staff: described and seen to work, described, left to the owner.
QIcon icon_of(Mark mark) {
  constexpr int side = 16;
  QPixmap picture(side, side);
  picture.fill(Qt::transparent);
  QPainter painter(&picture);
  painter.setRenderHint(QPainter::Antialiasing);
  Draft(painter).mark({side / 2.0, side / 2.0}, mark);
  return QIcon(picture);
}
}  // namespace

DescribeDialog::DescribeDialog(Session& session, QWidget* parent)
    : QDialog(parent), session_(session), draft_(std::make_shared<link::ControllerDescription>()) {
  setObjectName(QStringLiteral("describe-dialog"));
  setAttribute(Qt::WA_DeleteOnClose);
  setWindowTitle(tr("Describe a controller"));
  resize(QSize(1120, 700).boundedTo(screen()->availableSize()));
  auto* rows = new QVBoxLayout(this);
  rows->setContentsMargins(18, 14, 18, 14);
  rows->setSpacing(8);
  rows->addWidget(make_head());
  auto* body = new QHBoxLayout;
  body->setSpacing(12);
  body->addWidget(make_parts());
  page_box_ = new QScrollArea(this);
  page_box_->setObjectName("describe-page-box");
  page_box_->setWidgetResizable(true);
  page_box_->setFrameShape(QFrame::NoFrame);
  page_box_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  body->addWidget(page_box_, 1);
  log_ = new LineLogView(this);
  log_->setFixedWidth(log_width);
  body->addWidget(log_);
  rows->addLayout(body, 1);
  leaves_ = make_label("describe-leaves", "small", "", this);
  leaves_->setWordWrap(true);
  leaves_->setMinimumHeight(leaves_height);
  leaves_->setAlignment(Qt::AlignTop);
  rows->addWidget(leaves_);
  rows->addLayout(make_foot());

  connect(log_, &LineLogView::line_said, this, [this](const QString& text) {
    if (!connection_) return;
    if (const auto said = connection_->describing()->say(text.toStdString()); !said) say(to_q(said.error().message));
  });
  connect(log_, &LineLogView::bytes_said, this, [this](const QString& text) {
    if (!connection_) return;
    if (const auto said = connection_->describing()->say_bytes(text.toStdString()); !said)
      say(to_q(said.error().message));
  });
  connect(log_, &LineLogView::line_chosen, this, &DescribeDialog::show_states);
  connect(log_, &LineLogView::save_wanted, this, &DescribeDialog::save_log);
  list_lines();
  parts_->setCurrentRow(0);
  draft_changed();
  saved_ = link::write_controller(*draft_);
}

DescribeDialog::~DescribeDialog() = default;

QWidget* DescribeDialog::make_head() {
  auto* head = new QWidget(this);
  auto* rows = new QVBoxLayout(head);
  rows->setContentsMargins(0, 0, 0, 0);
  rows->setSpacing(6);
  rows->addWidget(make_label("describe-title", "title", tr("Describe a controller"), head));
  const auto word = [&](QHBoxLayout* row, const QString& text) {
    auto* label = make_label("describe-word", "small", text, head);
    label->setWordWrap(false);
    row->addWidget(label);
  };
  auto* who = new QHBoxLayout;
  word(who, tr("It is called"));
  name_ = new QLineEdit(head);
  name_->setObjectName("describe-name");
  name_->setAccessibleName(tr("What the controller is called"));
  who->addWidget(name_, 1);
  word(who, tr("begin with"));
  begin_with_ = new QComboBox(head);
  begin_with_->setObjectName("describe-begin-with");
  begin_with_->setAccessibleName(tr("What to begin with"));
  begin_with_->addItem(tr("nothing"), QString());
  for (const DescribedController& each : described_controllers()) {
    begin_with_->addItem(each.own ? tr("%1, described here").arg(each.name) : each.name, each.id);
    begin_with_->setItemData(begin_with_->count() - 1, each.own, own_role);
  }
  who->addWidget(begin_with_);
  rows->addLayout(who);
  auto* way = new QHBoxLayout;
  word(way, tr("It is on"));
  line_ = new QComboBox(head);
  line_->setObjectName("describe-lines");
  line_->setAccessibleName(tr("The line that it is on"));
  line_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  line_->setMinimumContentsLength(28);
  way->addWidget(line_, 1);
  address_ = new QLineEdit(head);
  address_->setObjectName("describe-address");
  address_->setAccessibleName(tr("Computer and port, or serial line"));
  way->addWidget(address_, 1);
  baud_ = new QComboBox(head);
  baud_->setObjectName("describe-baud");
  baud_->setAccessibleName(tr("Speed of the line"));
  for (const int baud : bauds) baud_->addItem(tr("%1 baud").arg(baud), baud);
  for (const int baud : slow_bauds) baud_->addItem(tr("%1 baud").arg(baud), baud);
  way->addWidget(baud_);
  open_ = add_act(way, "describe-open", tr("Open the line"), tr("Opens it, or closes it; nothing is sent by that"),
                  head, [this] { open_or_close(); });
  rows->addLayout(way);
  status_ = make_label("describe-status", "small", "", head);
  status_->setWordWrap(true);
  rows->addWidget(status_);
  connect(name_, &QLineEdit::textEdited, this, [this](const QString& text) {
    draft_->name = text.trimmed().toStdString();
    draft_changed();
  });
  connect(begin_with_, &QComboBox::activated, this, &DescribeDialog::begin_with);
  connect(line_, &QComboBox::activated, this, &DescribeDialog::show_way);
  connect(baud_, &QComboBox::activated, this, [this] {
    draft_->line.baud = baud_->currentData().toInt();
    draft_changed();
  });
  return head;
}

QWidget* DescribeDialog::make_parts() {
  parts_ = new QListWidget(this);
  parts_->setObjectName("describe-parts");
  parts_->setAccessibleName(tr("Parts of the description"));
  parts_->setFixedWidth(parts_width);
  for (const link::Part part : link::all_parts) {
    auto* item = new QListWidgetItem(parts_);
    item->setData(Qt::UserRole, static_cast<int>(part));
    item->setSizeHint({0, 24});
  }
  connect(parts_, &QListWidget::currentRowChanged, this, &DescribeDialog::show_part);
  return parts_;
}

QHBoxLayout* DescribeDialog::make_foot() {
  auto* foot = new QHBoxLayout;
  foot->addStretch(1);
  add_act(foot, "describe-close", tr("Close"), tr("Leaves the bench (Escape)"), this, [this] { reject(); });
  add_act(
      foot, "describe-save", tr("Save the description"),
      tr("Keeps it on this computer; Connect… lists it under “It talks as” from then on"), this, [this] { save(); },
      true);
  for (auto* each : findChildren<QPushButton*>()) each->setAutoDefault(false);
  return foot;
}

// ---------------------------------------------------------------------------------------------------------- the line

void DescribeDialog::list_lines() {
  line_->clear();
  if (session_.machine().stand_in())
    for (const char* face : faces) {
      Line line;
      line.controller = QString::fromLatin1(face);
      line_->addItem(tr("the stand-in in this window, as “%1” (simulated)").arg(line.controller), line.to_text());
    }
  for (const FoundLine& each : lines_found(last_line())) line_->addItem(each.text, each.line.to_text());
  show_way();
}

void DescribeDialog::show_way() {
  const auto line = Line::from_text(line_->currentData().toString());
  const bool tcp = line && line->kind == Line::Kind::tcp, serial = line && line->kind == Line::Kind::serial;
  address_->setVisible(tcp || serial);
  baud_->setVisible(serial);
  if (tcp || serial) address_->setText(place_text(*line));
}

std::optional<Line> DescribeDialog::wanted_line() const {
  const auto line = Line::from_text(line_->currentData().toString());
  return line ? with_place(*line, address_->text(), baud_->currentData().toInt()) : line;
}

void DescribeDialog::open_or_close() {
  if (connection_) return close_line();
  const auto line = wanted_line();
  if (!line) return say(no_place_words());
  auto made = Connection::to_describe(*line, session_.editor().book(), session_.machine().stand_in(), draft_);
  if (!made) return say(to_q(made.error().message));
  connection_ = std::move(*made);
  was_up_ = false;
  log_->begin();
  connect(connection_.get(), &Connection::ticked, this, &DescribeDialog::follow);
  if (const auto begun = connection_->open(); !begun) {
    say(to_q(begun.error().message));
    connection_.reset();
  } else {
    say(tr("Opening…"));
  }
  show_states();
}

void DescribeDialog::close_line() {
  if (connection_) connection_->describing()->give_up_try();
  if (connection_) connection_.release()->deleteLater();  // it may be told from its own tick
  trying_ = was_up_ = false;
  show_states();
}

/// What has come, what a try has shown, whether the line is still there.
void DescribeDialog::follow() {
  if (!connection_ || sender() != connection_.get()) return;
  link::DescribingBench& bench = *connection_->describing();
  const auto up = connection_->opened();
  if (!up) {
    const QString why = to_q(up.error().message);
    close_line();
    return say(why);
  }
  if (*up && !std::exchange(was_up_, true)) {
    say(tr("Open: %1. Say something to it at the right, and see what comes back.").arg(connection_->name()));
    show_states();
  }
  log_->show_new(bench.log(), link::LinePattern::of(draft_->report.answer));
  SettingsPage* const settings = page_->settings();
  if (settings && settings->asking()) {
    if (settings->go_on(bench.line().now_s())) begin_try(link::Part::settings);
  } else if (trying_ && !bench.trying()) {
    trying_ = false;
    if (const auto found = bench.found(); found && found->part == page_->part()) {
      page_->show_found(*found);
      tried_[found->part] = found->worked;  // whatever it has set by that
    }
    draft_changed();
  }
}

void DescribeDialog::begin_try(link::Part part) {
  const auto begun = connection_->describing()->begin_try(part);
  trying_ = begun.has_value();
  if (!begun) page_->say(to_q(begun.error().message));
}

void DescribeDialog::say(const QString& text) {
  status_->setText(text);
}

void DescribeDialog::save_log() {
  if (!connection_) return say(tr("No line is open, and nothing went over one."));
  const QString path =
      QFileDialog::getSaveFileName(this, tr("What went over the line"), QStringLiteral("line.txt"), tr("Text (*.txt)"));
  if (path.isEmpty()) return;
  const auto written = write_file(path, connection_->describing()->log().to_text());
  say(written ? tr("Written to %1.").arg(path) : to_q(written.error().message));
}

// --------------------------------------------------------------------------------------------------------- the parts

void DescribeDialog::begin_with(int row) {
  const QString id = begin_with_->itemData(row).toString();
  const auto read =
      id.isEmpty() ? Result<link::ControllerDescription>(link::ControllerDescription{}) : read_described(id);
  if (!read) return say(to_q(read.error().message));
  if (!may_leave()) return;
  *draft_ = *read;
  id_ = begin_with_->itemData(row, own_role).toBool() ? id : QString();
  name_->setText(to_q(draft_->name));
  if (const int at = baud_->findData(draft_->line.baud); at >= 0) baud_->setCurrentIndex(at);
  examples_.clear();
  tried_.clear();
  show_part();
  draft_changed();
  saved_ = link::write_controller(*draft_);
}

void DescribeDialog::show_part() {
  const auto part = static_cast<link::Part>(parts_->currentItem()->data(Qt::UserRole).toInt());
  if (connection_) connection_->describing()->give_up_try();
  trying_ = false;
  page_ = new PartPage(part, *draft_, examples_[part], page_box_);
  for (auto* each : page_->findChildren<QPushButton*>()) each->setAutoDefault(false);
  page_box_->setWidget(page_);  // the one before goes
  connect(page_, &PartPage::changed, this, [this] {
    tried_.erase(page_->part());  // what was seen to work was another
    draft_changed();
  });
  connect(page_, &PartPage::example_wanted, this, [this] {
    if (const auto line = log_->chosen()) page_->take_example(*line, log_->said_before());
  });
  connect(page_, &PartPage::example_taken, this,
          [this](const Example& example) { examples_[page_->part()] = example; });
  connect(page_, &PartPage::try_wanted, this, &DescribeDialog::try_part);
  connect(page_, &PartPage::give_up_wanted, this, [this] {
    if (connection_) connection_->describing()->give_up_try();
  });
  show_states();
}

void DescribeDialog::draft_changed() {
  const QStringList leaves = what_its_line_leaves(*draft_);
  leaves_->setText(leaves.isEmpty() ? tr("Nothing is left to you.")
                                    : tr("As it is described now: %1").arg(leaves.join(QChar(' '))));
  show_states();
}

void DescribeDialog::show_states() {
  for (int row = 0; row < parts_->count(); ++row) {
    auto* item = parts_->item(row);
    const auto part = static_cast<link::Part>(item->data(Qt::UserRole).toInt());
    const bool described = link::is_described(part, *draft_);
    const auto tried = tried_.find(part);
    const bool works = described && tried != tried_.end() && tried->second;
    item->setText(part_title(part));
    item->setIcon(icon_of(works ? Mark::full : described ? Mark::half : Mark::empty));
    item->setToolTip(works       ? tr("Described, and seen to work")
                     : described ? tr("Described, not tried")
                                 : tr("Not described: it is done by hand, or not at all"));
  }
  log_->set_open(was_up_ && !trying_);
  for (QWidget* each : {static_cast<QWidget*>(line_), static_cast<QWidget*>(address_), static_cast<QWidget*>(baud_)})
    each->setEnabled(!connection_);
  open_->setText(connection_ ? tr("Close the line") : tr("Open the line"));
  if (page_) page_->set_ready(was_up_, trying_, log_->chosen().has_value());
}

void DescribeDialog::try_part() {
  if (!connection_) return;
  page_->say(tr("Trying…"));
  if (page_->settings()) {
    page_->settings()->ask_all(connection_->describing());
    trying_ = true;
  } else {
    begin_try(page_->part());
  }
  show_states();
}

void DescribeDialog::save() {
  const auto kept = keep_described(*draft_, id_);
  if (!kept) return say(to_q(kept.error().message));
  id_ = *kept;
  saved_ = link::write_controller(*draft_);
  say(tr("Saved. Machine › Connect… lists “%1” under “It talks as”.").arg(to_q(draft_->name)));
}

bool DescribeDialog::may_leave() {
  if (link::write_controller(*draft_) == saved_) return true;
  return QMessageBox::question(this, windowTitle(), tr("What was written since it was last saved would be lost."),
                               QMessageBox::Discard | QMessageBox::Cancel, QMessageBox::Cancel) == QMessageBox::Discard;
}

void DescribeDialog::done(int result) {
  if (!may_leave()) return;
  close_line();
  QDialog::done(result);
}

}  // namespace ypsi::app
