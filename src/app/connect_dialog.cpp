#include "app/connect_dialog.h"

#include <QApplication>
#include <QLabel>
#include <QVBoxLayout>

#include "app/session/book_editor.h"
#include "app/session/described_controllers.h"
#include "app/session/lines_found.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/sheets/sheet.h"
#include "app/to_q.h"
#include "link/transports/tcp_transport.h"

namespace ypsi::app {
namespace {
constexpr int line_role = Qt::UserRole;
}  // namespace

ConnectDialog::ConnectDialog(Session& session, QWidget* parent) : QDialog(parent), session_(session) {
  setObjectName(QStringLiteral("connect-dialog"));
  setAttribute(Qt::WA_DeleteOnClose);
  setWindowTitle(tr("Connect to a machine"));
  resize(600, 530);
  auto* rows = new QVBoxLayout(this);
  rows->setContentsMargins(20, 16, 20, 16);
  rows->setSpacing(10);
  rows->addWidget(make_label("connect-title", "title", tr("Connect to a machine"), this));
  auto* task = make_label("connect-task", "task",
                          tr("Choose the line the controller is on. Nothing moves by connecting."), this);
  task->setWordWrap(true);
  rows->addWidget(task);
  lines_ = new QListWidget(this);
  lines_->setObjectName("connect-lines");
  lines_->setAccessibleName(tr("Lines found"));
  rows->addWidget(lines_, 1);
  auto* row = new QHBoxLayout;
  hint_ = make_label("connect-hint", "small", "", this);
  address_ = new QLineEdit(this);
  address_->setObjectName("connect-address");
  address_->setAccessibleName(tr("Computer and port"));
  baud_ = new QComboBox(this);
  baud_->setObjectName("connect-baud");
  baud_->setAccessibleName(tr("Speed of the line"));
  row->addWidget(hint_);
  row->addWidget(address_, 1);
  token_ = new QLineEdit(this);
  token_->setObjectName("connect-token");
  token_->setAccessibleName(tr("Token"));
  token_->setPlaceholderText(tr("token, where it asks for one"));
  token_->setToolTip(
      tr("A machine on a network is taken only by whoever knows its token. Of one that this computer simulates it is "
         "found by itself."));
  row->addWidget(token_, 1);
  row->addWidget(baud_);
  find_speed_ = make_button("connect-find-speed", tr("Find the speed"),
                            tr("Opens the line at each speed in turn until the controller answers. Let the machine "
                               "stand meanwhile: at a wrong speed it hears nonsense."),
                            this);
  row->addWidget(find_speed_);
  rows->addLayout(row);
  stays_up_ = new QCheckBox(tr("Leave its ready line (DTR) up when it is closed"), this);
  stays_up_->setObjectName("connect-stays-up");
  stays_up_->setToolTip(
      tr("Many controllers start again when their line is opened anew, and lose where they stand. With "
         "this they do so only when they are plugged in."));
  rows->addWidget(stays_up_);
  auto* how = new QHBoxLayout;
  talks_hint_ = make_label("connect-talks-hint", "small", tr("It talks as"), this);
  talks_hint_->setWordWrap(false);
  talks_ = new QComboBox(this);
  talks_->setObjectName("connect-talks");
  talks_->setAccessibleName(tr("How the controller talks"));
  talks_->setToolTip(
      tr("A controller that takes G-code a line at a time is described by a file; Machine › Describe a controller… "
         "writes one."));
  how->addWidget(talks_hint_);
  how->addWidget(talks_, 1);
  rows->addLayout(how);
  leaves_ = make_label("connect-leaves", "small", "", this);
  leaves_->setWordWrap(true);
  leaves_->setAlignment(Qt::AlignTop);
  rows->addWidget(leaves_);
  status_ = make_label("connect-status", "danger", "", this);
  status_->setWordWrap(true);
  status_->setMinimumHeight(48);
  status_->setAlignment(Qt::AlignTop);
  rows->addWidget(status_);
  auto* buttons = new QHBoxLayout;
  auto* again = make_button("connect-look", tr("Look again"), tr("Lists what is there now"), this);
  auto* close = make_button("connect-close", tr("Close"), tr("Leaves everything as it is (Escape)"), this);
  connect_ = make_button("connect-now", tr("Connect"), tr("Opens the chosen line (Enter)"), this, true);
  connect_->setDefault(true);
  buttons->addWidget(again);
  buttons->addStretch();
  buttons->addWidget(close);
  buttons->addWidget(connect_);
  rows->addLayout(buttons);
  connect(again, &QPushButton::clicked, this, &ConnectDialog::list_lines);
  connect(close, &QPushButton::clicked, this, &QDialog::reject);
  connect(connect_, &QPushButton::clicked, this, &ConnectDialog::connect_now);
  connect(find_speed_, &QPushButton::clicked, this, &ConnectDialog::find_speed);
  connect(lines_, &QListWidget::currentRowChanged, this, &ConnectDialog::show_chosen);
  connect(talks_, &QComboBox::currentIndexChanged, this, [this] {
    list_bauds();
    say_what_it_leaves();
  });
  connect(lines_, &QListWidget::itemDoubleClicked, this, &ConnectDialog::connect_now);
  list_lines();
}

/// Which speeds there are to choose from: what is described says its own.
void ConnectDialog::list_bauds() {
  const QString id = talks_->currentData().toString();
  int wanted = baud_->currentData().toInt();
  baud_->clear();
  for (const int baud : bauds) baud_->addItem(tr("%1 baud").arg(baud), baud);
  if (!id.isEmpty()) {
    for (const int baud : slow_bauds) baud_->addItem(tr("%1 baud").arg(baud), baud);
    if (const auto read = read_described(id)) {
      wanted = read->line.baud;
      if (baud_->findData(wanted) < 0) baud_->addItem(tr("%1 baud").arg(wanted), wanted);
    }
  }
  baud_->setCurrentIndex(std::max(0, baud_->findData(wanted)));
}

/// What is to be known of it before it is relied on.
void ConnectDialog::say_what_it_leaves() {
  const QString id = talks_->currentData().toString();
  leaves_->setVisible(!talks_->isHidden() && !id.isEmpty());
  find_speed_->setEnabled(true);
  if (id.isEmpty()) return;
  const auto read = read_described(id);
  // Of what does not greet nobody hears at which speed it listens.
  find_speed_->setEnabled(read && !read->greeting.expect.empty());
  leaves_->setText(read ? what_its_line_leaves(*read).join(QChar(' ')) : to_q(read.error().message));
}

void ConnectDialog::list_controllers() {
  talks_->clear();
  talks_->addItem(tr("the project's own link"), QString());
  for (const DescribedController& each : described_controllers())
    talks_->addItem(each.own ? tr("%1, described here").arg(each.name) : each.name, each.id);
}

void ConnectDialog::list_lines() {
  lines_->clear();
  list_controllers();
  const auto last = last_line();
  const auto add = [&](const Line& line, const QString& text) {
    const bool is_last =
        last && last->kind == line.kind && (line.kind != Line::Kind::serial || last->address == line.address);
    auto* item = new QListWidgetItem(is_last ? tr("%1 — connected last").arg(text) : text, lines_);
    item->setData(line_role, (is_last ? *last : line).to_text());
    item->setSizeHint({0, 34});
    if (is_last) lines_->setCurrentItem(item);
  };
  if (session_.machine().stand_in()) add(Line{}, tr("The stand-in in this window (simulated)"));
  add({Line::Kind::by_hand, {}, 0}, tr("By hand: I work it at its own screen, and tell what that shows"));
  for (const FoundLine& each : lines_found(last)) add(each.line, each.text);
  if (lines_->currentRow() < 0) lines_->setCurrentRow(0);
  show_chosen();
}

void ConnectDialog::show_chosen() {
  status_->clear();
  const auto* item = lines_->currentItem();
  const auto line = item ? Line::from_text(item->data(line_role).toString()) : std::nullopt;
  const bool tcp = line && line->kind == Line::Kind::tcp, serial = line && line->kind == Line::Kind::serial;
  const bool by_hand = line && line->kind == Line::Kind::by_hand;
  hint_->setText(tcp       ? tr("Computer and port")
                 : serial  ? tr("Serial line")
                 : by_hand ? tr("For any machine, and any controller: what is to be done there stands on cards.")
                           : QString());
  address_->setVisible(tcp || serial);
  token_->setVisible(tcp);
  baud_->setVisible(serial);
  find_speed_->setVisible(serial);
  stays_up_->setVisible(serial);
  stays_up_->setChecked(serial && line->stays_up);
  for (QWidget* each : {static_cast<QWidget*>(talks_), static_cast<QWidget*>(talks_hint_)})
    each->setVisible(line && !by_hand);
  if (line) {
    // Of a line that was not connected before, this machine's own.
    const bool known = last_line() == line || line->kind == Line::Kind::stand_in;
    const QString as = known ? line->controller : to_q(session_.editor().book().machine.controller);
    talks_->setCurrentIndex(std::max(0, talks_->findData(as)));
  }
  if (tcp || serial) address_->setText(place_text(*line));
  if (serial) {
    list_bauds();
    if (const int at = baud_->findData(line->number); at >= 0) baud_->setCurrentIndex(at);
  }
  connect_->setEnabled(line.has_value());
  say_what_it_leaves();
}

std::optional<Line> ConnectDialog::chosen() const {
  const auto* item = lines_->currentItem();
  auto line = item ? Line::from_text(item->data(line_role).toString()) : std::nullopt;
  if (!line || line->kind == Line::Kind::by_hand) return line;
  line = with_place(*line, address_->text(), baud_->currentData().toInt());
  if (!line) return line;
  line->controller = talks_->currentData().toString();
  line->stays_up = line->kind == Line::Kind::serial && stays_up_->isChecked();
  return line;
}

void ConnectDialog::find_speed() {
  untried_.clear();
  seeks_ = true;
  const int chosen = baud_->currentIndex();
  for (int i = 0; i < baud_->count(); ++i) untried_.push_back(baud_->itemData((chosen + i) % baud_->count()).toInt());
  try_next_speed();
}

void ConnectDialog::try_next_speed() {
  const int speed = untried_.front();
  untried_.erase(untried_.begin());
  baud_->setCurrentIndex(baud_->findData(speed));
  open_chosen();
}

void ConnectDialog::connect_now() {
  untried_.clear();
  seeks_ = false;
  open_chosen();
}

void ConnectDialog::open_chosen() {
  const auto line = chosen();
  if (!line) {
    seeks_ = false;
    status_->setText(no_place_words());
    return;
  }
  // A serial line is one's alone who has opened it, and that may be this program: under another speed, or as another
  // controller.
  Connection* ours = session_.machine().connection();
  if (line->kind == Line::Kind::serial && ours && ours->up() && ours->line().kind == line->kind &&
      ours->line().address == line->address) {
    const auto closed = connect(ours, &QObject::destroyed, this, &ConnectDialog::open_chosen, Qt::QueuedConnection);
    if (session_.machine().use_connection(nullptr)) return;
    disconnect(closed);
    status_->setText(tr("The machine is at work; connect when it stands."));
    return;
  }
  if (line->kind == Line::Kind::by_hand) {
    if (session_.machine().hands()) {
      status_->setText(tr("It is worked by hand already; its cards stand at the foot of the sheets."));
    } else if (session_.machine().work_by_hand()) {
      remember_line(*line);
      accept();
    } else {
      status_->setText(tr("The machine is at work; connect when it stands."));
    }
  } else if (!line->controller.isEmpty()) {
    QString damaged;
    auto made = Connection::described(*line, session_.editor().book(),
                                      session_.editor().book_path() + QStringLiteral(".controller"),
                                      session_.machine().stand_in(), &damaged);
    if (!damaged.isEmpty()) session_.notices().notify({NoticeLevel::attention, damaged, {}});
    if (made)
      follow(std::move(*made));
    else
      status_->setText(to_q(made.error().message));
  } else if (line->kind == Line::Kind::stand_in) {
    if (session_.machine().connection() && session_.machine().connection()->in_this_window() &&
        session_.machine().connection()->line() == *line && session_.machine().up()) {
      status_->setText(tr("The stand-in in this window is connected already."));
      return;
    }
    auto made = Connection::to_stand_in(*session_.machine().stand_in());
    if (made)
      take(std::move(*made));
    else
      status_->setText(to_q(made.error().message));
  } else {
    follow(Connection::to_line(*line, token_->text().trimmed()));
  }
}

/// While it is opened the window goes on: whatever moves at the machine before can be held.
void ConnectDialog::follow(std::unique_ptr<Connection> connection) {
  status_->setText(seeks_ ? tr("Asking at %1 baud…").arg(connection->line().number) : tr("Connecting…"));
  connect_->setEnabled(false);
  find_speed_->setEnabled(false);
  opening_ = std::move(connection);
  connect(opening_.get(), &Connection::ticked, this, &ConnectDialog::watch_opening);
  (void)opening_->open();  // watch_opening() says why not
}

void ConnectDialog::watch_opening() {
  const auto opened = opening_->opened();
  if (opened && !*opened) return;
  opening_->disconnect(this);
  connect_->setEnabled(true);
  find_speed_->setEnabled(true);
  if (opened) return take(std::move(opening_));
  opening_.release()->deleteLater();  // this is called from its own tick
  if (!untried_.empty()) return try_next_speed();
  const QString why = to_q(opened.error().message);
  status_->setText(std::exchange(seeks_, false) ? tr("It answers at none of these speeds. %1").arg(why) : why);
}

void ConnectDialog::done(int result) {
  opening_.reset();  // who closed it wants it no more
  QDialog::done(result);
}

/// What was opened is the way to the machine from now on.
void ConnectDialog::take(std::unique_ptr<Connection> connection) {
  const Line line = connection->line();
  const QString who = connection->description();
  if (!session_.machine().use_connection(std::move(connection))) {
    status_->setText(tr("The machine is at work; connect when it stands."));
    return;
  }
  remember_line(line);
  if (session_.editor().book().machine.controller != line.controller.toStdString())
    session_.editor().note_in_book([&](Book& b) { b.machine.controller = line.controller.toStdString(); });
  session_.notices().notify({NoticeLevel::good, tr("Connected to %1.").arg(who), {}});
  session_.machine().compare_settings();
  accept();
}

}  // namespace ypsi::app
